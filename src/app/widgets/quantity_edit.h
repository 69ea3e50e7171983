// A field for one quantity: takes what people write, shows what it understood, never rewrites what is being typed.
#pragma once

#include <optional>
#include "app/widgets/field_edit.h"

#include "core/quantity/entry.h"

namespace pecorra {

class QuantityEdit : public FieldEdit {
  Q_OBJECT
 public:
  QuantityEdit(Quantity quantity, UnitSystem units, QWidget* parent = nullptr);

  void set_units(UnitSystem units) { units_ = units; }
  // What is stored, with the text it was typed as (empty: it is printed).
  void show_value(std::optional<double> stored, const QString& typed);
  // A choice of words: empty is "not given".
  void set_optional(bool optional) { optional_ = optional; }

  bool is_fault() const { return !fault_.isEmpty(); }
  QString fault() const { return fault_; }
  // The fault of a check outside the field; empty takes it away.
  void set_outside_fault(const QString& fault);
  QString understood() const { return understood_; }
  // As Enter does.
  void accept_value();

 signals:
  // Valid while typing: the value as it stands now (nothing: the field is empty).
  void value_typed(std::optional<double> stored, const QString& text);
  // Enter, Tab, or leaving the field, when something changed and it is no fault.
  void value_accepted(std::optional<double> stored, const QString& text);
  void understood_changed();
  void focus_gained();

 protected:
  void keyPressEvent(QKeyEvent* event) override;
  void focusInEvent(QFocusEvent* event) override;
  void focusOutEvent(QFocusEvent* event) override;

 private:
  void read();
  bool is_bare_fraction() const;
  void mark_fault(const QString& fault);

  Quantity quantity_;
  UnitSystem units_;
  bool optional_ = true;
  std::optional<double> stored_;
  QString fault_, outside_fault_, understood_;
};

}  // namespace pecorra
