// The operations of a job, each with S and F; compared with another version of the job, old → new.
#pragma once

#include <QAbstractTableModel>

#include "app/jobs/job_planner.h"
#include "app/workspace.h"

namespace pecorra {

class OperationModel : public QAbstractTableModel {
  Q_OBJECT
 public:
  enum Column { number, operation, cutter, speed, feed, depth_width, follows, tightest, time, column_count };
  enum Role { mark_role = Qt::UserRole, new_text_role, fault_role, moved_role };

  explicit OperationModel(Workspace& workspace, QObject* parent = nullptr)
      : QAbstractTableModel(parent), workspace_(workspace) {}
  // `anew`: what it would be; nothing: only the job as it is. `moved`: changed at source.
  void show_job(const std::optional<Job>& job, const std::optional<Job>& anew, const std::optional<Job>& moved);
  void show_plan(const JobPlan& plan);
  int changes() const;  // operations whose values differ in the other version

  int rowCount(const QModelIndex& parent = {}) const override {
    return job_ && !parent.isValid() ? static_cast<int>(job_->operations.size()) : 0;
  }
  int columnCount(const QModelIndex& = {}) const override { return column_count; }
  QVariant data(const QModelIndex& index, int role) const override;
  QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

 private:
  void judge();
  QString value_text(const Operation& o, int column) const;

  Workspace& workspace_;
  std::optional<Job> job_, anew_, moved_;
  std::vector<CutReport> reports_;
  JobPlan plan_;
};

// "2:05" from minutes, "1:10:30" over an hour.
QString duration_text(double minutes);

}  // namespace pecorra
