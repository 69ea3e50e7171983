// The rows of one table of conditions, narrowed by text, over which the table page's grid is spread.
#pragma once

#include <map>
#include <optional>
#include <vector>

#include "app/widgets/steady_table_model.h"
#include "app/workspace.h"
#include "core/tables/row_entry.h"

namespace pecorra {

class RowModel : public SteadyTableModel {
  Q_OBJECT
 public:
  enum Column { mark, kind, made_of, operation, material, diameter, vc, n, feed, vf, ap, ae, column_count };
  enum Role { mark_role = Qt::UserRole, fault_role, derived_role, wrong_text_role };

  RowModel(Workspace& workspace, QObject* parent = nullptr);
  void set_table(const Id& table);
  void set_text(const QString& text);
  void set_only_context(bool only);
  Id table_id() const { return table_; }
  const ConditionTable* table() const { return rules_ ? &*rules_ : workspace_.state().tables.find(table_); }
  // The rows of the curve that a row stands on, in no order.
  std::vector<ConditionRow> curve_of(const ConditionRow& row) const;
  bool shows_rules() const { return rules_.has_value(); }
  const ConditionRow* row_at(int row) const;
  // The field that a column edits, if it is one.
  static std::optional<RowField> field_of(int column);
  // Applies typed text. Returns nothing if accepted, else the fault; the text stays in the cell.
  QString enter(const QModelIndex& index, const QString& text);
  // Messages of a row, alone and beside its neighbours.
  std::vector<Message> messages_of(const ConditionRow& row) const;
  bool is_editable() const {
    return table() && table()->level != TableLevel::starter && !workspace_.shop().is_read_only();
  }

  int columnCount(const QModelIndex& = {}) const override { return column_count; }
  QVariant data(const QModelIndex& index, int role) const override;
  QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
  Qt::ItemFlags flags(const QModelIndex& index) const override;

 private:
  void rebuild();
  QString material_text(const ConditionRow& row) const;

  Workspace& workspace_;
  Id table_;
  std::optional<ConditionTable> rules_;  // the starter rules, while shown
  QString text_;
  bool only_context_ = false;
  std::vector<Message> table_messages_;
  struct Unaccepted {
    QString text, fault;
  };
  std::map<std::pair<Id, int>, Unaccepted> unaccepted_;  // by row and column
};

}  // namespace pecorra
