#include "app/widgets/property_form.h"

#include <QAbstractItemView>
#include <QCompleter>
#include <QKeyEvent>
#include <QSettings>
#include <QStandardItemModel>
#include <QStringListModel>

#include "app/look/look.h"
#include "app/widgets/steady_combo.h"
#include "app/widgets/wrapped_label.h"
#include "core/quantity/print.h"

namespace pecorra {
namespace {

Value value_of(const std::optional<double>& number) { return number ? Value(*number) : Value(std::monostate{}); }

}  // namespace

QLabel* section_heading(const QString& text, double pixels) {
  auto* label = new QLabel(text);
  label->setFont(Look::get().text(pixels, true));
  set_tone(label, Tone::heading);
  return label;
}

PropertyForm::PropertyForm(QWidget* parent) : QWidget(parent), grid_(new QGridLayout(this)) {
  grid_->setContentsMargins(0, 2, 8, 8);
  grid_->setHorizontalSpacing(6);
  grid_->setVerticalSpacing(4);
  grid_->setColumnMinimumWidth(0, 98);
  grid_->setColumnMinimumWidth(1, 28);
  grid_->setColumnStretch(3, 1);
}

void clear_layout(QLayout& layout) {
  while (QLayoutItem* item = layout.takeAt(0)) {
    if (item->layout()) clear_layout(*item->layout());
    if (item->widget()) {
      item->widget()->hide();
      item->widget()->deleteLater();
    }
    delete item;
  }
}

void PropertyForm::clear() {
  rows_.clear();
  sections_.assign(1, {});
  messages_.clear();
  clear_layout(*grid_);
}

void PropertyForm::add_widget(QWidget* widget) {
  grid_->addWidget(widget, grid_->rowCount(), 0, 1, 4);
  sections_.back().widgets.push_back(widget);
  widget->setVisible(!sections_.back().folded);
}

void PropertyForm::heading(const QString& text) {
  grid_->addWidget(section_heading(text), grid_->rowCount(), 0, 1, 4);
  sections_.push_back({});
}

void PropertyForm::folding_heading(const QString& text, const QString& key) {
  Section section;
  section.head = new QPushButton;
  section.head->setFlat(true);
  section.head->setFont(Look::get().text(13, true));
  section.head->setObjectName(QStringLiteral("fold_") + key);
  section.head->setCursor(Qt::PointingHandCursor);
  set_tone(section.head, Tone::heading);
  section.title = text;
  section.key = key;
  section.folded = !QSettings().value(QStringLiteral("form/open/") + key, false).toBool();
  grid_->addWidget(section.head, grid_->rowCount(), 0, 1, 4, Qt::AlignLeft);
  sections_.push_back(section);
  const std::size_t at = sections_.size() - 1;
  connect(section.head, &QPushButton::clicked, this, [this, at] {
    fold(at, !sections_[at].folded);
    QSettings().setValue(QStringLiteral("form/open/") + sections_[at].key, !sections_[at].folded);
  });
  fold(at, section.folded);
}

void PropertyForm::fold(std::size_t at, bool folded) {
  Section& section = sections_[at];
  section.folded = folded;
  if (section.head) section.head->setText((folded ? QStringLiteral("▸ ") : QStringLiteral("▾ ")) + section.title);
  for (QWidget* w : section.widgets) w->setVisible(!folded);
  for (const Row& row : rows_)
    if (row.section == at) show_row(row);
}

void PropertyForm::show_row(const Row& row) {
  const bool shown = !sections_[row.section].folded && !row.left_out;
  for (QWidget* w : {static_cast<QWidget*>(row.name), static_cast<QWidget*>(row.sign), row.widget()})
    w->setVisible(shown);
  row.note->setVisible(shown && row.edit);
  row.fault->setVisible(shown && !row.fault->text().isEmpty());
}

void PropertyForm::add(const FormField& field) {
  const int at = grid_->rowCount();
  auto* name = new QLabel(field.label);
  name->setToolTip(field.help);
  auto* sign = new QLabel(field.symbol);
  sign->setFont(Look::get().text(11));
  set_tone(sign, Tone::quiet);
  auto* note = new QLabel;
  note->setFont(Look::get().text(11));
  note->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
  note->setObjectName(QStringLiteral("note_") + field.key);
  auto* fault = new WrappedLabel;  // below, so that a sentence has room
  fault->setFont(Look::get().text(11.5));
  fault->setObjectName(QStringLiteral("fault_") + field.key);
  fault->hide();
  grid_->addWidget(fault, at + (field.wide || field.lines ? 2 : 1), 0, 1, 4);
  grid_->addWidget(name, at, 0);
  grid_->addWidget(sign, at, 1);
  grid_->addWidget(note, at, 3);
  Row row{field.key,  field.quantity, nullptr, nullptr, nullptr, nullptr,
          field.help, note,           fault,   name,    sign,    sections_.size() - 1};
  const QString key = field.key;
  if (!field.choices.empty() || field.quantity == Quantity::choice || field.quantity == Quantity::id) {
    row.choice = new SteadyCombo;
    row.note->hide();
    for (const FieldChoice& c : field.choices) row.choice->addItem(c.label, c.key);
    grid_->addWidget(row.choice, at, 2, 1, 2);
    QComboBox* combo = row.choice;
    connect(combo, &QComboBox::activated, this, [this, combo, key, flag = field.quantity == Quantity::flag] {
      if (filling_) return;
      const std::string picked = combo->currentData().toString().toStdString();
      if (flag) emit accepted(key, picked == "true", combo->currentText());
      else emit accepted(key, picked.empty() ? Value(std::monostate{}) : Value(picked), combo->currentText());
    });
  } else if (field.lines) {
    add_lines(row, at);
  } else if (field.quantity == Quantity::text) {
    row.text = new FieldEdit;
    row.note->hide();
    row.text->setMaxLength(2000);
    if (field.wide) grid_->addWidget(row.text, at + 1, 0, 1, 4);
    else grid_->addWidget(row.text, at, 2, 1, 2);
    FieldEdit* edit = row.text;
    connect(edit, &QLineEdit::textEdited, this, [this, key](const QString& typed) {
      if (!filling_) emit being_typed(key, typed.trimmed().toStdString());
    });
    connect(edit, &QLineEdit::editingFinished, this, [this, edit, key] {
      if (filling_ || !edit->is_changed()) return;
      edit->settle();
      emit accepted(key, edit->text().trimmed().toStdString(), edit->text().trimmed());
    });
  } else {
    row.edit = new QuantityEdit(field.quantity, units_);
    row.edit->setFixedWidth(92);
    grid_->addWidget(row.edit, at, 2);
    connect(row.edit, &QuantityEdit::value_accepted, this,
            [this, key](std::optional<double> stored, const QString& text) {
              if (!filling_) emit accepted(key, value_of(stored), text);
            });
    connect(row.edit, &QuantityEdit::value_typed, this, [this, key](std::optional<double> stored, const QString&) {
      if (!filling_) emit being_typed(key, value_of(stored));
    });
    connect(row.edit, &QuantityEdit::focus_gained, this, [this, key] { emit field_focused(key); });
    connect(row.edit, &QuantityEdit::understood_changed, this, [this] {
      if (!filling_) refresh_notes();
    });
  }
  QWidget* widget = row.widget();
  widget->setObjectName(QStringLiteral("field_") + key);
  widget->setAccessibleName(field.label);
  widget->setToolTip(field.help);
  name->setBuddy(widget);
  // Tab goes from field to field as they are measured.
  if (!rows_.empty()) setTabOrder(rows_.back().widget(), widget);
  widget->installEventFilter(this);
  rows_.push_back(row);
  if (sections_.back().folded) show_row(row);
}

const PropertyForm::Row* PropertyForm::find(const QString& key) const {
  for (const Row& row : rows_)
    if (row.key == key) return &row;
  return nullptr;
}

std::vector<QString> PropertyForm::keys() const {
  std::vector<QString> list;
  for (const Row& row : rows_) list.push_back(row.key);
  return list;
}

void PropertyForm::set_units(UnitSystem units) {
  units_ = units;
  for (const Row& row : rows_)
    if (row.edit) row.edit->set_units(units);
}

void PropertyForm::fill(const QString& key, const Value& value, const QString& typed) {
  const Row* row = find(key);
  if (!row) return;
  filling_ = true;
  const std::string* text = std::get_if<std::string>(&value);
  if (row->edit) {
    const double* number = std::get_if<double>(&value);
    row->edit->show_value(number ? std::optional(*number) : std::nullopt, typed);
  } else if (row->choice) {
    QString key_text = text ? QString::fromStdString(*text) : QString();
    if (const bool* flag = std::get_if<bool>(&value))
      key_text = *flag ? QStringLiteral("true") : QStringLiteral("false");
    row->choice->setCurrentIndex(row->choice->findData(key_text));
  } else if (row->lines) {
    QString shown = text ? QString::fromStdString(*text) : QString();
    if (shown.endsWith(QLatin1Char('\n'))) shown.chop(1);
    // What is typed in it stays as it is until it is left.
    if (shown != row->lines->toPlainText() && !row->lines->hasFocus()) row->lines->setPlainText(shown);
  } else {
    row->text->show_text(text ? QString::fromStdString(*text) : QString());
  }
  filling_ = false;
}

void PropertyForm::set_choices(const QString& key, const std::vector<FieldChoice>& choices) {
  const Row* row = find(key);
  if (!row || !row->choice) return;
  filling_ = true;
  row->choice->clear();
  for (const FieldChoice& c : choices) {
    row->choice->addItem(c.why_not.isEmpty() ? c.label : QStringLiteral("%1: %2").arg(c.label, c.why_not), c.key);
    if (c.why_not.isEmpty()) continue;
    if (auto* items = qobject_cast<QStandardItemModel*>(row->choice->model()))
      items->item(row->choice->count() - 1)->setEnabled(false);
    row->choice->setItemData(row->choice->count() - 1, c.why_not, Qt::ToolTipRole);
  }
  filling_ = false;
}

void PropertyForm::set_various(const QString& key, bool various) {
  const Row* row = find(key);
  if (!row) return;
  const QString text = various ? tr("various") : QString();
  if (auto* edit = qobject_cast<QLineEdit*>(row->widget())) {
    if (edit->placeholderText() != text) edit->setPlaceholderText(text);
  } else if (row->choice) {
    row->choice->setPlaceholderText(text);
  }
  if (!various || row->widget()->hasFocus()) return;
  filling_ = true;
  if (row->edit) row->edit->show_value(std::nullopt, {});
  else if (row->text) row->text->show_text({});
  else if (row->choice) row->choice->setCurrentIndex(-1);
  filling_ = false;
}

void PropertyForm::set_shown(const QString& key, bool shown) {
  for (Row& row : rows_)
    if (row.key == key && row.left_out == shown) {
      row.left_out = !shown;
      show_row(row);
    }
}

void PropertyForm::set_locked(const QString& key, const QString& why) {
  const Row* row = find(key);
  if (!row) return;
  row->widget()->setEnabled(why.isEmpty());
  row->widget()->setToolTip(why.isEmpty() ? row->help : why);
}

void PropertyForm::set_suggestions(const QString& key, const QStringList& texts) {
  const Row* row = find(key);
  if (!row || !row->text) return;
  if (!row->text->completer()) {
    auto* completer = new QCompleter(row->text);
    completer->setModel(new QStringListModel(completer));
    completer->setCaseSensitivity(Qt::CaseInsensitive);
    completer->setFilterMode(Qt::MatchContains);
    row->text->setCompleter(completer);
    Look::get().wear(*completer->popup());  // a window of its own
  }
  auto* model = static_cast<QStringListModel*>(row->text->completer()->model());
  if (model->stringList() != texts) model->setStringList(texts);
}

void PropertyForm::show_messages(std::vector<Message> messages) {
  messages_ = std::move(messages);
  refresh_notes();
}

void PropertyForm::refresh_notes() {
  for (const Row& row : rows_) {
    const Message* message = nullptr;
    for (const Message& m : messages_)
      if (m.property == row.key.toStdString() && (!message || m.severity > message->severity)) message = &m;
    QString outside, fault, hint;
    Tone tone = Tone::error;
    if (row.edit && row.edit->is_fault()) {
      fault = row.edit->fault();
    } else if (message && message->severity == Severity::note) {
      hint = sentence(*message, units_);  // beside the field, not below it
    } else if (message) {
      fault = sentence(*message, units_);
      if (message->severity == Severity::error) outside = fault;
      else tone = Tone::warning;
    }
    row.fault->setText(fault);
    if (!fault.isEmpty() && sections_[row.section].folded) fold(row.section, false);
    row.fault->setVisible(!fault.isEmpty());
    set_tone(row.fault, tone);
    if (row.edit) {
      const QString understood = row.edit->understood();
      const bool says = !understood.isEmpty() && !row.edit->is_fault();
      row.note->setText(!hint.isEmpty()              ? hint
                        : says                       ? understood
                        : row.edit->text().isEmpty() ? QString()
                                                     : QString::fromStdString(unit_text(row.quantity, units_)));
      set_tone(row.note, !hint.isEmpty() ? Tone::warning : says ? Tone::accent : Tone::quiet);
    }
    if (row.edit) row.edit->set_outside_fault(outside);
  }
}

void PropertyForm::focus_field(const QString& key) {
  const Row* row = find(key);
  if (!row) return;
  if (sections_[row->section].folded) fold(row->section, false);
  row->widget()->setFocus();
  if (auto* text = qobject_cast<QLineEdit*>(row->widget())) text->selectAll();
}

// Enter goes on like Tab, in a field that is in order; leaving a field accepts it.
bool PropertyForm::eventFilter(QObject* watched, QEvent* event) {
  if (qobject_cast<QPlainTextEdit*>(watched)) {
    if (event->type() == QEvent::FocusOut)
      for (const Row& row : rows_)
        if (row.lines == watched) accept_lines(row);
    return QWidget::eventFilter(watched, event);
  }
  const bool override = event->type() == QEvent::ShortcutOverride;
  if (event->type() != QEvent::KeyPress && !override) return QWidget::eventFilter(watched, event);
  const auto* key = static_cast<QKeyEvent*>(event);
  if (key->key() != Qt::Key_Return && key->key() != Qt::Key_Enter) return QWidget::eventFilter(watched, event);
  if (override) {  // Ctrl+Enter is the form's here, whatever it does elsewhere in the window
    event->accept();
    return true;
  }
  auto* edit = qobject_cast<QuantityEdit*>(watched);
  if (edit && edit->is_changed() && edit->is_fault()) return QWidget::eventFilter(watched, event);
  if (edit) edit->accept_value();
  else if (auto* text = qobject_cast<QLineEdit*>(watched)) emit text->editingFinished();
  if (key->modifiers() & Qt::ControlModifier) {
    finish_typing();
    emit finished();
  } else {
    focus_next(watched);
  }
  return true;
}

void PropertyForm::focus_next(QObject* from) {
  std::size_t at = 0;
  while (at < rows_.size() && rows_[at].widget() != from) ++at;
  while (++at < rows_.size()) {
    QWidget* next = rows_[at].widget();
    if (!next->isVisible() || !next->isEnabled()) continue;
    next->setFocus(Qt::TabFocusReason);
    return;
  }
  finish_typing();
  emit finished();
}

void PropertyForm::finish_typing() {
  if (QWidget* focus = focusWidget(); focus && focus->hasFocus()) focus->clearFocus();
}

}  // namespace pecorra

#include "moc_property_form.cpp"
