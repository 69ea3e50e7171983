#include "app/jobs/chain_sheet.h"

#include <QAbstractTableModel>
#include <QAction>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QVBoxLayout>

#include "app/look/look.h"
#include "app/widgets/fit_columns.h"
#include "app/widgets/plain_table.h"
#include "app/widgets/property_form.h"
#include "app/widgets/tick_item.h"
#include "core/quantity/print.h"
#include "shop/words.h"

namespace pecorra {

class ChainSheet::Model : public QAbstractTableModel {
 public:
  enum Column { tick, operation, cutter, speed, feed, reason, column_count };
  Model(Workspace& workspace, QObject* parent) : QAbstractTableModel(parent), workspace_(workspace) {}

  void set_chain(std::vector<ProposedOperation> chain) {
    beginResetModel();
    chain_ = std::move(chain);
    picked_.assign(chain_.size(), true);
    endResetModel();
  }
  const std::vector<ProposedOperation>& chain() const { return chain_; }
  bool is_picked(int row) const { return picked_[static_cast<std::size_t>(row)]; }
  void pick(int row, bool picked) {
    if (row < 0 || row >= rowCount()) return;
    picked_[static_cast<std::size_t>(row)] = picked;
    emit dataChanged(index(row, 0), index(row, column_count - 1));
  }

  int rowCount(const QModelIndex& parent = {}) const override {
    return parent.isValid() ? 0 : static_cast<int>(chain_.size());
  }
  int columnCount(const QModelIndex& = {}) const override { return column_count; }
  QVariant data(const QModelIndex& i, int role) const override {
    const ProposedOperation& one = chain_[static_cast<std::size_t>(i.row())];
    const Operation& o = one.operation;
    if (role == Qt::TextAlignmentRole) return side(i.column());
    if (role == Qt::CheckStateRole && i.column() == tick) return is_picked(i.row()) ? Qt::Checked : Qt::Unchecked;
    if (role == cell_tone_role) {
      const bool open = i.column() == cutter && (o.cutter.id.is_null() || o.generic_cutter);
      return open ? QVariant(static_cast<int>(o.generic_cutter ? Tone::warning : Tone::error)) : QVariant();
    }
    if (role != Qt::DisplayRole && role != Qt::ToolTipRole) return {};
    const UnitSystem units = workspace_.units();
    const auto figure = [&](const std::optional<double>& value, Quantity quantity) {
      return value ? text_of(shown(*value, quantity, units)) : QString();
    };
    switch (i.column()) {
      case operation: return label_text(o.name);
      case cutter: return o.cutter.id.is_null() ? tr("none suitable") : text_of(o.cutter.name);
      case speed: return figure(o.taken.n_rpm, Quantity::spindle_speed);
      case feed: return figure(o.taken.vf_mm_min, Quantity::table_feed);
      case reason: return one.notes.empty() ? QString() : short_reason(one.notes.front(), units);
      default: return {};
    }
  }
  QVariant headerData(int section, Qt::Orientation orientation, int role) const override {
    if (orientation != Qt::Horizontal) return {};
    if (role == Qt::TextAlignmentRole) return side(section);
    if (role != Qt::DisplayRole) return {};
    const QString names[] = {QString(),           tr("Operation"),     tr("Cutter"),
                             QStringLiteral("S"), QStringLiteral("F"), tr("Why this cutter")};
    return names[section];
  }

 private:
  static int side(int column) {
    return static_cast<int>((column == speed || column == feed ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter);
  }
  Workspace& workspace_;
  std::vector<ProposedOperation> chain_;
  std::vector<bool> picked_;
};

ChainSheet::ChainSheet(Workspace& workspace, QWidget* parent)
    : QWidget(parent),
      workspace_(workspace),
      model_(new Model(workspace, this)),
      title_(section_heading(QString())),
      why_(new QLabel),
      table_(plain_table(model_, QStringLiteral("chain_table"))),
      columns_(new FitColumns(table_, Model::reason)),
      take_(new QPushButton),
      leave_(new QPushButton(tr("Discard"))) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 4);
  column->setSpacing(4);
  title_->setObjectName(QStringLiteral("chain_title"));
  why_->setObjectName(QStringLiteral("chain_why"));
  why_->setWordWrap(true);
  why_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
  set_tone(why_, Tone::quiet);
  take_->setObjectName(QStringLiteral("chain_take"));
  leave_->setObjectName(QStringLiteral("chain_leave"));
  table_->setItemDelegate(new TickItem(table_));
  table_->setTabKeyNavigation(false);
  auto* row = new QHBoxLayout;
  row->addWidget(title_, 1);
  row->addWidget(take_);
  row->addWidget(leave_);
  column->addLayout(row);
  column->addWidget(table_);
  column->addWidget(why_);
  column->addStretch(1);
  connect(take_, &QPushButton::clicked, this, &ChainSheet::take);
  connect(leave_, &QPushButton::clicked, this, &ChainSheet::leave);
  connect(table_, &QTableView::clicked, this, [this](const QModelIndex& i) {
    if (i.column() == Model::tick) pick(i.row(), !model_->is_picked(i.row()));
  });
  connect(table_->selectionModel(), &QItemSelectionModel::currentRowChanged, this, &ChainSheet::say_why);
  auto* space = new QAction(table_);
  space->setShortcut(Qt::Key_Space);
  space->setShortcutContext(Qt::WidgetShortcut);
  table_->addAction(space);
  connect(space, &QAction::triggered, this, [this] {
    const int at = table_->currentIndex().row();
    if (at >= 0) pick(at, !model_->is_picked(at));
  });
  // What it was made for may have changed.
  for (const auto signal : {&Workspace::data_changed, &Workspace::context_changed})
    connect(&workspace_, signal, this, [this] {
      if (isVisible()) leave();
    });
}

bool ChainSheet::is_empty() const { return model_->rowCount() == 0; }

void ChainSheet::show_chain(std::vector<ProposedOperation> chain, const QString& title) {
  model_->set_chain(std::move(chain));
  title_->setText(title);
  fit_to_rows(*table_);
  columns_->fit(true);
  table_->setCurrentIndex(model_->index(0, Model::operation));
  refresh();
  say_why();
  table_->setFocus();
}

void ChainSheet::pick(int row, bool picked) {
  model_->pick(row, picked);
  refresh();
}

void ChainSheet::refresh() {
  int count = 0;
  for (int i = 0; i < model_->rowCount(); ++i) count += model_->is_picked(i);
  take_->setText(count == 1 ? tr("Add 1 operation") : tr("Add %1 operations").arg(count));
  take_->setEnabled(count > 0);
  take_->setToolTip(tr("Adds the checked operations (Enter)"));
  leave_->setToolTip(tr("Adds nothing (Esc)"));
}

// All that is known of the choice, and why others were not taken.
void ChainSheet::say_why() {
  const int at = table_->currentIndex().row();
  QStringList lines;
  if (at >= 0 && at < model_->rowCount())
    for (const Message& m : model_->chain()[static_cast<std::size_t>(at)].notes)
      lines << sentence(m, workspace_.units());
  why_->setText(lines.join(QLatin1Char('\n')));
}

int ChainSheet::wanted_height() const {
  return table_->horizontalHeader()->sizeHint().height() +
         std::max(1, model_->rowCount()) * table_->verticalHeader()->defaultSectionSize() +
         5 * fontMetrics().lineSpacing() + take_->sizeHint().height() + 24;
}

void ChainSheet::take() {
  const Job* job = workspace_.job();
  std::vector<Operation> operations;
  for (int i = 0; i < model_->rowCount(); ++i)
    if (model_->is_picked(i)) operations.push_back(model_->chain()[static_cast<std::size_t>(i)].operation);
  if (!job || operations.empty()) return;
  model_->set_chain({});
  const int count = static_cast<int>(operations.size());
  emit done();
  workspace_.shop().apply(added_operations(*job, std::move(operations)));
  emit taken(count);
}

void ChainSheet::leave() {
  model_->set_chain({});
  emit done();
}

void ChainSheet::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Escape) return leave();
  if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) return take();
  QWidget::keyPressEvent(event);
}

}  // namespace pecorra

#include "moc_chain_sheet.cpp"
