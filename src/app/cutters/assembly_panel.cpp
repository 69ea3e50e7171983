#include "app/cutters/assembly_panel.h"

#include <QHBoxLayout>
#include <QRegularExpression>
#include <QVBoxLayout>
#include <cmath>

#include "app/look/look.h"
#include "core/cutter/kinds.h"
#include "core/quantity/print.h"
#include "shop/edit.h"

namespace pecorra {

QString assembly_name(const ShopState& state, const Assembly& a, UnitSystem units) {
  if (!a.name.empty()) return text_of(a.name);
  const Holder* holder = state.holders.find(a.holder);
  const QString held = holder ? text_of(holder->name) : QObject::tr("no holder");
  const auto out = stickout_of(a);
  return out ? QStringLiteral("%1 · %2").arg(held, text_of(shown(*out, Quantity::length, units))) : held;
}

AssemblyPanel::AssemblyPanel(Workspace& workspace, QWidget* parent) : LazyWidget(parent), workspace_(workspace) {
  connect(&workspace_, &Workspace::data_changed, this, &AssemblyPanel::update_when_seen);
}

// When first shown: its fields would slow every start.
void AssemblyPanel::build() {
  names_ = new SwitchRow({});
  add_ = new QPushButton(tr("Add"));
  remove_ = new QPushButton(tr("Remove"));
  form_ = new PropertyForm;
  wall_form_ = new PropertyForm;
  figures_ = new QLabel;
  clearance_ = new QLabel;
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(4);
  auto* row = new QHBoxLayout;
  names_->setObjectName(QStringLiteral("assemblies"));
  add_->setObjectName(QStringLiteral("add_assembly"));
  remove_->setObjectName(QStringLiteral("remove_assembly"));
  add_->setFlat(true);
  remove_->setFlat(true);
  row->addWidget(names_, 1);
  row->addWidget(add_);
  row->addWidget(remove_);
  layout->addLayout(row);
  for (const Property<Assembly>& property : properties<Assembly>())
    if (property.key != "cutter" && !property.key.ends_with("_guessed")) form_->add(form_field(property));
  for (QLabel* label : {figures_, clearance_}) {
    label->setWordWrap(true);
    label->setFont(Look::get().text(12));
  }
  figures_->setObjectName(QStringLiteral("assembly_figures"));
  clearance_->setObjectName(QStringLiteral("clearance"));
  layout->addWidget(figures_);
  layout->addWidget(section_heading(tr("Beside a wall, above a floor")));
  wall_form_->add({QStringLiteral("wall_height_mm"),
                   tr("Wall height"),
                   {},
                   tr("Height of the wall above the floor the tip is on"),
                   Quantity::length,
                   {}});
  wall_form_->add(
      {QStringLiteral("wall_draft_deg"), tr("Draft"), {}, tr("Draft angle of the wall"), Quantity::angle, {}});
  layout->addWidget(wall_form_);
  layout->addWidget(clearance_);
  layout->addWidget(section_heading(tr("In its holder")));
  layout->addWidget(form_);
  layout->addStretch(1);

  connect(add_, &QPushButton::clicked, this, &AssemblyPanel::add_assembly);
  connect(remove_, &QPushButton::clicked, this, &AssemblyPanel::remove_assembly);
  connect(names_, &SwitchRow::chosen, this, [this](int i) {
    const auto all = assemblies();
    if (i < 0 || static_cast<std::size_t>(i) >= all.size()) return;
    form_->finish_typing();
    shown_ = all[static_cast<std::size_t>(i)]->id;
    refresh();
    emit shown_changed();
  });
  connect(form_, &PropertyForm::accepted, this, &AssemblyPanel::accept);
  connect(form_, &PropertyForm::field_focused, this, &AssemblyPanel::field_focused);
  connect(form_, &PropertyForm::being_typed, this, [this](const QString& key, const Value& value) {
    const Assembly* a = assembly();
    if (!a) return;
    Assembly tried = *a;
    find_property<Assembly>(key.toStdString())->set(tried, value);
    emit previewed(tried);
  });
  connect(wall_form_, &PropertyForm::accepted, this,
          [this](const QString& key, const Value& value, const QString& typed) {
            Wall wall = wall_.value_or(Wall{});
            const double* number = std::get_if<double>(&value);
            if (key == QLatin1String("wall_height_mm")) wall.height_mm = number ? *number : 0;
            else wall.draft_deg = number ? std::clamp(*number, 0.0, 80.0) : 0;
            wall_form_->fill(key, value, typed);
            ask_about(wall.height_mm > 0 ? std::optional(wall) : std::nullopt);
          });
}

std::vector<const Assembly*> AssemblyPanel::assemblies() const {
  std::vector<const Assembly*> list;
  for (const Assembly& a : workspace_.state().assemblies)
    if (a.cutter == cutter_) list.push_back(&a);
  return list;
}

const Assembly* AssemblyPanel::assembly() const {
  const Assembly* a = workspace_.state().assemblies.find(shown_);
  return a && a->cutter == cutter_ ? a : workspace_.state().assembly_of(cutter_);
}

void AssemblyPanel::show_cutter(const Cutter* cutter) {
  const Id id = cutter ? cutter->id : Id{};
  if (id != cutter_) {
    if (form_) form_->finish_typing();
    cutter_ = id;
    shown_ = {};
  }
  update_when_seen();
}

void AssemblyPanel::ask_about(const std::optional<Wall>& wall) {
  wall_ = wall;
  refresh();
  emit shown_changed();
}

QString AssemblyPanel::figures_text(const AssemblyFigures& f) const {
  const UnitSystem units = workspace_.units();
  QStringList lines, first;
  const auto mm = [&](double v) { return quantity_text(v, Quantity::length, units); };
  if (f.gauge_length_mm) first << tr("Gauge length %1").arg(mm(*f.gauge_length_mm));
  if (f.safe_stickout_mm) first << tr("safe stick-out %1").arg(mm(*f.safe_stickout_mm));
  if (f.weight_kg) first << tr("about %1 kg").arg(text_of(plain(*f.weight_kg, 2)));
  if (!first.isEmpty()) lines << first.join(QStringLiteral(" · "));
  if (f.tip_stiffness_n_um && f.natural_frequency_hz)
    lines << (f.rigid ? tr("Stiffness at the tip %1 N/µm · first frequency %2 Hz, assuming a rigid holder and spindle: "
                           "a guess")
                      : tr("Stiffness at the tip %1 N/µm · first frequency %2 Hz, from measured values"))
                 .arg(text_of(plain(*f.tip_stiffness_n_um, 2)), text_of(plain(*f.natural_frequency_hz, 0)));
  // A figure and its unit stay on one line.
  static const QRegularExpression figure(QStringLiteral("(\\d) (mm|in|kg|N/µm|Hz)"));
  return lines.join(QLatin1Char('\n')).replace(figure, QStringLiteral("\\1\u00a0\\2"));
}

QString AssemblyPanel::clearance_text(const AssemblyFigures& f) const {
  const UnitSystem units = workspace_.units();
  const auto mm = [&](double v) { return quantity_text(v, Quantity::length, units); };
  if (!f.reach_beside_wall_mm) return tr("Needs a holder with stations, a stick-out, and sizes that fit.");
  const QString draft = text_of(plain(wall_ ? wall_->draft_deg : 0, 1));
  QString text =
      std::isfinite(*f.reach_beside_wall_mm)
          ? tr("Reaches %1 beside a wall of %2° draft").arg(mm(std::floor(*f.reach_beside_wall_mm * 100) / 100), draft)
          : tr("Nothing touches a wall with %1° draft").arg(draft);
  if (wall_ && f.clearance) {
    const double room = f.clearance->distance_mm;
    text += QStringLiteral(". ") + (room < -1e-9 ? tr("At %1 it is %2 into the wall, %3 above the tip")
                                                 : tr("At %1 it clears by %2, nearest %3 above the tip"))
                                       .arg(mm(wall_->height_mm), mm(std::abs(room)), mm(f.clearance->on_assembly.y));
  }
  return text + QLatin1Char('.');
}

void AssemblyPanel::refresh() {
  const Cutter* c = workspace_.state().cutters.find(cutter_);
  setVisible(c != nullptr);
  if (!c) return;
  if (!form_) build();
  const UnitSystem units = workspace_.units();
  const auto all = assemblies();
  const Assembly* a = assembly();
  QStringList names;
  int current = 0;
  for (std::size_t i = 0; i < all.size(); ++i) {
    names << assembly_name(workspace_.state(), *all[i], units);
    if (all[i] == a) current = static_cast<int>(i);
  }
  names_->set_names(names);
  if (!names.isEmpty()) names_->set_current(current);
  remove_->setEnabled(a != nullptr);
  form_->setVisible(a != nullptr);
  form_->set_units(c->unit);
  wall_form_->set_units(units);
  wall_form_->fill(QStringLiteral("wall_height_mm"), wall_ ? Value(wall_->height_mm) : Value(std::monostate{}));
  wall_form_->fill(QStringLiteral("wall_draft_deg"),
                   wall_ && wall_->draft_deg > 0 ? Value(wall_->draft_deg) : Value(std::monostate{}));
  if (!a) {
    figures_->setText(tr("Not in a holder yet. “Add” makes an assembly."));
    clearance_->clear();
    return;
  }
  // Those that fit come first.
  std::vector<FieldChoice> holders{{text_of(Id{}.text()), tr("none")}}, collets = holders;
  for (const bool fitting : {true, false})
    for (const Holder& h : workspace_.state().holders)
      if (holds(h, *c) == fitting && (!h.retired || h.id == a->holder))
        holders.push_back(
            {text_of(h.id.text()), fitting ? text_of(h.name) : tr("%1 (does not fit)").arg(text_of(h.name))});
  for (const bool fitting : {true, false})
    for (const Collet& o : workspace_.state().collets)
      if ((c->shank_diameter_mm && takes(o, *c->shank_diameter_mm)) == fitting && (!o.retired || o.id == a->collet))
        collets.push_back(
            {text_of(o.id.text()), fitting ? text_of(o.name) : tr("%1 (does not fit)").arg(text_of(o.name))});
  form_->set_choices(QStringLiteral("holder"), holders);
  form_->set_choices(QStringLiteral("collet"), collets);
  form_->fill_from(*a);
  const Holder* holder = workspace_.state().holders.find(a->holder);
  std::vector<Message> messages = check_assembly(*c, holder, *a, workspace_.state().collets.find(a->collet));
  if (a->stickout_guessed) messages.push_back({Severity::note, "guessed", "stickout_mm", {}});
  form_->show_messages(std::move(messages));
  const AssemblyFigures figures = figures_of(*c, holder, *a, wall_);
  figures_->setText(figures_text(figures));
  clearance_->setText(clearance_text(figures));
  set_tone(clearance_, figures.clearance && figures.clearance->distance_mm < -1e-9 ? Tone::error : Tone::ink);
}

void AssemblyPanel::accept(const QString& key, const Value& value, const QString& typed) {
  const Assembly* a = assembly();
  const Cutter* c = workspace_.state().cutters.find(cutter_);
  if (!a || !c) return;
  const Property<Assembly>& property = *find_property<Assembly>(key.toStdString());
  Assembly after = edited(*a, property, value, typed.toStdString(), c->unit);
  if (key == QLatin1String("holder")) after.holder_guessed = false;
  if (key == QLatin1String("stickout_mm")) after.stickout_guessed = false;
  Change change;
  change.label = property.quantity == Quantity::id ? QStringLiteral("%1: %2").arg(label_text(property.label), typed)
                                                   : edit_label(*a, after, property, c->unit);
  change.edit(*a, after);
  // One is the usual one.
  if (after.usual && !a->usual)
    for (const Assembly* other : assemblies())
      if (other->id != a->id && other->usual) {
        Assembly plain_one = *other;
        plain_one.usual = false;
        change.edit(*other, plain_one);
      }
  shown_ = a->id;
  workspace_.shop().apply(std::move(change));
}

void AssemblyPanel::drag(const QString& key, double value_mm, bool done) {
  const Assembly* a = assembly();
  const Cutter* c = workspace_.state().cutters.find(cutter_);
  if (!a || !c) return;
  if (done) return accept(key, value_mm, text_of(shown(value_mm, Quantity::length, c->unit)));
  Assembly tried = *a;
  find_property<Assembly>(key.toStdString())->set(tried, value_mm);
  emit previewed(tried);
}

void AssemblyPanel::drag_wall(double height_mm) {
  Wall wall = wall_.value_or(Wall{});
  wall.height_mm = height_mm;
  ask_about(wall);
}

void AssemblyPanel::add_assembly() {
  const Cutter* c = workspace_.state().cutters.find(cutter_);
  if (!c) return;
  Assembly fresh;
  if (const Assembly* a = assembly()) fresh = *a;
  fresh.id = new_id();
  fresh.revision = 0;
  fresh.cutter = c->id;
  fresh.usual = assemblies().empty();
  fresh.measured_stickout_mm.reset();
  fresh.name = tr("Assembly %1").arg(assemblies().size() + 1).toStdString();
  if (fresh.holder.is_null())
    for (const Holder& h : workspace_.state().holders)
      if (!h.retired && holds(h, *c)) {
        fresh.holder = h.id;
        break;
      }
  if (!fresh.stickout_mm) fresh.stickout_mm = proposed_stickout_mm(*c, workspace_.state().holders.find(fresh.holder));
  Change change;
  change.label = tr("%1: another assembly").arg(text_of(c->name));
  change.add(fresh);
  shown_ = fresh.id;
  workspace_.shop().apply(std::move(change));
  emit shown_changed();
  focus_field(QStringLiteral("name"));
}

void AssemblyPanel::remove_assembly() {
  const Assembly* a = assembly();
  if (!a) return;
  Change change;
  change.label = tr("Removed %1").arg(assembly_name(workspace_.state(), *a, workspace_.units()));
  change.remove(*a);
  shown_ = {};
  workspace_.shop().apply(std::move(change));
  emit shown_changed();
}

}  // namespace pecorra

#include "moc_assembly_panel.cpp"
