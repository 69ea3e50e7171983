// Plans a job's toolpaths and program off the interface thread; only the latest request is answered.
#pragma once

#include <QObject>
#include <memory>

#include "shop/planning.h"
#include "shop/task.h"

namespace pecorra {

class JobPlanner : public QObject {
  Q_OBJECT
 public:
  explicit JobPlanner(Tasks& tasks, QObject* parent = nullptr) : QObject(parent), tasks_(tasks) {}
  void plan(PlanRequest request);
  // Until the latest request has been answered.
  bool is_busy() const { return newest_ != nullptr; }

 signals:
  void planned(const pecorra::JobPlan& plan);
  void written(const std::shared_ptr<const pecorra::WrittenProgram>& program);  // soon after it

 private:
  Tasks& tasks_;
  TaskPointer newest_;
  int number_ = 0;
};

}  // namespace pecorra
