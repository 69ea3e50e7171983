#include "app/widgets/number_table.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QStyledItemDelegate>
#include <QVBoxLayout>
#include <algorithm>

#include "app/look/look.h"
#include "app/widgets/property_form.h"
#include "core/quantity/entry.h"
#include "core/quantity/print.h"
#include "shop/words.h"

namespace pecorra {
namespace {

bool is_enter(const QEvent& event, Qt::KeyboardModifiers modifiers) {
  const auto& key = static_cast<const QKeyEvent&>(event);
  return (key.key() == Qt::Key_Return || key.key() == Qt::Key_Enter) &&
         (key.modifiers() & ~Qt::KeypadModifier) == modifiers;
}

// Enter goes on to the next cell, Ctrl+Enter to a new row; also where the window has the key for something else.
class CellDelegate : public QStyledItemDelegate {
 public:
  CellDelegate(QObject* parent, std::function<void(bool new_row)> go_on)
      : QStyledItemDelegate(parent), go_on_(std::move(go_on)) {}

 protected:
  bool eventFilter(QObject* editor, QEvent* event) override {
    if (event->type() == QEvent::ShortcutOverride && is_enter(*event, Qt::ControlModifier)) event->accept();
    if (event->type() != QEvent::KeyPress) return QStyledItemDelegate::eventFilter(editor, event);
    const bool new_row = is_enter(*event, Qt::ControlModifier);
    if (!new_row && !is_enter(*event, Qt::NoModifier)) return QStyledItemDelegate::eventFilter(editor, event);
    auto* widget = static_cast<QWidget*>(editor);
    emit commitData(widget);
    emit closeEditor(widget);
    go_on_(new_row);
    return true;
  }

 private:
  std::function<void(bool)> go_on_;
};

}  // namespace

NumberTable::NumberTable(const QString& heading, const QString& name, const std::string& key,
                         const QStringList& columns, std::vector<Quantity> quantities, QWidget* parent)
    : QWidget(parent),
      name_(name),
      key_(key),
      columns_(columns),
      quantities_(std::move(quantities)),
      table_(new QTableWidget),
      remove_(new QPushButton(tr("Remove"))),
      fault_(new QLabel) {
  quantities_.resize(static_cast<std::size_t>(columns.size()), Quantity::length);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(4);
  auto* row = new QHBoxLayout;
  row->addWidget(section_heading(heading));
  row->addStretch(1);
  auto* add = new QPushButton(tr("Add"));
  add->setToolTip(tr("Add a row below: Ctrl+Enter"));
  add->setObjectName(QStringLiteral("add_") + name.toLower());
  remove_->setObjectName(QStringLiteral("remove_") + name.toLower());
  row->addWidget(add);
  row->addWidget(remove_);
  column->addLayout(row);
  table_->setObjectName(name.toLower() + QLatin1Char('s'));
  table_->setAccessibleName(heading);
  table_->setColumnCount(static_cast<int>(columns.size()));
  table_->verticalHeader()->setDefaultSectionSize(25);
  table_->verticalHeader()->setMinimumWidth(26);
  table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
  table_->setSelectionMode(QAbstractItemView::SingleSelection);
  table_->setTabKeyNavigation(true);
  table_->setItemDelegate(new CellDelegate(table_, [this](bool new_row) { go_on(new_row); }));
  table_->installEventFilter(this);
  column->addWidget(table_);
  fault_->setObjectName(QStringLiteral("fault_") + name.toLower());
  fault_->setWordWrap(true);
  fault_->setFont(Look::get().text(11.5));
  set_tone(fault_, Tone::error);
  column->addWidget(fault_);
  connect(add, &QPushButton::clicked, this, &NumberTable::add_row);
  connect(remove_, &QPushButton::clicked, this, &NumberTable::remove_row);
  connect(table_, &QTableWidget::cellChanged, this, &NumberTable::accept_cell);
  connect(table_, &QTableWidget::currentCellChanged, this, [this](int at) { emit row_entered(at); });
}

std::string NumberTable::cell_key(std::size_t row, std::size_t column) const {
  return key_ + "[" + std::to_string(row) + "][" + std::to_string(column) + "]";
}

NumberTable::Typed NumberTable::moved(std::size_t place, bool in) const {
  Typed after = typed_;
  for (std::size_t i = 0; i < rows_.size(); ++i)
    for (std::size_t k = 0; k < rows_[i].size(); ++k) after.erase(cell_key(i, k));
  for (std::size_t i = 0; i < rows_.size(); ++i) {
    if (!in && i == place) continue;
    const std::size_t to = i < place ? i : in ? i + 1 : i - 1;
    for (std::size_t k = 0; k < rows_[i].size(); ++k)
      if (const auto found = typed_.find(cell_key(i, k)); found != typed_.end()) after[cell_key(to, k)] = found->second;
  }
  return after;
}

void NumberTable::show_rows(const Rows& rows, const Typed& typed, UnitSystem units) {
  rows_ = rows;
  typed_ = typed;
  units_ = units;
  filling_ = true;
  QStringList headings;
  for (int k = 0; k < columns_.size(); ++k)
    headings << QStringLiteral("%1, %2").arg(columns_[k],
                                             text_of(unit_text(quantities_[static_cast<std::size_t>(k)], units)));
  table_->setHorizontalHeaderLabels(headings);
  table_->setRowCount(static_cast<int>(rows.size()));
  for (int i = 0; i < table_->rowCount(); ++i)
    for (int k = 0; k < table_->columnCount(); ++k) {
      const auto row = static_cast<std::size_t>(i), column = static_cast<std::size_t>(k);
      const auto kept = typed.find(cell_key(row, column));
      const QString plain_text = text_of(shown(rows[row][column], quantities_[column], units)),
                    text = kept != typed.end() ? text_of(kept->second) : plain_text;
      QTableWidgetItem* item = table_->item(i, k);
      if (!item) table_->setItem(i, k, item = new QTableWidgetItem);
      item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
      if (item->text() != text) item->setText(text);
      item->setToolTip(text == plain_text ? QString() : quantity_text(rows[row][column], quantities_[column], units));
    }
  table_->setVisible(!rows.empty());
  table_->setFixedHeight(30 + 25 * std::clamp(table_->rowCount(), 1, 9));
  remove_->setVisible(!rows.empty());
  filling_ = false;
}

void NumberTable::say(const QString& fault) {
  fault_->setText(fault);
  fault_->setVisible(!fault.isEmpty());
}

void NumberTable::accept_cell(int row, int column) {
  if (filling_ || static_cast<std::size_t>(row) >= rows_.size()) return;
  const QString text = table_->item(row, column)->text().trimmed();
  const Quantity quantity = quantities_[static_cast<std::size_t>(column)];
  const auto entry = parse_entry(text.toStdString(), quantity, units_);
  Rows after = rows_;
  if (entry) after[static_cast<std::size_t>(row)][static_cast<std::size_t>(column)] = entry->stored;
  const QString wrong = !entry   ? QStringLiteral("“%1”: %2").arg(text, reader_text(entry.error().text))
                        : check_ ? check_(after)
                                 : QString();
  if (!wrong.isEmpty()) return say(wrong);
  Typed typed = typed_;
  const std::string key = cell_key(static_cast<std::size_t>(row), static_cast<std::size_t>(column));
  typed.erase(key);
  if (text != text_of(shown(entry->stored, quantity, units_))) typed[key] = text.toStdString();
  emit accepted(after, typed,
                tr("%1 %2, %3: %4")
                    .arg(name_)
                    .arg(row + 1)
                    .arg(columns_[column].toLower(), quantity_text(entry->stored, quantity, units_)));
}

bool NumberTable::eventFilter(QObject* watched, QEvent* event) {
  if (event->type() == QEvent::ShortcutOverride && is_enter(*event, Qt::ControlModifier)) event->accept();
  if (event->type() != QEvent::KeyPress) return QWidget::eventFilter(watched, event);
  const bool new_row = is_enter(*event, Qt::ControlModifier);
  if (!new_row && !is_enter(*event, Qt::NoModifier)) return QWidget::eventFilter(watched, event);
  go_on(new_row);
  return true;
}

void NumberTable::go_on(bool new_row) {
  if (!fault_->text().isEmpty()) return;  // what is wrong comes first
  if (new_row) return add_row();
  const int next = table_->currentRow() * table_->columnCount() + table_->currentColumn() + 1;
  if (next < table_->rowCount() * table_->columnCount())
    table_->setCurrentCell(next / table_->columnCount(), next % table_->columnCount());
  else emit finished();
}

void NumberTable::start(int row, int column) {
  table_->setCurrentCell(row, column);
  table_->setFocus();
}

void NumberTable::add_row() {
  const int at = table_->currentRow();
  const std::size_t place =
      at >= 0 && static_cast<std::size_t>(at) < rows_.size() ? static_cast<std::size_t>(at) + 1 : rows_.size();
  Rows after = rows_;
  after.insert(after.begin() + static_cast<std::ptrdiff_t>(place), propose_(rows_, place));
  emit accepted(after, moved(place, true), tr("%1 %2 added").arg(name_).arg(place + 1));
  if (static_cast<int>(place) >= table_->rowCount()) return;
  table_->setCurrentCell(static_cast<int>(place), 0);
  table_->setFocus();
}

void NumberTable::remove_row() {
  const int at = table_->currentRow();
  if (at < 0 || static_cast<std::size_t>(at) >= rows_.size()) return;
  Rows after = rows_;
  after.erase(after.begin() + at);
  emit accepted(after, moved(static_cast<std::size_t>(at), false), tr("%1 %2 removed").arg(name_).arg(at + 1));
}

}  // namespace pecorra

#include "moc_number_table.cpp"
