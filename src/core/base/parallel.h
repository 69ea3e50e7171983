// Splits work on a long list over the processors.
#pragma once

#include <algorithm>
#include <cstddef>
#include <future>
#include <thread>
#include <vector>

namespace pecorra {

// Calls work(from, to) for parts that together cover 0 to count, each on its own thread if that pays; waits for all and
// rethrows an exception of any.
template <class Work>
void in_parts(std::size_t count, std::size_t least, Work&& work) {
  const std::size_t threads = std::clamp<std::size_t>(count / std::max<std::size_t>(least, 1), 1,
                                                      std::max(1u, std::thread::hardware_concurrency()));
  std::vector<std::future<void>> others;
  for (std::size_t i = 1; i < threads; ++i)
    others.push_back(std::async(
        std::launch::async, [&work, from = count * i / threads, to = count * (i + 1) / threads] { work(from, to); }));
  work(0, count / threads);
  for (std::future<void>& other : others) other.get();
}

}  // namespace pecorra
