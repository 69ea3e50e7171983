#include "app/jobs/decision_sheet.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QVBoxLayout>
#include <algorithm>

#include "app/look/look.h"
#include "app/widgets/fit_columns.h"
#include "app/widgets/plain_table.h"
#include "app/widgets/property_form.h"

namespace pecorra {

DecisionSheet::DecisionSheet(QWidget* parent)
    : QWidget(parent),
      title_(section_heading(QString())),
      note_(new QLabel),
      buttons_(new QWidget),
      model_(new TextModel({}, this)) {
  table_ = plain_table(model_, QStringLiteral("decision_table"));
  table_->setSelectionMode(QAbstractItemView::ExtendedSelection);
  table_->setTabKeyNavigation(false);
  columns_ = new FitColumns(table_, 1);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 4);
  column->setSpacing(4);
  title_->setObjectName(QStringLiteral("decision_title"));
  note_->setObjectName(QStringLiteral("decision_note"));
  note_->setWordWrap(true);
  set_tone(note_, Tone::quiet);
  auto* head = new QHBoxLayout;
  head->addWidget(title_, 1);
  auto* inside = new QHBoxLayout(buttons_);
  inside->setContentsMargins(0, 0, 0, 0);
  inside->setSpacing(6);
  head->addWidget(buttons_);
  column->addLayout(head);
  column->addWidget(table_, 1);
  column->addWidget(note_);
  connect(table_->selectionModel(), &QItemSelectionModel::currentRowChanged, this, [this](const QModelIndex& now) {
    if (!now.isValid()) return;
    say_details(now.row());
    if (content_.look) content_.look(now.row());
  });
}

void DecisionSheet::show_content(Content content) {
  content_ = std::move(content);
  lines_ = static_cast<int>(content_.lines.size());
  title_->setText(content_.title);
  say_details(0);
  model_->set_headings(content_.headings);
  model_->set_right_aligned(content_.right_aligned);
  model_->set_lines(content_.lines, content_.lit);
  columns_->give_way(content_.stretch);
  columns_->fit(true);
  clear_layout(*buttons_->layout());
  for (int i = 0; i < static_cast<int>(content_.actions.size()); ++i) {
    auto* button = new QPushButton(content_.actions[static_cast<std::size_t>(i)].text);
    button->setToolTip(content_.actions[static_cast<std::size_t>(i)].help);
    button->setObjectName(QStringLiteral("decision_%1").arg(i));
    buttons_->layout()->addWidget(button);
    connect(button, &QPushButton::clicked, this, [this, i] { act(i); });
  }
  auto* leave = new QPushButton(tr("Close"));
  leave->setToolTip(tr("Changes nothing (Esc)"));
  leave->setObjectName(QStringLiteral("decision_close"));
  buttons_->layout()->addWidget(leave);
  connect(leave, &QPushButton::clicked, this, &DecisionSheet::close_sheet);
  if (lines_ == 0) return;
  table_->selectAll();
  table_->selectionModel()->setCurrentIndex(model_->index(0, 0), QItemSelectionModel::NoUpdate);
  table_->setFocus();
}

void DecisionSheet::say_details(int row) {
  QStringList said;
  if (row < content_.details.size()) said << content_.details[row];
  if (!content_.note.isEmpty()) said << content_.note;
  note_->setText(said.join(QLatin1Char('\n')));
  note_->setVisible(!said.isEmpty());
}

std::vector<int> DecisionSheet::selected() const {
  std::vector<int> rows;
  for (const QModelIndex& i : table_->selectionModel()->selectedRows()) rows.push_back(i.row());
  std::sort(rows.begin(), rows.end());
  return rows;
}

void DecisionSheet::act(int action) {
  if (action < 0 || action >= static_cast<int>(content_.actions.size())) return;
  const Action chosen = content_.actions[static_cast<std::size_t>(action)];
  const std::vector<int> rows = selected();
  if (!rows.empty() || chosen.of_all) chosen.act(rows);
}

void DecisionSheet::close_sheet() {
  if (is_empty()) return;
  content_ = {};
  lines_ = 0;
  model_->set_lines({});
  emit closed();
}

int DecisionSheet::wanted_height() const {
  return table_->horizontalHeader()->sizeHint().height() +
         std::max(1, model_->rowCount()) * table_->verticalHeader()->defaultSectionSize() +
         3 * fontMetrics().lineSpacing() + buttons_->sizeHint().height() + 24;
}

void DecisionSheet::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Escape) return close_sheet();
  if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) return act(0);
  QWidget::keyPressEvent(event);
}

}  // namespace pecorra

#include "moc_decision_sheet.cpp"
