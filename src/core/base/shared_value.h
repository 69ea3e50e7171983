// A value that copies share until one of them is written: copying a long list costs nothing.
#pragma once

#include <atomic>
#include <memory>
#include <utility>

namespace pecorra {

// Copies may go to other threads; one copy belongs to one thread at a time. A moved-from one holds an empty value.
template <class T>
class SharedValue {
 public:
  const T& operator*() const {
    static const T none{};
    return held_ ? *held_ : none;
  }
  const T* operator->() const { return &**this; }
  // The value to be written. What others share stays as it is; pointers into it then point at theirs.
  T& own() {
    if (!held_) held_ = std::make_shared<T>();
    else if (held_.use_count() > 1) held_ = std::make_shared<T>(std::as_const(*held_));
    else std::atomic_thread_fence(std::memory_order_acquire);  // after the last reader on another thread
    return *held_;
  }
  // A snapshot: later writes to this one do not change it. Null if nothing was ever put in.
  std::shared_ptr<const T> shared() const { return held_; }

 private:
  std::shared_ptr<T> held_;
};

}  // namespace pecorra
