#include "app/cutters/history_panel.h"

#include <QDateTime>
#include <QHeaderView>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/widgets/plain_table.h"
#include "app/widgets/property_form.h"
#include "shop/task.h"

namespace pecorra {

HistoryPanel::HistoryPanel(Workspace& workspace, QWidget* parent)
    : QWidget(parent),
      workspace_(workspace),
      entries_(new TextModel({tr("When"), tr("Who"), tr("Change")}, this)),
      used_(new TextModel({tr("Used in")}, this)),
      entry_table_(plain_table(entries_, QStringLiteral("history_table"))),
      used_table_(plain_table(used_, QStringLiteral("used_table"))),
      title_(section_heading(tr("History"), 13)),
      empty_(new QLabel),
      back_(new QPushButton(tr("Restore"))) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  auto* head = new QHBoxLayout;
  head->addWidget(title_);
  head->addStretch(1);
  back_->setObjectName(QStringLiteral("history_back"));
  back_->setToolTip(tr("Restores the cutter as it was after the selected change; can be undone"));
  head->addWidget(back_);
  column->addLayout(head);
  entry_table_->setWordWrap(true);
  entry_table_->setColumnWidth(0, 128);
  entry_table_->setColumnWidth(1, 90);
  entry_table_->horizontalHeader()->setSectionResizeMode(2, QHeaderView::Stretch);
  column->addWidget(entry_table_, 3);
  used_table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
  empty_->setWordWrap(true);
  set_tone(empty_, Tone::quiet);
  column->addWidget(empty_);
  column->addWidget(used_table_, 1);
  connect(back_, &QPushButton::clicked, this,
          [this] { go_back(static_cast<std::size_t>(std::max(0, entry_table_->currentIndex().row()))); });
  connect(entry_table_->selectionModel(), &QItemSelectionModel::currentRowChanged, this,
          [this](const QModelIndex& now) {
            back_->setEnabled(now.row() > 0 && now.row() < static_cast<int>(past_.size()) &&
                              !past_[static_cast<std::size_t>(now.row())].deleted);
          });
  connect(used_table_, &QTableView::doubleClicked, this, [this](const QModelIndex& i) {
    if (i.row() < static_cast<int>(uses_.size()))
      emit job_wanted(uses_[static_cast<std::size_t>(i.row())].job, uses_[static_cast<std::size_t>(i.row())].operation);
  });
  // Shown once it is on the disk.
  connect(&workspace_.shop(), &Shop::accepted, this, [this] {
    is_stale_ = true;
    if (isVisible()) read();
  });
}

void HistoryPanel::show_cutter(const Id& cutter) {
  if (cutter == cutter_ && !is_stale_) return;
  cutter_ = cutter;
  is_stale_ = true;
  if (isVisible()) read();
}

void HistoryPanel::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  if (is_stale_) read();
}

void HistoryPanel::read() {
  is_stale_ = false;
  const Cutter* c = workspace_.state().cutters.find(cutter_);
  uses_ = c ? uses_of(workspace_.state(), cutter_) : std::vector<CutterUse>{};
  std::vector<QStringList> used;
  for (const CutterUse& u : uses_) used.push_back({u.text});
  used_->set_lines(used);
  used_table_->setVisible(!used.empty());
  empty_->setText(tr("No job uses it."));
  empty_->setVisible(used.empty());
  if (!c) return entries_->set_lines({});
  workspace_.tasks().run(
      this, {},
      [file = workspace_.shop().file(), now = *c, units = workspace_.units()](Task&) {
        return past_of(file, now, units);
      },
      [this, cutter = cutter_](tl::expected<std::vector<PastState>, StoreFault> past) {
        if (cutter != cutter_) return;  // another one is looked at by now
        if (!past) return emit said(past.error().sentence(), true);
        past_ = std::move(*past);
        std::vector<QStringList> lines;
        for (const PastState& p : past_) {
          const QDateTime when = QDateTime::fromString(p.when, Qt::ISODate).toLocalTime();
          lines.push_back({when.isValid() ? when.toString(QStringLiteral("yyyy-MM-dd HH:mm")) : p.when, p.who,
                           p.changes.isEmpty() ? p.label : p.changes.join(QStringLiteral("; "))});
        }
        entries_->set_lines(lines);
        back_->setEnabled(false);
      });
}

void HistoryPanel::go_back(std::size_t entry) {
  const Cutter* now = workspace_.state().cutters.find(cutter_);
  if (!now || entry >= past_.size() || past_[entry].deleted) return;
  Cutter then = past_[entry].after;
  then.revision = now->revision;
  // Its library is not restored: numbers are unique there.
  then.library = now->library;
  then.number = now->number;
  workspace_.shop().edit(*now, then,
                         tr("%1 as it was on %2")
                             .arg(QString::fromStdString(now->name),
                                  past_[entry].when.left(16).replace(QLatin1Char('T'), QLatin1Char(' '))));
}

}  // namespace pecorra

#include "moc_history_panel.cpp"
