#include "app/cutters/cutter_form.h"

#include <QCompleter>

#include "app/look/look.h"
#include "core/cutter/kinds.h"
#include "core/quantity/print.h"
#include "shop/words.h"

namespace pecorra {
namespace {

constexpr const char* stickout_key = "stickout_mm";
constexpr const char* holder_key = "holder";
constexpr const char* library_key = "library";

void colour(QLabel* label, const QColor& colour) {
  QPalette palette = label->palette();
  palette.setColor(QPalette::WindowText, colour);
  label->setPalette(palette);
}

}  // namespace

CutterForm::CutterForm(Workspace& workspace, QWidget* parent) : QWidget(parent), workspace_(workspace), grid_(new QGridLayout(this)) {
  grid_->setContentsMargins(0, 4, 8, 8);
  grid_->setHorizontalSpacing(8);
  grid_->setVerticalSpacing(4);
  grid_->setColumnMinimumWidth(0, 104);
  grid_->setColumnMinimumWidth(1, 48);
  grid_->setColumnStretch(3, 1);
  connect(&workspace_, &Workspace::data_changed, this, &CutterForm::refresh);
  connect(&workspace_, &Workspace::context_changed, this, &CutterForm::refresh);
  connect(&Look::get(), &Look::changed, this, [this] {
    const Cutter* cutter = workspace_.state().cutters.find(cutter_);
    kind_.reset();
    show_cutter(cutter);
  });
}

UnitSystem CutterForm::units() const {
  const Cutter* cutter = workspace_.state().cutters.find(cutter_);
  return cutter ? cutter->unit : UnitSystem::metric;
}

void CutterForm::show_cutter(const Cutter* cutter) {
  const Id id = cutter ? cutter->id : Id{};
  if (id == cutter_ && (!cutter || kind_ == cutter->kind)) return refresh();
  // What was still being typed belongs to the cutter before.
  if (QWidget* focus = focusWidget(); focus && focus->hasFocus()) focus->clearFocus();
  cutter_ = id;
  setVisible(cutter != nullptr);
  if (cutter) build(cutter->kind);
  refresh();
}

void CutterForm::heading(const QString& text) {
  auto* label = new QLabel(text);
  label->setFont(Look::get().text(13, true));
  colour(label, dyes().walnut);
  grid_->addWidget(label, grid_->rowCount(), 0, 1, 4);
}

CutterForm::Row& CutterForm::add_row(const QString& key, const QString& label, const QString& symbol, const QString& help) {
  const int row = grid_->rowCount();
  auto* name = new QLabel(label);
  name->setToolTip(help);
  auto* sign = new QLabel(symbol);
  sign->setFont(Look::get().text(11));
  colour(sign, dyes().quiet);
  auto* note = new QLabel;
  note->setFont(Look::get().text(11));
  note->setWordWrap(true);
  note->setObjectName(QStringLiteral("note_") + key);
  grid_->addWidget(name, row, 0);
  grid_->addWidget(sign, row, 1);
  grid_->addWidget(note, row, 3);
  rows_.push_back({key, false, nullptr, nullptr, nullptr, note});
  return rows_.back();
}

void CutterForm::add_number(const Property<Cutter>& property) {
  Row& row = add_row(text_of(property.key), text_of(property.label), text_of(property.symbol), text_of(property.help));
  row.edit = new QuantityEdit(property.quantity, units());
  row.edit->setObjectName(QStringLiteral("field_") + row.key);
  row.edit->setFixedWidth(104);
  row.edit->setAccessibleName(text_of(property.label));
  grid_->addWidget(row.edit, grid_->rowCount() - 1, 2);
  const QString key = row.key;
  connect(row.edit, &QuantityEdit::value_accepted, this, [this, key](std::optional<double> stored, const QString& text) { accept_number(key, stored, text); });
  connect(row.edit, &QuantityEdit::value_typed, this, [this, key](std::optional<double> stored, const QString&) {
    const Cutter* cutter = workspace_.state().cutters.find(cutter_);
    if (!cutter) return;
    Cutter copy = *cutter;
    const Property<Cutter>& p = *find_property<Cutter>(key.toStdString());
    if (stored) p.set(copy, *stored);
    else p.set(copy, std::monostate{});
    const Assembly* assembly = workspace_.state().assembly_of(cutter_);
    emit previewed(copy, assembly ? assembly->stickout_mm : std::nullopt);
  });
  connect(row.edit, &QuantityEdit::focus_gained, this, [this, key] {
    focused_ = key;
    emit field_focused(key);
  });
  connect(row.edit, &QuantityEdit::understood_changed, this, &CutterForm::show_notes);
}

void CutterForm::add_text(const char* key) {
  const Property<Cutter>& property = *find_property<Cutter>(key);
  Row& row = add_row(text_of(property.key), text_of(property.label), {}, text_of(property.help));
  row.text = new QLineEdit;
  row.text->setObjectName(QStringLiteral("field_") + row.key);
  row.text->setAccessibleName(text_of(property.label));
  grid_->addWidget(row.text, grid_->rowCount() - 1, 1, 1, 3);
  QLineEdit* edit = row.text;
  connect(edit, &QLineEdit::editingFinished, this, [this, edit, key] {
    const Cutter* cutter = workspace_.state().cutters.find(cutter_);
    if (!cutter || filling_ || !edit->isModified()) return;
    edit->setModified(false);
    Cutter copy = *cutter;
    const Property<Cutter>& p = *find_property<Cutter>(key);
    p.set(copy, edit->text().trimmed().toStdString());
    commit(copy, tr("%1: %2").arg(text_of(p.label), edit->text().trimmed()));
  });
}

void CutterForm::add_choice(const char* key, bool optional) {
  const Property<Cutter>& property = *find_property<Cutter>(key);
  Row& row = add_row(text_of(property.key), text_of(property.label), {}, text_of(property.help));
  row.choice = new QComboBox;
  row.choice->setObjectName(QStringLiteral("field_") + row.key);
  row.choice->setAccessibleName(text_of(property.label));
  if (optional) row.choice->addItem(tr("not stated"), QString());
  for (const Choice& c : property.choices) row.choice->addItem(text_of(c.label), text_of(c.key));
  grid_->addWidget(row.choice, grid_->rowCount() - 1, 1, 1, 2);
  QComboBox* combo = row.choice;
  connect(combo, &QComboBox::activated, this, [this, combo, key] {
    const Cutter* cutter = workspace_.state().cutters.find(cutter_);
    if (!cutter || filling_) return;
    Cutter copy = *cutter;
    const Property<Cutter>& p = *find_property<Cutter>(key);
    const std::string picked = combo->currentData().toString().toStdString();
    if (picked.empty()) p.set(copy, std::monostate{});
    else p.set(copy, picked);
    commit(copy, tr("%1: %2").arg(text_of(p.label), combo->currentText()));
  });
}

void CutterForm::build(CutterKind kind) {
  kind_ = kind;
  rows_.clear();
  while (QLayoutItem* item = grid_->takeAt(0)) {
    if (item->widget()) {
      item->widget()->hide();
      item->widget()->deleteLater();
    }
    delete item;
  }
  heading(tr("Sizes"));
  for (const ParameterUse& use : declaration(kind).parameters) add_number(*find_property<Cutter>(use.key));
  add_choice("tool_material", true);
  add_text("coating");
  heading(tr("In its holder"));
  {
    Row& row = add_row(QString::fromLatin1(holder_key), tr("Holder"), {}, tr("What clamps the cutter"));
    row.of_assembly = true;
    row.choice = new QComboBox;
    row.choice->setObjectName(QStringLiteral("field_holder"));
    grid_->addWidget(row.choice, grid_->rowCount() - 1, 1, 1, 2);
    QComboBox* combo = row.choice;
    connect(combo, &QComboBox::activated, this, [this, combo] {
      const Assembly* assembly = workspace_.state().assembly_of(cutter_);
      if (!assembly || filling_) return;
      Assembly copy = *assembly;
      copy.holder = Id::parse(combo->currentData().toString().toStdString()).value_or(Id{});
      Change change;
      change.label = tr("Holder: %1").arg(combo->currentText());
      change.edit(*assembly, copy);
      workspace_.shop().apply(std::move(change));
    });
  }
  {
    const Property<Assembly>& property = *find_property<Assembly>(stickout_key);
    Row& row = add_row(QString::fromLatin1(stickout_key), text_of(property.label), text_of(property.symbol), text_of(property.help));
    row.of_assembly = true;
    row.edit = new QuantityEdit(Quantity::length, units());
    row.edit->setObjectName(QStringLiteral("field_stickout_mm"));
    row.edit->setFixedWidth(104);
    grid_->addWidget(row.edit, grid_->rowCount() - 1, 2);
    connect(row.edit, &QuantityEdit::value_accepted, this, &CutterForm::accept_stickout);
    connect(row.edit, &QuantityEdit::value_typed, this, [this](std::optional<double> stored, const QString&) {
      if (const Cutter* cutter = workspace_.state().cutters.find(cutter_)) emit previewed(*cutter, stored);
    });
    connect(row.edit, &QuantityEdit::focus_gained, this, [this] {
      focused_ = QString::fromLatin1(stickout_key);
      emit field_focused(focused_);
    });
    connect(row.edit, &QuantityEdit::understood_changed, this, &CutterForm::show_notes);
  }
  heading(tr("What it is"));
  add_text("name");
  add_number(*find_property<Cutter>("number"));
  {
    Row& row = add_row(QString::fromLatin1(library_key), tr("Library"), {}, tr("Where it is kept; moving gives it a free number"));
    row.choice = new QComboBox;
    row.choice->setObjectName(QStringLiteral("field_library"));
    grid_->addWidget(row.choice, grid_->rowCount() - 1, 1, 1, 2);
    QComboBox* combo = row.choice;
    connect(combo, &QComboBox::activated, this, [this, combo] {
      const Cutter* cutter = workspace_.state().cutters.find(cutter_);
      const auto library = Id::parse(combo->currentData().toString().toStdString());
      if (!cutter || !library || *library == cutter->library || filling_) return;
      Cutter copy = *cutter;
      copy.library = *library;
      if (workspace_.state().cutter_numbered(*library, copy.number)) copy.number = workspace_.state().free_number(*library);
      commit(copy, tr("Moved to %1 as number %2").arg(combo->currentText()).arg(copy.number));
    });
  }
  add_text("maker");
  add_text("series");
  add_text("order_code");
  add_choice("unit", false);
  add_text("notes");
  // Tab goes from field to field as they are measured.
  QWidget* before = nullptr;
  for (const Row& row : rows_) {
    QWidget* now = row.edit ? static_cast<QWidget*>(row.edit) : row.text ? static_cast<QWidget*>(row.text) : row.choice;
    if (before) setTabOrder(before, now);
    before = now;
  }
}

void CutterForm::refresh() {
  const Cutter* cutter = workspace_.state().cutters.find(cutter_);
  if (!cutter) return;
  if (kind_ != cutter->kind) build(cutter->kind);
  filling_ = true;
  const Assembly* assembly = workspace_.state().assembly_of(cutter_);
  for (Row& row : rows_) {
    const std::string key = row.key.toStdString();
    if (row.edit) row.edit->set_units(cutter->unit);
    if (row.key == QLatin1String(stickout_key)) {
      const auto typed = assembly ? assembly->typed.find(key) : std::map<std::string, std::string, std::less<>>::const_iterator{};
      row.edit->show_value(assembly ? assembly->stickout_mm : std::nullopt, assembly && typed != assembly->typed.end() ? QString::fromStdString(typed->second) : QString());
      row.edit->setEnabled(assembly != nullptr);
    } else if (row.key == QLatin1String(holder_key)) {
      row.choice->clear();
      row.choice->addItem(tr("none"), QString());
      for (const Holder& holder : workspace_.state().holders) row.choice->addItem(QString::fromStdString(holder.name), QString::fromStdString(holder.id.text()));
      row.choice->setCurrentIndex(std::max(0, row.choice->findData(assembly ? QString::fromStdString(assembly->holder.text()) : QString())));
      row.choice->setEnabled(assembly != nullptr);
    } else if (row.key == QLatin1String(library_key)) {
      row.choice->clear();
      for (const Library& library : workspace_.state().libraries) row.choice->addItem(QString::fromStdString(library.name), QString::fromStdString(library.id.text()));
      row.choice->setCurrentIndex(row.choice->findData(QString::fromStdString(cutter->library.text())));
    } else if (row.edit) {
      const auto typed = cutter->typed.find(key);
      row.edit->show_value(number_of(*cutter, *find_property<Cutter>(key)), typed != cutter->typed.end() ? QString::fromStdString(typed->second) : QString());
    } else {
      const Value value = find_property<Cutter>(key)->get(*cutter);
      const std::string* text = std::get_if<std::string>(&value);
      const QString shown_text = text ? QString::fromStdString(*text) : QString();
      if (row.text && !(row.text->hasFocus() && row.text->isModified()) && row.text->text() != shown_text) row.text->setText(shown_text);
      if (row.choice) row.choice->setCurrentIndex(std::max(0, row.choice->findData(shown_text)));
    }
  }
  filling_ = false;
  show_notes();
}

void CutterForm::show_notes() {
  const Cutter* cutter = workspace_.state().cutters.find(cutter_);
  if (!cutter || filling_) return;
  std::vector<Message> messages = check_cutter(*cutter);
  if (const Assembly* assembly = workspace_.state().assembly_of(cutter_))
    for (Message& m : check_assembly(*cutter, workspace_.state().holders.find(assembly->holder), *assembly)) messages.push_back(std::move(m));
  for (const Cutter& other : workspace_.state().cutters)
    if (other.id != cutter->id && other.library == cutter->library && other.number == cutter->number)
      messages.push_back({Severity::error, "number_twice", "number", {{"name", other.name}}});
  for (Row& row : rows_) {
    const Message* message = nullptr;
    for (const Message& m : messages)
      if (m.property == row.key.toStdString() && (!message || m.severity > message->severity)) message = &m;
    QString outside;
    if (row.edit && row.edit->is_fault()) {
      row.note->setText(row.edit->fault());
      colour(row.note, dyes().madder);
    } else if (message) {
      row.note->setText(sentence(*message, cutter->unit));
      const bool error = message->severity == Severity::error;
      colour(row.note, error ? dyes().madder : dyes().weld_text);
      if (error) outside = row.note->text();
    } else {
      const Property<Cutter>* property = row.of_assembly ? nullptr : find_property<Cutter>(row.key.toStdString());
      const QString understood = row.edit ? row.edit->understood() : QString();
      const Quantity quantity = row.of_assembly ? Quantity::length : property ? property->quantity : Quantity::text;
      row.note->setText(!understood.isEmpty() ? understood : row.edit && !row.edit->text().isEmpty() ? QString::fromStdString(unit_text(quantity, cutter->unit)) : QString());
      colour(row.note, understood.isEmpty() ? dyes().quiet : dyes().woad);
    }
    if (row.edit) row.edit->set_outside_fault(outside);
  }
}

void CutterForm::accept_number(const QString& key, std::optional<double> stored, const QString& text) {
  const Cutter* cutter = workspace_.state().cutters.find(cutter_);
  if (!cutter || filling_) return;
  const Property<Cutter>& property = *find_property<Cutter>(key.toStdString());
  Cutter copy = *cutter;
  const auto before = number_of(copy, property);
  if (stored) property.set(copy, *stored);
  else property.set(copy, std::monostate{});
  const std::string plain_text = stored ? shown(*stored, property.quantity, copy.unit) : std::string();
  if (stored && text.toStdString() != plain_text) copy.typed[key.toStdString()] = text.toStdString();
  else copy.typed.erase(key.toStdString());
  auto said = [&](const std::optional<double>& v) { return v ? quantity_text(*v, property.quantity, copy.unit) : tr("not given"); };
  QString label = tr("%1 %2 → %3").arg(text_of(property.label), said(before), said(stored));
  if (has_error(check_cutter(copy))) label += tr(", kept as a draft");
  commit(copy, label);
}

void CutterForm::commit(const Cutter& changed, const QString& label) {
  const Cutter* cutter = workspace_.state().cutters.find(cutter_);
  if (!cutter) return;
  Cutter copy = changed;
  // A name that was the suggested one follows the sizes.
  if (cutter->name == suggested_name(*cutter) && copy.name == cutter->name) copy.name = suggested_name(copy);
  if (copy.name.empty()) copy.name = suggested_name(copy);
  Change change;
  change.label = label;
  change.edit(*cutter, copy);
  workspace_.shop().apply(std::move(change));
}

void CutterForm::accept_stickout(std::optional<double> stored, const QString& text) {
  const Assembly* assembly = workspace_.state().assembly_of(cutter_);
  if (!assembly || filling_) return;
  Assembly copy = *assembly;
  copy.stickout_mm = stored;
  if (stored && text.toStdString() != shown(*stored, Quantity::length, units())) copy.typed[stickout_key] = text.toStdString();
  else copy.typed.erase(stickout_key);
  Change change;
  change.label = stored ? tr("Stick-out: %1").arg(quantity_text(*stored, Quantity::length, units())) : tr("Stick-out not given");
  change.edit(*assembly, copy);
  workspace_.shop().apply(std::move(change));
}

void CutterForm::focus_field(const QString& key) {
  for (const Row& row : rows_)
    if (row.key == key && row.edit) {
      row.edit->setFocus();
      row.edit->selectAll();
    }
}

}  // namespace pecorra
