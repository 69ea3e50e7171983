#include "app/widgets/quantity_edit.h"

#include <QRegularExpression>
#include <QStyle>

#include "core/quantity/print.h"
#include "shop/words.h"

namespace pecorra {

QuantityEdit::QuantityEdit(Quantity quantity, UnitSystem units, QWidget* parent)
    : FieldEdit(parent), quantity_(quantity), units_(units) {
  setAlignment(Qt::AlignRight | Qt::AlignVCenter);
  setMaxLength(200);
  connect(this, &QLineEdit::textEdited, this, [this] {
    read();
    if (fault_.isEmpty() && !is_bare_fraction()) emit value_typed(stored_, text());
  });
}

// "7/16" on its way to 7/16": nobody means a fraction of a millimetre.
bool QuantityEdit::is_bare_fraction() const {
  static const QRegularExpression fraction(QStringLiteral("^[\\d\\s-]*\\d+/\\d+$"));
  return quantity_ == Quantity::length && !is_inch(units_) && fraction.match(text().trimmed()).hasMatch();
}

void QuantityEdit::show_value(std::optional<double> stored, const QString& typed) {
  if (hasFocus() && is_changed()) return;  // somebody is typing
  stored_ = stored;
  show_text(!typed.isEmpty() ? typed : stored ? QString::fromStdString(shown(*stored, quantity_, units_)) : QString());
  read();
}

void QuantityEdit::read() {
  const QString text = this->text().trimmed();
  understood_.clear();
  QString fault;
  if (text.isEmpty()) {
    stored_.reset();
    if (!optional_) fault = tr("a number is required");
  } else {
    const auto entry = parse_entry(text.toStdString(), quantity_, units_);
    if (entry) {
      stored_ = entry->stored;
      understood_ = QString::fromStdString(entry->understood);
    } else {
      fault = reader_text(entry.error().text);
    }
  }
  mark_fault(fault);
  emit understood_changed();
}

void QuantityEdit::mark_fault(const QString& fault) {
  fault_ = fault;
  const bool faulty = !fault_.isEmpty() || !outside_fault_.isEmpty();
  setToolTip(!fault_.isEmpty() ? fault_ : outside_fault_);
  setAccessibleDescription(toolTip());
  if (property("fault").toBool() == faulty) return;
  setProperty("fault", faulty);
  style()->unpolish(this);
  style()->polish(this);
}

void QuantityEdit::set_outside_fault(const QString& fault) {
  outside_fault_ = fault;
  mark_fault(fault_);
}

void QuantityEdit::accept_value() {
  if (!is_changed() || is_fault()) return;
  settle();
  emit value_accepted(stored_, text().trimmed());
}

void QuantityEdit::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) {
    accept_value();
    selectAll();
    event->accept();
    return;
  }
  FieldEdit::keyPressEvent(event);
}

void QuantityEdit::focusInEvent(QFocusEvent* event) {
  QLineEdit::focusInEvent(event);
  emit focus_gained();
}

void QuantityEdit::focusOutEvent(QFocusEvent* event) {
  QLineEdit::focusOutEvent(event);
  accept_value();
}

}  // namespace pecorra

#include "moc_quantity_edit.cpp"
