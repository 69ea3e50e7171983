// What a job is to make: its features, then the lines and texts of the drawing.
#pragma once

#include <QAbstractTableModel>

#include "app/workspace.h"

namespace pecorra {

class FeatureModel : public QAbstractTableModel {
  Q_OBJECT
 public:
  enum Column { name, kind, size, depth, used_by, column_count };
  enum Role { fault_role = Qt::UserRole };

  explicit FeatureModel(Workspace& workspace, QObject* parent) : QAbstractTableModel(parent), workspace_(workspace) {}
  void show_job(std::shared_ptr<const Job> job);
  std::string key_at(int row) const;
  int row_of(const std::string& key) const;  // -1: not there
  // Operations that work on it, or on something that is made of it.
  Places users_of(const std::string& key) const;

  int rowCount(const QModelIndex& parent = {}) const override {
    return parent.isValid() ? 0 : static_cast<int>(keys_.size());
  }
  int columnCount(const QModelIndex& = {}) const override { return column_count; }
  QVariant data(const QModelIndex& index, int role) const override;
  QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

 private:
  QString size_text(const Feature& feature) const;
  QString size_text(const JobLine& line) const;
  QString fault_of(const Feature& feature) const;

  Workspace& workspace_;
  std::shared_ptr<const Job> job_;
  std::unique_ptr<JobIndex> index_;
  std::vector<std::string> keys_;
};

}  // namespace pecorra
