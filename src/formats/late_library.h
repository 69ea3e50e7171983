// A library that is loaded when it is first wanted: every library that is linked makes each start later.
#pragma once

#include <dlfcn.h>
#include <type_traits>

namespace pecorra {

class LateLibrary {
 public:
  explicit LateLibrary(const char* name) : handle_(dlopen(name, RTLD_LAZY | RTLD_LOCAL)), whole_(handle_ != nullptr) {}
  // The function of that name into a pointer to it.
  template <class Function>
  void take(Function& function, const char* name) {
    function = handle_ ? reinterpret_cast<std::remove_reference_t<Function>>(dlsym(handle_, name)) : nullptr;
    whole_ = whole_ && function;
  }
  // It is there, with everything that was taken.
  bool is_whole() const { return whole_; }

 private:
  void* handle_;  // stays loaded
  bool whole_;
};

}  // namespace pecorra
