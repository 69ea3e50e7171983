#include "app/cutters/cutter_form.h"

#include <QVBoxLayout>
#include <set>

#include "app/look/look.h"
#include "core/cutter/guesses.h"
#include "core/cutter/kinds.h"
#include "core/cutter/kinds/threads.h"
#include "core/quantity/print.h"
#include "shop/cutter_edit.h"
#include "shop/edit.h"

namespace pecorra {
namespace {

const QString library_key = QStringLiteral("library"), insert_key = QStringLiteral("insert"),
              material_key = QStringLiteral("tool_material");
const std::string own_prefix = "own ";  // before the name of a tool material that the shop has named

std::vector<ShankSection> sections_of(const NumberTable::Rows& rows) {
  std::vector<ShankSection> sections;
  for (const auto& row : rows) sections.push_back({row[0], row[1], row[2]});
  return sections;
}

}  // namespace

CutterForm::CutterForm(Workspace& workspace, QWidget* parent)
    : LazyWidget(parent),
      workspace_(workspace),
      form_(new PropertyForm),
      like_(new LikePanel(workspace)),
      look_at_(new LookAtPanel(workspace)),
      outline_(new OutlinePanel(workspace)) {
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->addWidget(like_);
  layout->addWidget(look_at_);
  layout->addWidget(outline_);
  layout->addWidget(form_);
  connect(&workspace_, &Workspace::data_changed, this, &CutterForm::update_when_seen);
  connect(outline_, &OutlinePanel::previewed, this, &CutterForm::previewed);
  connect(outline_, &OutlinePanel::file_wanted, this, &CutterForm::outline_wanted);
  connect(form_, &PropertyForm::accepted, this, &CutterForm::accept);
  connect(form_, &PropertyForm::being_typed, this, &CutterForm::preview);
  connect(form_, &PropertyForm::field_focused, this, &CutterForm::field_focused);
  connect(form_, &PropertyForm::finished, this, &CutterForm::finished);
}

void CutterForm::show_cutter(const Cutter* cutter) {
  const Id id = cutter ? cutter->id : Id{};
  if (id != cutter_) {
    form_->finish_typing();
    cutter_ = id;
    setVisible(cutter != nullptr);
    kind_.reset();
  }
  update_when_seen();
}

void CutterForm::build(CutterKind kind) {
  kind_ = kind;
  sections_ = nullptr;  // goes with the form's content
  form_->clear();
  const auto add = [this](const char* key) {
    const Property<Cutter>& property = *find_property<Cutter>(key);
    const bool optional_choice =
        !property.choices.empty() && std::string_view(key) != "rotation" && std::string_view(key) != "unit";
    form_->add(form_field(property, optional_choice ? tr("not stated") : QString()));
  };
  // What a data sheet states comes first, in its order; the rest folds.
  const bool cuts = declaration(kind).operations != 0;
  std::vector<const char*> further;
  for (const ParameterUse& use : declaration(kind).parameters) {
    if (use.required || use.key == "thread" || use.key == "reach_mm") add(use.key.data());
    else further.push_back(use.key.data());
  }
  const bool mostly_inserts = declaration(kind).form == CuttingForm::face;
  if (mostly_inserts) add("insert");
  for (const char* key : {"tool_material", "coating", "maker", "series", "order_code", "number", "library", "name"})
    add(key);
  form_->folding_heading(tr("More sizes"), QStringLiteral("sizes"));
  for (const char* key : further) add(key);
  if (declaration(kind).silhouette && kind != CutterKind::drag_knife) build_sections();
  form_->folding_heading(tr("Edges and shank"), QStringLiteral("edges"));
  if (takes_inserts(kind) && !mostly_inserts) add("insert");
  add("quality");
  if (cuts)
    for (const char* key : {"edge_direction", "rotation", "through_coolant", "centre_cut", "web", "max_ramp_deg",
                            "runout_mm", "made_for"})
      add(key);
  add("shank_form");
  form_->folding_heading(tr("Details"), QStringLiteral("details"));
  for (const char* key : {"message", "notes", "link", "price", "unit"}) add(key);
  if (cuts)
    for (const char* key : {"no_maker_tables", "no_factors"}) add(key);
  form_->folding_heading(tr("Stock"), QStringLiteral("stock"));
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
  for (const Library& library : workspace_.state().libraries)
    libraries.push_back({text_of(library.id.text()), text_of(library.name)});
  form_->set_choices(library_key, libraries);
  fill_choices(*c);
  form_->fill_from(*c);
  if (!c->own_material.empty()) form_->fill(material_key, own_prefix + c->own_material);
  if (sections_) {
    NumberTable::Rows rows;
    for (const ShankSection& section : c->shank_sections)
      rows.push_back({section.length_mm, section.lower_mm, section.upper_mm});
    sections_->show_rows(rows, c->typed, c->unit);
  }

  std::vector<Message> messages = messages_of(*c);
  like_->show_cutter(c);
  look_at_->show_cutter(c);
  outline_->show_cutter(c);
  QString section_fault;
  for (const Message& m : messages)
    if (m.property == "shank_sections" && section_fault.isEmpty()) section_fault = sentence(m, c->unit);
  if (sections_) sections_->say(section_fault);
  form_->show_messages(std::move(messages));
}

std::vector<Message> CutterForm::messages_of(const Cutter& c) const {
  std::vector<Message> messages = check_cutter(c);
  std::erase_if(messages, [&](const Message& m) { return m.severity == Severity::warning && !is_open(c, m); });
  const ShopState& state = workspace_.state();
  for (const Cutter& other : state.cutters)
    if (other.id != c.id && other.library == c.library && other.number == c.number)
      messages.push_back({Severity::error,
                          "number_twice",
                          "number",
                          {{"name", other.name}, {"free", static_cast<double>(state.free_number(c.library))}}});
  for (const std::string& key : c.guesses) messages.push_back({Severity::note, "guessed", key, {}});
  return messages;
}

Cutter CutterForm::with(const Cutter& c, const QString& key, const Value& value, const QString& typed) const {
  Cutter after = edited(c, *find_property<Cutter>(key.toStdString()), value, typed.toStdString(), c.unit);
  if (key == QLatin1String("thread")) follow_thread(after);
  after.guesses.erase(key.toStdString());
  return follow_guesses(after);
}

void CutterForm::preview(const QString& key, const Value& value) {
  const Cutter* c = cutter();
  if (!c) return;
  const Cutter tried = with(*c, key, value, {});
  // Guesses are seen to follow.
  for (const std::string& guess : tried.guesses)
    if (const Property<Cutter>* property = find_property<Cutter>(guess))
      form_->fill(text_of(guess), property->get(tried));
  emit previewed(tried);
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
  if (key == insert_key) {
    const std::string* text = std::get_if<std::string>(&value);
    return take_insert(text ? Id::parse(*text).value_or(Id{}) : Id{}, typed);
  }
  if (key == material_key) {
    const std::string* text = std::get_if<std::string>(&value);
    return take_material(text ? *text : std::string(), typed);
  }
  const Property<Cutter>& property = *find_property<Cutter>(key.toStdString());
  Cutter after = with(*c, key, value, typed);
  if (after.number != c->number) {
    // A number belongs to one cutter of its library: what was typed stays in the field, with who has it.
    const Cutter* holder = workspace_.state().cutter_numbered(c->library, after.number);
    if (holder && holder->id != c->id) return form_->show_messages(messages_of(after));
  }
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

void CutterForm::take_insert(const Id& id, const QString& name) {
  const Cutter* c = cutter();
  if (id == c->insert) return;
  const Insert* insert = workspace_.state().inserts.find(id);
  Cutter after = *c;
  after.insert = {};
  if (insert) after = fitted(*c, *insert);
  commit(*c, after,
         insert ? tr("%1: insert %2").arg(text_of(c->name), name) : tr("%1: no insert").arg(text_of(c->name)));
}

void CutterForm::take_material(const std::string& key, const QString& name) {
  const Cutter* c = cutter();
  Cutter after = *c;
  after.own_material.clear();
  if (key.starts_with(own_prefix)) {
    after.own_material = key.substr(own_prefix.size());
    for (const EdgeMaterial& m : workspace_.state().edge_materials)
      if (m.part == EdgePart::tool_material && m.name == after.own_material) after.tool_material = m.like;
  } else {
    after.tool_material = choice_from_key<ToolMaterial>(key);
  }
  after.guesses.erase("tool_material");
  commit(*c, after, tr("%1: tool material %2").arg(text_of(c->name), name));
}

// The lists that the shop itself keeps.
void CutterForm::fill_choices(const Cutter& c) {
  const ShopState& state = workspace_.state();
  std::vector<FieldChoice> materials = form_field(*find_property<Cutter>("tool_material"), tr("not stated")).choices;
  bool own_known = c.own_material.empty();
  const auto add_own = [&](const std::string& name) {
    materials.push_back({text_of(own_prefix + name), text_of(name)});
  };
  std::set<QString> coatings;
  for (const EdgeMaterial& m : state.edge_materials) {
    if (m.part == EdgePart::coating) coatings.insert(text_of(m.name));
    else add_own(m.name);
    own_known = own_known || (m.part == EdgePart::tool_material && m.name == c.own_material);
  }
  if (!own_known) add_own(c.own_material);
  form_->set_choices(material_key, materials);
  for (const Cutter& other : state.cutters)
    if (!other.coating.empty()) coatings.insert(text_of(other.coating));
  form_->set_suggestions(QStringLiteral("coating"), QStringList(coatings.begin(), coatings.end()));
  const Insert* carried = state.inserts.find(c.insert);
  if (form_->has(insert_key)) {
    std::vector<FieldChoice> inserts{{text_of(Id{}.text()), tr("none")}};
    for (const Insert& i : state.inserts)
      if (!i.retired || i.id == c.insert)
        inserts.push_back({text_of(i.id.text()), text_of(i.name + (i.grade.empty() ? "" : " · " + i.grade))});
    form_->set_choices(insert_key, inserts);
  }
  for (const std::string_view key : fitted_properties()) {
    const Property<Insert>* says = find_property<Insert>(key);
    const Value value = carried && says ? says->get(*carried) : Value(std::monostate{});
    const std::string* text = std::get_if<std::string>(&value);
    const bool decides = carried && !std::holds_alternative<std::monostate>(value) && !(text && text->empty());
    form_->set_locked(text_of(key),
                      decides ? tr("From the insert, %1; change it there").arg(text_of(carried->name)) : QString());
  }
}

void CutterForm::build_sections() {
  sections_ = new NumberTable(tr("Sections of the shank"), tr("Section"), "shank_sections",
                              {tr("Length"), tr("Lower Ø"), tr("Upper Ø")});
  form_->add_widget(sections_);
  sections_->set_check([this](const NumberTable::Rows& rows) {
    const Cutter* c = cutter();
    if (!c) return QString();
    for (const auto& row : rows)
      for (const double mm : row)
        if (!(mm > 0)) return tr("Lengths and diameters must be greater than 0");
    return QString();
  });
  sections_->set_proposal([this](const NumberTable::Rows& rows, std::size_t place) -> std::vector<double> {
    const Cutter* c = cutter();
    const double shank = c ? c->shank_diameter_mm.value_or(10) : 10,
                 neck = c ? c->neck_diameter_mm.value_or(shank) : shank;
    return {5, place > 0 ? rows[place - 1][2] : neck, shank};
  });
  connect(sections_, &NumberTable::accepted, this,
          [this](const NumberTable::Rows& rows, const NumberTable::Typed& typed, const QString& what) {
            const Cutter* c = cutter();
            if (!c) return;
            Cutter after = *c;
            after.shank_sections = sections_of(rows);
            after.typed = typed;
            commit(*c, after, has_error(check_cutter(after)) ? what + tr(", kept as a draft") : what);
          });
}

void CutterForm::commit(const Cutter& before, Cutter after, const QString& label) {
  follow_name(workspace_.state(), before, after);
  Change change;
  change.label = label;
  change.edit(before, after);
  follow_in_holder(workspace_.state(), after, change);
  workspace_.shop().apply(std::move(change));
}

}  // namespace pecorra

#include "moc_cutter_form.cpp"
