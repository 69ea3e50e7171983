// All jobs of the shop, each with how it stands. What needs planning is worked out aside, one job after the other.
#pragma once

#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTableView>
#include <map>

#include "app/widgets/lazy_widget.h"
#include "app/widgets/steady_table_model.h"
#include "app/workspace.h"
#include "shop/job_overview.h"

namespace pecorra {

class FitColumns;

class JobListModel : public SteadyTableModel {
  Q_OBJECT
 public:
  enum Column { name, material, machine, operations, cutters, time, state, column_count };
  enum Role { mark_role = Qt::UserRole };

  explicit JobListModel(Workspace& workspace, QObject* parent);
  void set_text(const QString& text);
  void refresh();
  Id job_at(int row) const;
  // Works out what has changed since; stops when `on` is false.
  void work(bool on);
  // Whether all is worked out.
  bool is_complete() const;
  bool is_working() const { return task_ && !task_->is_finished(); }

  int columnCount(const QModelIndex& = {}) const override { return column_count; }
  QVariant data(const QModelIndex& index, int role) const override;
  QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

 private:
  struct Known {
    std::shared_ptr<PlanCache> cache = std::make_shared<PlanCache>();
    std::optional<JobSummary> summary;
    std::uint64_t of = 0;  // round in which it was worked out
  };
  void next();

  Workspace& workspace_;
  QString text_;
  std::map<Id, Known> known_;
  std::uint64_t round_ = 1;
  bool on_ = false;
  TaskPointer task_;
};

class JobList : public LazyWidget {
  Q_OBJECT
 public:
  explicit JobList(Workspace& workspace, QWidget* parent = nullptr);
  QTableView& table() { return *table_; }
  JobListModel& model() { return *model_; }
  void focus_filter();

 signals:
  void opened();  // the job that is selected
  void new_wanted();
  void copy_wanted();

 protected:
  void refresh() override;
  void showEvent(QShowEvent* event) override;
  void hideEvent(QHideEvent* event) override;
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  Workspace& workspace_;
  JobListModel* model_;
  QTableView* table_;
  FitColumns* columns_;
  QLineEdit* filter_;
  QLabel *count_, *empty_;
};

}  // namespace pecorra
