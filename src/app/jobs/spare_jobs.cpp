#include "app/jobs/spare_jobs.h"

#include <QtConcurrent/QtConcurrentRun>

#include "shop/task.h"

namespace pecorra {
namespace {

QFuture<std::shared_ptr<Job>> copied_aside(std::shared_ptr<const Job> of) {
  return QtConcurrent::run([of = std::move(of)] { return std::make_shared<Job>(*of); });
}

}  // namespace

void SpareJobs::prepare(const std::shared_ptr<const Job>& of) {
  if (of_ == of) return;
  of_ = of;
  for (Copy& copy : copies_) copy = of ? copied_aside(of) : Copy();
}

std::shared_ptr<Job> SpareJobs::take(const std::shared_ptr<const Job>& of) {
  if (of_ == of)
    for (Copy& copy : copies_)
      if (copy.isFinished() && copy.resultCount() > 0) {
        auto taken = copy.takeResult();
        copy = {};
        return taken;
      }
  return std::make_shared<Job>(*of);
}

void SpareJobs::discard(std::shared_ptr<const Job>&& job) {
  if (job) discarded_.push_back(std::move(job));
}

void SpareJobs::refill() {
  for (Copy& copy : copies_)
    if (of_ && !copy.isValid()) copy = copied_aside(of_);
  for (auto& job : discarded_) drop_aside(std::move(job));
  discarded_.clear();
}

}  // namespace pecorra
