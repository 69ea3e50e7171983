#include "app/cutters/cutter_form.h"

#include <QVBoxLayout>

#include "app/look/look.h"
#include "core/cutter/kinds.h"
#include "core/cutter/kinds/threads.h"
#include "core/quantity/print.h"
#include "shop/cutter_edit.h"
#include "shop/edit.h"

namespace pecorra {
namespace {

const QString library_key = QStringLiteral("library");

}  // namespace

CutterForm::CutterForm(Workspace& workspace, QWidget* parent) : LazyWidget(parent), workspace_(workspace), form_(new PropertyForm), look_at_(new LookAtPanel(workspace)), outline_(new OutlinePanel(workspace)) {
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->addWidget(look_at_);
  layout->addWidget(outline_);
  layout->addWidget(form_);
  connect(&workspace_, &Workspace::data_changed, this, &CutterForm::update_when_seen);
  connect(outline_, &OutlinePanel::previewed, this, &CutterForm::previewed);
  connect(outline_, &OutlinePanel::file_wanted, this, &CutterForm::outline_wanted);
  connect(form_, &PropertyForm::accepted, this, &CutterForm::accept);
  connect(form_, &PropertyForm::being_typed, this, &CutterForm::preview);
  connect(form_, &PropertyForm::field_focused, this, &CutterForm::field_focused);
}

void CutterForm::start_fresh(const Id& id) {
  fresh_ = id;
  typed_fresh_.clear();
}

void CutterForm::show_cutter(const Cutter* cutter) {
  const Id id = cutter ? cutter->id : Id{};
  if (id != cutter_) {
    form_->finish_typing();
    cutter_ = id;
    if (fresh_ != id) fresh_ = {};
    setVisible(cutter != nullptr);
    kind_.reset();
  }
  update_when_seen();
}

void CutterForm::build(CutterKind kind) {
  kind_ = kind;
  form_->clear();
  form_->heading(tr("Sizes"));
  for (const ParameterUse& use : declaration(kind).parameters) {
    const Property<Cutter>& property = *find_property<Cutter>(use.key);
    form_->add(form_field(property, property.choices.empty() ? QString() : tr("not stated")));
  }
  const auto add = [this](const char* key) {
    const Property<Cutter>& property = *find_property<Cutter>(key);
    const bool optional_choice = !property.choices.empty() && std::string_view(key) != "rotation" && std::string_view(key) != "unit";
    form_->add(form_field(property, optional_choice ? tr("not stated") : QString()));
  };
  form_->heading(tr("Edges and shank"));
  for (const char* key : {"tool_material", "coating"}) add(key);
  if (declaration(kind).operations != 0)
    for (const char* key : {"edge_direction", "rotation", "through_coolant", "max_ramp_deg", "runout_mm"}) add(key);
  add("shank_form");
  form_->heading(tr("What it is"));
  for (const char* key : {"name", "number", "library", "maker", "series", "order_code", "link", "price", "message", "unit", "notes"}) add(key);
  form_->heading(tr("What the shop has"));
  for (const char* key : {"in_stock", "wanted", "on_order", "retired"}) add(key);
}

void CutterForm::refresh() {
  const Cutter* c = cutter();
  if (!c) return;
  if (kind_ != c->kind) {
    build(c->kind);
    // Measured now: the form is often shown in the same breath.
    form_->layout()->activate();
    layout()->activate();
    updateGeometry();
  }
  form_->set_units(c->unit);
  std::vector<FieldChoice> libraries;
  for (const Library& library : workspace_.state().libraries) libraries.push_back({text_of(library.id.text()), text_of(library.name)});
  form_->set_choices(library_key, libraries);
  form_->fill_from(*c);

  std::vector<Message> messages = check_cutter(*c);
  std::erase_if(messages, [c](const Message& m) { return m.severity == Severity::warning && !is_open(*c, m); });
  look_at_->show_cutter(c);
  outline_->show_cutter(c);
  for (const Cutter& other : workspace_.state().cutters)
    if (other.id != c->id && other.library == c->library && other.number == c->number)
      messages.push_back({Severity::error, "number_twice", "number", {{"name", other.name}}});
  for (const std::string& key : c->guesses) messages.push_back({Severity::note, "guessed", key, {}});
  form_->show_messages(std::move(messages));
}

Cutter CutterForm::with(const Cutter& c, const QString& key, const Value& value, const QString& typed) const {
  Cutter after = edited(c, *find_property<Cutter>(key.toStdString()), value, typed.toStdString(), c.unit);
  if (key == QLatin1String("thread")) follow_thread(after);
  if (fresh_ == cutter_ && key == QLatin1String("diameter_mm") && c.diameter_mm && after.diameter_mm)
    after = follow_diameter(after, *c.diameter_mm, *after.diameter_mm, typed_fresh_);
  return after;
}

void CutterForm::preview(const QString& key, const Value& value) {
  if (const Cutter* c = cutter()) emit previewed(with(*c, key, value, {}));
}

void CutterForm::drag(const QString& key, double value_mm, bool done) {
  const Cutter* c = cutter();
  if (!c) return;
  if (done) accept(key, value_mm, text_of(shown(value_mm, Quantity::length, c->unit)));
  else preview(key, value_mm);
}

void CutterForm::accept(const QString& key, const Value& value, const QString& typed) {
  const Cutter* c = cutter();
  if (!c) return;
  if (key == library_key) {
    const std::string* text = std::get_if<std::string>(&value);
    const auto id = text ? Id::parse(*text) : std::nullopt;
    if (id && *id != c->library) move_to(*id, typed);
    return;
  }
  const Property<Cutter>& property = *find_property<Cutter>(key.toStdString());
  Cutter after = with(*c, key, value, typed);
  after.guesses.erase(key.toStdString());
  if (fresh_ == cutter_) typed_fresh_.push_back(key.toStdString());
  QString label = edit_label(*c, after, property, c->unit);
  if (has_error(check_cutter(after))) label += tr(", kept as a draft");
  commit(*c, after, label);
}

void CutterForm::move_to(const Id& library, const QString& name) {
  const Cutter* c = cutter();
  Cutter copy = *c;
  copy.library = library;
  if (workspace_.state().cutter_numbered(library, copy.number)) copy.number = workspace_.state().free_number(library);
  commit(*c, copy, tr("Moved to %1 as number %2").arg(name).arg(copy.number));
}

void CutterForm::commit(const Cutter& before, Cutter after, const QString& label) {
  follow_name(workspace_.state(), before, after);
  workspace_.shop().edit(before, after, label);
}

}  // namespace pecorra
