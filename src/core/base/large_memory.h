// Memory of very long lists.
#pragma once

#include <sys/mman.h>

#include <cstdint>
#include <vector>

namespace pecorra {

// Reserves room for `count` in large pages where the system has them; otherwise first-touch page faults would be most
// of the work.
template <class T>
void reserve_large(std::vector<T>& list, std::size_t count) {
  list.reserve(count);
  constexpr std::uintptr_t page = std::uintptr_t{2} << 20;
  const auto from = (reinterpret_cast<std::uintptr_t>(list.data()) + page - 1) & ~(page - 1);
  const auto to = reinterpret_cast<std::uintptr_t>(list.data() + list.capacity()) & ~(page - 1);
  if (from < to)
    madvise(reinterpret_cast<void*>(from), to - from,
            MADV_HUGEPAGE);  // only a hint, which the system may ignore
}

}  // namespace pecorra
