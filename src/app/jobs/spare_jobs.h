// Copies of a long job made aside beforehand: to copy a thousand operations takes a good part of a frame. Work aside on
// so much memory also slows what the window does meanwhile, so it begins only when told.
#pragma once

#include <QFuture>
#include <array>
#include <memory>
#include <vector>

#include "core/job/job.h"

namespace pecorra {

class SpareJobs {
 public:
  // Replaces those of another job; null: only drops them.
  void prepare(const std::shared_ptr<const Job>& of);
  // One of them if it is ready, else a copy made now.
  std::shared_ptr<Job> take(const std::shared_ptr<const Job>& of);
  // Freed with the next refill.
  void discard(std::shared_ptr<const Job>&& job);
  // Makes anew what was taken.
  void refill();

 private:
  using Copy = QFuture<std::shared_ptr<Job>>;
  std::shared_ptr<const Job> of_;
  std::array<Copy, 2> copies_;  // one to show at once, one to be resolved whole
  std::vector<std::shared_ptr<const Job>> discarded_;
};

}  // namespace pecorra
