// A planned job as it runs: where the cutter is at any second, and what stock is left by then.
#pragma once

#include <QImage>
#include <QRectF>
#include <map>
#include <memory>
#include <optional>
#include <vector>

#include "app/look/look.h"
#include "core/motion/path_time.h"
#include "core/motion/stock_field.h"
#include "shop/planning.h"

namespace pecorra {

struct PlayPosition {
  int operation = -1;  // place in the job; negative: nothing runs
  int move = 0;
  double seconds = 0;
  Place3 at;
  double n_rpm = 0, feed_mm_min = 0;  // feed 0: rapid
  bool stands = false;                // before its path: cutter change, spindle, checks
};

class Playback {
 public:
  Playback() = default;
  Playback(std::shared_ptr<const Job> job, JobPlan plan);
  bool empty() const { return seconds() <= 0; }
  double seconds() const { return begins_.empty() ? 0 : begins_.back(); }
  PlayPosition at(double seconds) const;
  // Where this move is done; operations without a path have none.
  double end_of(int operation, int move) const;
  // The end of the next block, or of the one before.
  double stepped(double seconds, bool back) const;
  const std::shared_ptr<const Job>& job() const { return job_; }
  const JobPlan& plan() const { return plan_; }

 private:
  std::shared_ptr<const Job> job_;
  JobPlan plan_;
  std::vector<double> begins_;  // of each operation: where the one before ends; and the end of all
  std::vector<double> starts_;  // of each path: begins, and what the machine stands for before it
};

// The stock as it goes away. Used by one thread at a time.
class StockRun {
 public:
  explicit StockRun(std::shared_ptr<const Playback> playback) : playback_(std::move(playback)) {}
  struct Picture {
    QImage image;
    QRectF plan;  // mm; its top is the greatest y
  };
  // Behind this move of this operation.
  Picture at(int operation, int move, const Colours& colours);

 private:
  void begin(int operation);
  void keep(int operation);

  std::shared_ptr<const Playback> playback_;
  StockField field_;
  const Setup* setup_ = nullptr;
  StockBlock block_;
  int operation_ = -1, move_ = 0;    // done so far
  std::map<int, StockField> begun_;  // as it was before some operations
};

}  // namespace pecorra
