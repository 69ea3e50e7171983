#include "app/tables/import_view.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QPainter>
#include <QVBoxLayout>

#include "app/look/look.h"
#include "app/widgets/calm_table.h"
#include "app/widgets/property_cell.h"
#include "app/widgets/property_form.h"
#include "shop/words.h"

namespace pecorra {

class ImportModel : public QAbstractTableModel {
 public:
  enum Column { pick, state, line, what, change, column_count };
  ImportModel(Workspace& workspace, QObject* parent) : QAbstractTableModel(parent), workspace_(workspace) {}

  void set_lines(std::vector<MergeLine<ConditionRow>> lines) {
    lines_ = std::move(lines);
    show_states(shown_);
  }
  void show_states(std::function<bool(MergeState)> shown) {
    beginResetModel();
    shown_ = std::move(shown);
    rows_.clear();
    for (std::size_t i = 0; i < lines_.size(); ++i)
      if (!shown_ || shown_(lines_[i].state)) rows_.push_back(i);
    endResetModel();
  }
  const std::vector<MergeLine<ConditionRow>>& lines() const { return lines_; }
  static bool can_be_picked(const MergeLine<ConditionRow>& l) { return l.state != MergeState::faulty && l.state != MergeState::same; }
  void set_picked(std::size_t place, bool picked) {
    if (place >= lines_.size() || !can_be_picked(lines_[place])) return;
    lines_[place].picked = picked;
    if (!rows_.empty()) emit dataChanged(index(0, 0), index(rowCount() - 1, column_count - 1));
  }
  std::size_t place_at(int row) const { return rows_[static_cast<std::size_t>(row)]; }

  int rowCount(const QModelIndex& parent = {}) const override { return parent.isValid() ? 0 : static_cast<int>(rows_.size()); }
  int columnCount(const QModelIndex& = {}) const override { return column_count; }
  QVariant data(const QModelIndex& i, int role) const override {
    const MergeLine<ConditionRow>& l = lines_[place_at(i.row())];
    if (role == Qt::TextAlignmentRole) return static_cast<int>((i.column() == line ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter);
    if (role == calm_tone_role) {
      if (i.column() == state || i.column() == change) {
        if (l.state == MergeState::faulty) return static_cast<int>(Tone::madder);
        if (l.state == MergeState::conflict) return static_cast<int>(Tone::weld);
      }
      return {};
    }
    if (role == Qt::CheckStateRole && i.column() == pick) return can_be_picked(l) ? QVariant(l.picked ? Qt::Checked : Qt::Unchecked) : QVariant();
    if (role != Qt::DisplayRole && role != Qt::ToolTipRole) return {};
    switch (i.column()) {
      case state: return text_of(label_of(l.state));
      case line: return l.line;
      case what: return what_text(l.after);
      case change: return change_text(l);
      default: return {};
    }
  }
  QVariant headerData(int section, Qt::Orientation orientation, int role) const override {
    if (orientation != Qt::Horizontal) return {};
    if (role == Qt::TextAlignmentRole) return static_cast<int>((section == line ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter);
    if (role != Qt::DisplayRole) return {};
    const QString names[] = {QString(), tr("It is"), tr("Line"), tr("Row"), tr("What would change, or what is wrong")};
    return names[section];
  }

 private:
  QString what_text(const ConditionRow& r) const {
    QStringList parts;
    parts << QStringLiteral("%1 Ø%2").arg(text_of(label_of(r.kind)), r.diameter_mm ? text_of(shown(*r.diameter_mm, Quantity::length, workspace_.units())) : QStringLiteral("?"));
    parts << text_of(label_of(r.operation));
    const WorkMaterial* m = workspace_.state().materials.find(r.material);
    parts << (m ? text_of(m->name) : text_of(key_of(r.group)));
    return parts.join(QStringLiteral(", "));
  }
  QString change_text(const MergeLine<ConditionRow>& l) const {
    const UnitSystem units = workspace_.units();
    QStringList parts;
    if (!l.why.empty()) parts << text_of(l.why);
    for (const CellFault& f : l.faults) parts << tr("column %1: %2").arg(text_of(f.column), text_of(f.text));
    if (l.target) {
      const ConditionRow& before = before_[*l.target];
      for (const Property<ConditionRow>* p : l.changes) parts << property_change_text(text_of(p->symbol.empty() ? p->label : p->symbol), p->get(before), p->get(l.after), p->quantity, p->choices, units);
    } else if (l.state == MergeState::fresh) {
      if (l.after.vc_m_min) parts << tr("vc %1").arg(quantity_text(*l.after.vc_m_min, Quantity::cutting_speed, units));
      if (l.after.feed_mm) parts << tr("feed %1").arg(quantity_text(*l.after.feed_mm, Quantity::feed_per_tooth, units));
    }
    return parts.join(QStringLiteral("; "));
  }

 public:
  std::vector<ConditionRow> before_;  // rows of the table as they were when the preview was made

 private:
  Workspace& workspace_;
  std::vector<MergeLine<ConditionRow>> lines_;
  std::vector<std::size_t> rows_;
  std::function<bool(MergeState)> shown_;
};

namespace {

// A box to tick, drawn as the rest of the lists.
class ImportItem : public CalmItem {
 public:
  using CalmItem::CalmItem;
  void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
    CalmItem::paint(p, option, index);
    const QVariant ticked = index.data(Qt::CheckStateRole);
    if (!ticked.isValid()) return;
    p->save();
    p->setRenderHint(QPainter::Antialiasing);
    const QRectF box(option.rect.center().x() - 7, option.rect.center().y() - 6, 13, 13);
    p->setPen(QPen(dyes().woad, 1.3));
    p->setBrush(Qt::NoBrush);
    p->drawRoundedRect(box, 2.5, 2.5);
    if (ticked.toInt() == Qt::Checked) {
      p->setPen(QPen(dyes().woad, 2, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
      p->drawPolyline(QPolygonF{{box.left() + 3, box.center().y()}, {box.center().x() - 0.5, box.bottom() - 3}, {box.right() - 2.5, box.top() + 3}});
    }
    p->restore();
  }
};

}  // namespace

ImportView::ImportView(Workspace& workspace, QWidget* parent)
    : QWidget(parent), workspace_(workspace), model_(new ImportModel(workspace, this)), title_(new QLabel), counts_(new QLabel), unknown_(new QLabel), shown_(new SwitchRow({tr("To take"), tr("All lines"), tr("Faulty")})),
      view_(calm_table(model_, QStringLiteral("import_table"))), take_(new QPushButton), leave_(new QPushButton(tr("Leave"))), all_(new QPushButton(tr("Tick all"))), none_(new QPushButton(tr("Tick none"))) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(8);
  title_->setFont(Look::get().text(14, true));
  column->addWidget(title_);
  counts_->setObjectName(QStringLiteral("import_counts"));
  counts_->setWordWrap(true);
  column->addWidget(counts_);
  auto* row = new QHBoxLayout;
  row->addWidget(shown_);
  row->addStretch(1);
  row->addWidget(all_);
  row->addWidget(none_);
  column->addLayout(row);
  view_->setItemDelegate(new ImportItem(view_));
  const int widths[] = {30, 84, 46, 270, 300};
  for (int i = 0; i < ImportModel::column_count; ++i) view_->setColumnWidth(i, widths[i]);
  view_->horizontalHeader()->setMinimumSectionSize(24);
  view_->horizontalHeader()->setSectionResizeMode(ImportModel::change, QHeaderView::Stretch);
  column->addWidget(view_, 1);
  unknown_->setWordWrap(true);
  set_tone(unknown_, Tone::quiet);
  column->addWidget(unknown_);
  auto* buttons = new QHBoxLayout;
  take_->setObjectName(QStringLiteral("import_take"));
  take_->setDefault(true);
  leave_->setObjectName(QStringLiteral("import_leave"));
  buttons->addWidget(take_);
  buttons->addWidget(leave_);
  buttons->addStretch(1);
  column->addLayout(buttons);
  connect(shown_, &SwitchRow::chosen, this, [this](int i) {
    model_->show_states([i](MergeState s) { return i == all_lines || (i == only_faults ? s == MergeState::faulty : s != MergeState::same && s != MergeState::faulty); });
  });
  const auto toggle = [this](const QModelIndex& index) {
    if (!index.isValid()) return;
    const std::size_t place = model_->place_at(index.row());
    pick(place, !model_->lines()[place].picked);
  };
  connect(view_, &QTableView::clicked, this, [toggle](const QModelIndex& index) {
    if (index.column() == ImportModel::pick) toggle(index);
  });
  auto* space = new QAction(view_);
  space->setShortcut(Qt::Key_Space);
  space->setShortcutContext(Qt::WidgetShortcut);
  view_->addAction(space);
  connect(space, &QAction::triggered, this, [this, toggle] { toggle(view_->currentIndex()); });
  connect(take_, &QPushButton::clicked, this, &ImportView::take);
  connect(leave_, &QPushButton::clicked, this, [this] {
    emit said(tr("%1 left; nothing was changed").arg(from_), false);
    emit done();
  });
  for (const auto& [button, picked] : {std::pair{all_, true}, {none_, false}})
    connect(button, &QPushButton::clicked, this, [this, value = picked] {
      for (std::size_t i = 0; i < model_->lines().size(); ++i) model_->set_picked(i, value);
      refresh();
    });
  // What was there when the preview was made may change under it.
  connect(&workspace_, &Workspace::data_changed, this, [this] {
    if (table_.is_null() || !isVisible()) return;
    emit said(tr("The shop has changed meanwhile: read %1 again").arg(from_), true);
    emit done();
  });
}

void ImportView::show_sheet(const Id& table, const QString& from, RowSheet sheet) {
  table_ = {};
  const ConditionTable* into = workspace_.state().tables.find(table);
  if (!into) return;
  from_ = from;
  model_->before_ = into->rows;
  model_->set_lines(preview_rows(*into, sheet));
  table_ = table;
  title_->setText(tr("%1 → %2").arg(from, text_of(into->name)));
  QStringList unknown;
  for (const std::string& heading : sheet.unknown) unknown << QStringLiteral("“%1”").arg(text_of(heading));
  unknown_->setText(tr("Columns that mean nothing here are left out: %1").arg(unknown.join(QStringLiteral(", "))));
  unknown_->setVisible(!unknown.isEmpty());
  const auto& lines = model_->lines();
  const bool only_bad = !lines.empty() && std::all_of(lines.begin(), lines.end(), [](const auto& l) { return l.state == MergeState::faulty; });
  const bool none_new = std::all_of(lines.begin(), lines.end(), [](const auto& l) { return l.state == MergeState::faulty || l.state == MergeState::same; });
  const int shown = only_bad ? only_faults : none_new ? all_lines : to_take;
  shown_->set_current(shown);
  emit shown_->chosen(shown);
  refresh();
  view_->setFocus();
}

const std::vector<MergeLine<ConditionRow>>& ImportView::lines() const { return model_->lines(); }

void ImportView::pick(std::size_t line, bool picked) {
  model_->set_picked(line, picked);
  refresh();
}

int ImportView::picked() const {
  return static_cast<int>(std::count_if(lines().begin(), lines().end(), [](const auto& l) { return l.picked && ImportModel::can_be_picked(l); }));
}

void ImportView::refresh() {
  int counts[5] = {};
  for (const auto& l : lines()) ++counts[static_cast<int>(l.state)];
  counts_->setText(lines().empty() ? tr("No lines with anything in them")
                                   : tr("%1 new · %2 changed · %3 the same · %4 in conflict · %5 faulty. Nothing is changed until you take it; ticked lines are taken.").arg(counts[0]).arg(counts[1]).arg(counts[2]).arg(counts[3]).arg(counts[4]));
  take_->setText(picked() == 1 ? tr("Take 1 row") : tr("Take %1 rows").arg(picked()));
  take_->setEnabled(picked() > 0);
}

void ImportView::take() {
  const ConditionTable* into = workspace_.state().tables.find(table_);
  if (!into || picked() == 0) return;
  const ConditionTable after = with_rows(*into, lines(), new_id, current_user(), current_time().substr(0, 10));
  const QString label = tr("%1 rows from %2 into %3").arg(picked()).arg(from_, text_of(into->name));
  table_ = {};  // the change is our own
  workspace_.shop().edit(*into, after, label);
  emit done();
}

}  // namespace pecorra
