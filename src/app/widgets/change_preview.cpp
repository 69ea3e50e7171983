#include "app/widgets/change_preview.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QPainter>
#include <QVBoxLayout>

#include "app/look/look.h"
#include "app/widgets/plain_table.h"
#include "app/widgets/property_cell.h"
#include "app/widgets/property_form.h"
#include "app/widgets/tick_item.h"
#include "shop/task.h"
#include "shop/words.h"

namespace pecorra {

QString ChangeLines::counts_text(const int (&counts)[5]) const {
  return QObject::tr(
             "%1 new · %2 changed · %3 the same · %4 in conflict · %5 faulty. Nothing changes until you import; ticked "
             "lines are imported.")
      .arg(counts[0])
      .arg(counts[1])
      .arg(counts[2])
      .arg(counts[3])
      .arg(counts[4]);
}

class ChangePreview::Model : public QAbstractTableModel {
 public:
  enum Column { pick, state, line, what, change, column_count };
  using QAbstractTableModel::QAbstractTableModel;

  void set_lines(std::unique_ptr<ChangeLines> lines) {
    lines_ = std::move(lines);
    show_states(shown_);
  }
  void show_states(std::function<bool(MergeState)> shown) {
    beginResetModel();
    shown_ = std::move(shown);
    rows_.clear();
    for (std::size_t i = 0; lines_ && i < lines_->size(); ++i)
      if (!shown_ || shown_(lines_->state(i))) rows_.push_back(i);
    endResetModel();
  }
  ChangeLines* lines() const { return lines_.get(); }
  void set_picked(std::size_t place, bool picked) {
    if (place >= lines_->size() || !lines_->can_be_picked(place)) return;
    lines_->pick(place, picked);
    touched();
  }
  void touched() {
    if (!rows_.empty()) emit dataChanged(index(0, 0), index(rowCount() - 1, column_count - 1));
  }
  std::size_t place_at(int row) const { return rows_[static_cast<std::size_t>(row)]; }

  int rowCount(const QModelIndex& parent = {}) const override {
    return parent.isValid() ? 0 : static_cast<int>(rows_.size());
  }
  int columnCount(const QModelIndex& = {}) const override { return column_count; }
  QVariant data(const QModelIndex& i, int role) const override {
    const std::size_t at = place_at(i.row());
    if (role == Qt::TextAlignmentRole)
      return static_cast<int>((i.column() == line ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter);
    const MergeState is = lines_->state(at);
    if (role == cell_tone_role) {
      if (i.column() == state || i.column() == change) {
        if (is == MergeState::faulty) return static_cast<int>(Tone::error);
        if (is == MergeState::conflict) return static_cast<int>(Tone::warning);
      }
      return {};
    }
    if (role == Qt::CheckStateRole && i.column() == pick)
      return lines_->can_be_picked(at) ? QVariant(lines_->picked(at) ? Qt::Checked : Qt::Unchecked) : QVariant();
    if (role != Qt::DisplayRole && role != Qt::ToolTipRole) return {};
    switch (i.column()) {
      case state: return label_text(label_of(is));
      case line: return lines_->line(at);
      case what: return lines_->what(at);
      case change: return lines_->change(at);
      default: return {};
    }
  }
  QVariant headerData(int section, Qt::Orientation orientation, int role) const override {
    if (orientation != Qt::Horizontal) return {};
    if (role == Qt::TextAlignmentRole)
      return static_cast<int>((section == line ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter);
    if (role != Qt::DisplayRole) return {};
    const QString names[] = {QString(), tr("Status"), lines_ ? lines_->line_heading() : tr("Line"), tr("Item"),
                             tr("Change or error")};
    return names[section];
  }

 private:
  std::unique_ptr<ChangeLines> lines_;
  std::vector<std::size_t> rows_;
  std::function<bool(MergeState)> shown_;
};

ChangePreview::ChangePreview(Workspace& workspace, QWidget* parent)
    : QWidget(parent),
      workspace_(workspace),
      model_(new Model(this)),
      title_(new QLabel),
      counts_(new QLabel),
      unknown_(new QLabel),
      shown_(new SwitchRow({tr("Selected"), tr("All lines"), tr("Faulty")})),
      view_(plain_table(model_, QStringLiteral("import_table"))),
      take_(new QPushButton),
      other_(new QPushButton),
      leave_(new QPushButton(tr("Discard"))),
      all_(new QPushButton(tr("Select all"))),
      none_(new QPushButton(tr("Select none"))) {
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
  view_->setItemDelegate(new TickItem(view_));
  const int widths[] = {30, 84, 46, 270, 300};
  for (int i = 0; i < Model::column_count; ++i) view_->setColumnWidth(i, widths[i]);
  view_->horizontalHeader()->setMinimumSectionSize(24);
  view_->horizontalHeader()->setSectionResizeMode(Model::change, QHeaderView::Stretch);
  column->addWidget(view_, 1);
  unknown_->setWordWrap(true);
  set_tone(unknown_, Tone::quiet);
  column->addWidget(unknown_);
  auto* buttons = new QHBoxLayout;
  take_->setObjectName(QStringLiteral("import_take"));
  take_->setDefault(true);
  leave_->setObjectName(QStringLiteral("import_leave"));
  buttons->addWidget(take_);
  other_->setObjectName(QStringLiteral("import_other"));
  buttons->addWidget(other_);
  buttons->addWidget(leave_);
  buttons->addStretch(1);
  column->addLayout(buttons);
  connect(shown_, &SwitchRow::chosen, this, [this](int i) {
    model_->show_states([i](MergeState s) {
      return i == all_lines ||
             (i == only_faults ? s == MergeState::faulty : s != MergeState::same && s != MergeState::faulty);
    });
  });
  const auto toggle = [this](const QModelIndex& index) {
    if (!index.isValid()) return;
    const std::size_t place = model_->place_at(index.row());
    pick(place, !model_->lines()->picked(place));
  };
  connect(view_, &QTableView::clicked, this, [toggle](const QModelIndex& index) {
    if (index.column() == Model::pick) toggle(index);
  });
  auto* space = new QAction(view_);
  space->setShortcut(Qt::Key_Space);
  space->setShortcutContext(Qt::WidgetShortcut);
  view_->addAction(space);
  connect(space, &QAction::triggered, this, [this, toggle] { toggle(view_->currentIndex()); });
  connect(take_, &QPushButton::clicked, this, &ChangePreview::take);
  connect(other_, &QPushButton::clicked, this, &ChangePreview::take_other);
  connect(leave_, &QPushButton::clicked, this, &ChangePreview::leave);
  for (const auto& [button, picked] : {std::pair{all_, true}, {none_, false}})
    connect(button, &QPushButton::clicked, this, [this, value = picked] {
      ChangeLines& lines = *model_->lines();
      for (std::size_t i = 0; i < lines.size(); ++i)
        if (lines.can_be_picked(i)) lines.pick(i, value);
      model_->touched();
      refresh();
    });
  // What was there when the preview was made may change under it.
  connect(&workspace_, &Workspace::data_changed, this, [this] {
    if (!lines() || is_taking_) return;
    if (is_aside_) has_changed_ = true;
    else if (isVisible()) drop();
  });
}

void ChangePreview::show_lines(std::unique_ptr<ChangeLines> lines, const QString& title, const QString& from,
                               const QStringList& unknown) {
  from_ = from;
  model_->set_lines(std::move(lines));
  title_->setText(title);
  title_->setVisible(!title.isEmpty());
  unknown_->setText(tr("Unused columns skipped: %1").arg(unknown.join(QStringLiteral(", "))));
  unknown_->setVisible(!unknown.isEmpty());
  const ChangeLines& all = *model_->lines();
  bool only_bad = all.size() > 0, none_new = true;
  for (std::size_t i = 0; i < all.size(); ++i) {
    only_bad = only_bad && all.state(i) == MergeState::faulty;
    none_new = none_new && !all.can_be_picked(i);
  }
  const int shown = only_bad ? only_faults : none_new ? all_lines : to_take;
  shown_->set_current(shown);
  emit shown_->chosen(shown);
  refresh();
}

void ChangePreview::start_taking() {
  if (take_->isEnabled()) take_->setFocus();
}

const ChangeLines* ChangePreview::lines() const { return model_->lines(); }

void ChangePreview::show_all() {
  shown_->set_current(all_lines);
  emit shown_->chosen(all_lines);
}

void ChangePreview::pick(std::size_t line, bool picked) {
  if (is_aside_) return;
  model_->set_picked(line, picked);
  refresh();
}

int ChangePreview::picked() const {
  int count = 0;
  for (std::size_t i = 0; lines() && i < lines()->size(); ++i) count += lines()->picked(i) && lines()->can_be_picked(i);
  return count;
}

void ChangePreview::refresh() {
  const ChangeLines* all = lines();
  if (!all) return;
  int counts[5] = {};
  for (std::size_t i = 0; i < all->size(); ++i) ++counts[static_cast<int>(all->state(i))];
  counts_->setText(all->size() == 0 ? tr("No lines with data") : all->counts_text(counts));
  const int count = picked();
  take_->setText(all->take_text(count));
  take_->setEnabled(count > 0);
  int rest = -count;
  for (std::size_t i = 0; i < all->size(); ++i) rest += all->can_be_picked(i);
  other_->setText(all->other_text(rest));
  other_->setToolTip(all->other_hint());
  other_->setVisible(rest > 0 && !other_->text().isEmpty());
}

void ChangePreview::drop() {
  model_->set_lines(nullptr);
  emit said(tr("The shop has changed meanwhile: check %1 again").arg(from_), true);
  emit done();
}

void ChangePreview::set_usable(bool usable) {
  for (QWidget* w : {static_cast<QWidget*>(take_), static_cast<QWidget*>(other_), static_cast<QWidget*>(leave_),
                     static_cast<QWidget*>(all_), static_cast<QWidget*>(none_), static_cast<QWidget*>(view_)})
    w->setEnabled(usable);
}

void ChangePreview::take() {
  if (!lines() || is_aside_ || picked() == 0) return;
  if (auto work = model_->lines()->take_aside()) {
    is_aside_ = true;
    has_changed_ = false;
    set_usable(false);
    take_->setText(tr("Applying …"));
    workspace_.tasks().run(
        this, tr("Applying %1").arg(from_), [work = std::move(work)](Task&) mutable { return work(); },
        [this, mine = lines()](const ChangeLines::Finish& finish) {
          is_aside_ = false;
          set_usable(true);
          if (lines() != mine) return;  // others are shown by now
          if (has_changed_) return drop();
          is_taking_ = true;
          model_->set_lines(nullptr);
          finish();
          is_taking_ = false;
          emit done();
        });
    return;
  }
  is_taking_ = true;  // the change is our own
  model_->lines()->take();
  is_taking_ = false;
  model_->set_lines(nullptr);
  emit done();
}

void ChangePreview::take_other() {
  if (!lines() || is_aside_) return;
  is_taking_ = true;
  model_->lines()->take_other();
  if (picked() > 0) model_->lines()->take();
  is_taking_ = false;
  model_->set_lines(nullptr);
  emit done();
}

void ChangePreview::leave() {
  if (is_aside_) return;
  model_->set_lines(nullptr);
  emit said(tr("%1 cancelled; nothing was changed").arg(from_), false);
  emit done();
}

}  // namespace pecorra

#include "moc_change_preview.cpp"
