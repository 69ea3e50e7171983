// A form of labelled fields made from property declarations: label, symbol, field, and beside it what was understood or
// what is wrong. It knows no objects; its user fills it and turns accepted values into changes.
#pragma once

#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QWidget>
#include <vector>

#include "app/widgets/quantity_edit.h"
#include "core/base/message.h"
#include "core/base/property.h"
#include "shop/words.h"

namespace pecorra {

struct FieldChoice {
  QString key, label;
  QString why_not = {};  // it cannot be chosen; this says why
};

struct FormField {
  QString key, label, symbol, help;
  Quantity quantity = Quantity::text;
  std::vector<FieldChoice> choices;  // makes it a choice
  bool wide = false;                 // a text that wants a line of its own
  bool lines = false;                // a text of several lines
};

// `unstated` names the choice of nothing; empty: one of the choices must stand.
template <class T>
FormField form_field(const Property<T>& property, const QString& unstated = {}) {
  FormField field{text_of(property.key),     label_text(property.label), label_text(property.symbol),
                  label_text(property.help), property.quantity,          {}};
  if (!unstated.isEmpty()) field.choices.push_back({QString(), unstated});
  for (const Choice& c : property.choices) field.choices.push_back({text_of(c.key), label_text(c.label)});
  if (property.quantity == Quantity::flag)
    field.choices = {{QStringLiteral("true"), QObject::tr("yes")}, {QStringLiteral("false"), QObject::tr("no")}};
  return field;
}

class PropertyForm : public QWidget {
  Q_OBJECT
 public:
  explicit PropertyForm(QWidget* parent = nullptr);

  void clear();
  void heading(const QString& text);
  // A heading that shows or hides what is added below it; remembered under `key` in the settings. Hidden fields come
  // into sight when they are focused or in error.
  void folding_heading(const QString& text, const QString& key);
  void add(const FormField& field);
  // Across the form, below what is there; the form owns it and lets it go when it is cleared.
  void add_widget(QWidget* widget);
  void set_units(UnitSystem units);
  bool has(const QString& key) const { return find(key) != nullptr; }
  std::vector<QString> keys() const;

  // `typed`: the text that the value was typed as; empty: it is printed.
  void fill(const QString& key, const Value& value, const QString& typed = {});
  template <class T>
  void fill_from(const T& object) {
    for (const Property<T>& property : properties<T>()) {
      if (!has(text_of(property.key))) continue;
      QString text;
      if constexpr (requires { object.typed; })
        if (const auto found = object.typed.find(property.key); found != object.typed.end())
          text = QString::fromStdString(found->second);
      fill(text_of(property.key), property.get(object), text);
    }
  }
  void set_choices(const QString& key, const std::vector<FieldChoice>& choices);
  // Several objects are edited, and their values differ: none is shown until one is typed.
  void set_various(const QString& key, bool various);
  void set_shown(const QString& key, bool shown);
  // Why it cannot be changed here; empty: it can.
  void set_locked(const QString& key, const QString& why);
  // Offered while a text is typed.
  void set_suggestions(const QString& key, const QStringList& texts);
  // The most severe message of each field stands beside it; errors frame the field.
  void show_messages(std::vector<Message> messages);
  void focus_field(const QString& key);
  // Accepts or restores unfinished text, before the fields are used for something else.
  void finish_typing();

 signals:
  void accepted(const QString& key, const pecorra::Value& value, const QString& typed);
  void being_typed(const QString& key, const pecorra::Value& value);
  void field_focused(const QString& key);
  // Enter in the last field, or Ctrl+Enter in any.
  void finished();

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  struct Section {
    QPushButton* head = nullptr;  // of a section that folds
    QString title, key;
    bool folded = false;
    std::vector<QWidget*> widgets;  // besides the fields
  };
  struct Row {
    QString key;
    Quantity quantity;
    QuantityEdit* edit = nullptr;
    FieldEdit* text = nullptr;
    QPlainTextEdit* lines = nullptr;
    QComboBox* choice = nullptr;
    QString help;
    QLabel* note = nullptr;   // beside it: unit, or what was understood
    QLabel* fault = nullptr;  // below it: what is wrong or odd
    QLabel* name = nullptr;
    QLabel* sign = nullptr;
    std::size_t section = 0;
    bool left_out = false;
    QWidget* widget() const {
      return edit    ? static_cast<QWidget*>(edit)
             : text  ? static_cast<QWidget*>(text)
             : lines ? static_cast<QWidget*>(lines)
                     : choice;
    }
  };
  const Row* find(const QString& key) const;
  void refresh_notes();
  void fold(std::size_t section, bool folded);
  void show_row(const Row& row);
  void focus_next(QObject* from);
  void add_lines(Row& row, int at);
  void accept_lines(const Row& row);

  QGridLayout* grid_;
  std::vector<Section> sections_{1};
  std::vector<Row> rows_;
  std::vector<Message> messages_;
  UnitSystem units_ = UnitSystem::metric;
  bool filling_ = false;
};

// Takes everything out of a layout; its widgets go in the next quiet moment.
void clear_layout(QLayout& layout);

// A small heading in heading.
QLabel* section_heading(const QString& text, double pixels = 13);

}  // namespace pecorra
