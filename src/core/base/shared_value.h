// A copy-on-write value: copying a long list costs nothing.
#pragma once

#include <atomic>
#include <memory>
#include <utility>

namespace pecorra {

// Copies may be used on other threads, each by one thread at a time. Holds an empty value after a move.
template <class T>
class SharedValue {
 public:
  const T& operator*() const {
    static const T none{};
    return held_ ? *held_ : none;
  }
  const T* operator->() const { return &**this; }
  // The value for writing. Other copies keep the old value, and so do pointers into it.
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
