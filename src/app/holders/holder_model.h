// The shop's holders, filtered by text.
#pragma once

#include <unordered_map>

#include "app/widgets/steady_table_model.h"
#include "app/workspace.h"

namespace pecorra {

class HolderModel : public SteadyTableModel {
  Q_OBJECT
 public:
  enum Column { name, machine_side, form, clamps, length, used_by, column_count };
  HolderModel(Workspace& workspace, QObject* parent = nullptr);
  void set_text(const QString& text);
  const Holder* holder_at(int row) const;

  int columnCount(const QModelIndex& = {}) const override { return column_count; }
  QVariant data(const QModelIndex& index, int role) const override;
  QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

 private:
  void rebuild();

  Workspace& workspace_;
  QString text_;
  std::unordered_map<Id, int> used_;  // assemblies of each holder
};

}  // namespace pecorra
