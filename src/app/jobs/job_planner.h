// Plans a job's toolpaths and program off the interface thread; only the newest request is answered.
#pragma once

#include <QFutureWatcher>
#include <QObject>
#include <memory>

#include "shop/job_program.h"

namespace pecorra {

struct JobPlan {
  std::shared_ptr<const std::vector<Toolpath>> paths;
  std::vector<std::vector<Message>> faults;  // of each operation
  std::vector<PathFigures> figures;
  std::vector<double> corner_rad;  // see core/toolpath/engagement.h
  std::string program;
};

struct PlanRequest {
  Job job;
  ProgramHead head;
  Dialect dialect;
  Rapids rapids;
};
PlanRequest plan_request(const ShopState& state, const Job& job);
JobPlan plan_job(const PlanRequest& request);

class JobPlanner : public QObject {
  Q_OBJECT
 public:
  explicit JobPlanner(QObject* parent = nullptr);
  ~JobPlanner() override;
  void plan(PlanRequest request);
  // Until the answer to the newest request has been told.
  bool is_busy() const { return busy_; }

 signals:
  void planned(const pecorra::JobPlan& plan);

 private:
  void start();
  QFutureWatcher<JobPlan> watcher_;
  std::optional<PlanRequest> waiting_;
  bool busy_ = false;
};

}  // namespace pecorra
