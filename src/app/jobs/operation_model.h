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
  static constexpr bool is_right_aligned(int column) {
    return column == speed || column == feed || column == depth_width || column == tightest || column == time;
  }

  explicit OperationModel(Workspace& workspace, QObject* parent = nullptr)
      : QAbstractTableModel(parent), workspace_(workspace) {}
  // `anew`: what it would be; none: only the job as it is. `moved`: changed at source. The same operations are shown in
  // place.
  using Shown = std::shared_ptr<const Job>;
  void show_job(Shown job, Shown anew, Shown moved);
  void show_plan(const JobPlan& plan);
  int changes() const;  // operations whose values differ in the other version

  int rowCount(const QModelIndex& parent = {}) const override {
    return job_ && !parent.isValid() ? static_cast<int>(job_->operations.size()) : 0;
  }
  int columnCount(const QModelIndex& = {}) const override { return column_count; }
  QVariant data(const QModelIndex& index, int role) const override;
  QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
  // Operations are put elsewhere by dragging.
  Qt::ItemFlags flags(const QModelIndex& index) const override;
  Qt::DropActions supportedDropActions() const override { return Qt::MoveAction; }
  QStringList mimeTypes() const override;
  QMimeData* mimeData(const QModelIndexList& indexes) const override;
  bool dropMimeData(const QMimeData* data, Qt::DropAction action, int row, int column,
                    const QModelIndex& parent) override;

 signals:
  void put_wanted(const pecorra::Places& operations, int before);

 private:
  const CutReport& report(std::size_t operation) const;
  QString value_text(const Operation& operation, int column, const PathFacts& path) const;

  Workspace& workspace_;
  Shown job_, anew_, moved_;
  std::vector<int> tools_;
  mutable std::vector<std::optional<CutReport>> reports_;  // of what was seen
  JobPlan plan_;
};

}  // namespace pecorra
