#include "app/tables/recipes_section.h"

#include <QPushButton>

#include "app/parts/part_section.h"
#include "app/widgets/pick_list.h"
#include "shop/recipe_edit.h"
#include "shop/row_edit.h"

namespace pecorra {
namespace {

// The result of a recipe on its cutter, and its actions.
class RecipePanel : public PartExtra<Recipe> {
 public:
  RecipePanel(Workspace& workspace, std::function<void(const TrailTarget&)> show_row)
      : workspace_(workspace),
        show_row_(std::move(show_row)),
        figures_(new QLabel),
        into_table_(new QPushButton(QObject::tr("Into the series table"))),
        put_on_(new QPushButton(QObject::tr("Copy to cutters"))) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 8, 4);
    column->setSpacing(6);
    figures_->setWordWrap(true);
    figures_->setObjectName(QStringLiteral("recipe_figures"));
    column->addWidget(figures_);
    auto* row = new QHBoxLayout;
    into_table_->setObjectName(QStringLiteral("recipe_into_table"));
    put_on_->setObjectName(QStringLiteral("recipe_put_on"));
    row->addWidget(into_table_);
    row->addWidget(put_on_);
    row->addStretch(1);
    column->addLayout(row);
    connect(into_table_, &QPushButton::clicked, this, [this] {
      RowChange made = recipe_into_table(workspace_.state(), recipe_);
      workspace_.shop().apply(std::move(made.change));
      show_row_(made.target);
    });
    connect(put_on_, &QPushButton::clicked, this, &RecipePanel::choose_cutters);
  }
  void show_part(const Recipe& recipe, UnitSystem units) override {
    recipe_ = recipe;
    const bool read_only = workspace_.shop().is_read_only();
    into_table_->setEnabled(!read_only);
    put_on_->setEnabled(!read_only);
    const ShopState& state = workspace_.state();
    const Cutter* cutter = state.cutters.find(recipe.cutter);
    const WorkMaterial* material =
        recipe.material.is_null() ? workspace_.material() : state.materials.find(recipe.material);
    if (!cutter || !material || !workspace_.machine()) return figures_->setText({});
    Context context = workspace_.context();
    context.operation = recipe.operation;
    Query query = query_for(state, context);
    query.recipe = workspace_.shop().resolver().recipe_place(recipe.id);
    const Evaluation e = evaluate(state, workspace_.shop().resolver(), *cutter, *material, *workspace_.machine(), query,
                                  state.assembly_of(cutter->id));
    if (!e.resolution.found()) return figures_->setText(reason_text(e.resolution.reason, cutter->kind));
    const Conditions& c = e.resolution.conditions;
    QString text = QObject::tr("In %1 on %2: S %3, F %4")
                       .arg(text_of(material->name), text_of(workspace_.machine()->name),
                            text_of(shown(c.n_rpm, Quantity::spindle_speed, units)),
                            quantity_text(c.vf_mm_min, Quantity::table_feed, units));
    if (e.cut.results.q_cm3_min)
      text +=
          QObject::tr("; removal rate %1").arg(quantity_text(*e.cut.results.q_cm3_min, Quantity::removal_rate, units));
    if (!e.cut.headroom.empty())
      text += QObject::tr("; %1 at %2 %")
                  .arg(within_sentence(label_text(label_of(e.cut.headroom.front().limit))))
                  .arg(std::lround(e.cut.headroom.front().tightest() * 100));
    figures_->setText(text);
  }

 private:
  void choose_cutters() {
    const ShopState& state = workspace_.state();
    std::vector<Id> alike, series;
    const Cutter* own = state.cutters.find(recipe_.cutter);
    for (const Cutter& c : state.cutters) {
      if (!own || c.id == own->id || c.kind != own->kind) continue;
      if (c.diameter_mm == own->diameter_mm && c.tool_material == own->tool_material) alike.push_back(c.id);
      if (!own->series.empty() && c.maker == own->maker && c.series == own->series) series.push_back(c.id);
    }
    const auto put = [this](const std::vector<Id>& on) {
      int odd = 0;
      Change change = put_on_cutters(workspace_.state(), recipe_, on, odd);
      if (odd > 0) change.label += QObject::tr("; not intended for %1 of them").arg(odd);
      workspace_.shop().apply(std::move(change));
    };
    std::vector<PickItem> items;
    if (!alike.empty())
      items.push_back({QObject::tr("All of this kind, size and tool material"), QString::number(alike.size()),
                       [put, alike] { put(alike); }});
    if (own && !series.empty())
      items.push_back({QObject::tr("All %1 of the series").arg(label_text(label_of(own->kind)).toLower()),
                       QString::number(series.size()), [put, series] { put(series); }});
    for (const Cutter& c : state.cutters) {
      if (own && c.id == own->id) continue;
      Recipe there = recipe_;
      there.cutter = c.id;
      const auto messages = check_recipe(there, c);
      const auto odd = std::find_if(messages.begin(), messages.end(), [](const Message& m) {
        return m.code.starts_with("recipe_other") || m.code == "cutter_cannot";
      });
      if (odd != messages.end() && odd->code == "cutter_cannot") continue;
      items.push_back({QStringLiteral("%1  %2").arg(c.number).arg(text_of(c.name)),
                       odd == messages.end() ? QString() : sentence(*odd, workspace_.units()),
                       [put, id = c.id] { put({id}); }});
    }
    if (!targets_) targets_ = new PickList(this);
    targets_->open(put_on_->mapToGlobal(QPoint(put_on_->width() - 460, put_on_->height() + 2)), 460, std::move(items),
                   0, QObject::tr("Cutters to copy it to: type to filter"));
  }

  Workspace& workspace_;
  std::function<void(const TrailTarget&)> show_row_;
  QLabel* figures_;
  QPushButton *into_table_, *put_on_;
  PickList* targets_ = nullptr;
  Recipe recipe_;
};

}  // namespace

PartsSection* make_recipes_section(Workspace& workspace, std::function<void(const TrailTarget&)> show_row,
                                   QObject* parent) {
  PartSpec<Recipe> spec;
  spec.title = QObject::tr("Recipes");
  spec.new_text = QObject::tr("New recipe");
  spec.empty_text = QObject::tr("No recipes yet. “Save as recipe” under a cutter's conditions saves what it runs at.");
  spec.all = &ShopState::recipes;
  spec.columns = {"cutter",  "name",     "operation", "material",        "vc_m_min",
                  "feed_mm", "ap_per_d", "ae_per_d",  "removal_cm3_min", "usual"};
  spec.by_symbol = true;
  spec.fields = {"# The recipe",    "name",           "cutter",
                 "operation",       "material",       "usual",
                 "# Values",        "vc_m_min",       "vc_low_m_min",
                 "vc_high_m_min",   "feed_kind",      "feed_mm",
                 "feed_low_mm",     "feed_high_mm",   "ap_mm",
                 "ap_per_d",        "ae_mm",          "ae_per_d",
                 "removal_cm3_min", "coolant",        "# Plunge, ramp and lead",
                 "plunge_factor",   "plunge_feed_mm", "plunge_mm_min",
                 "ramp_factor",     "ramp_feed_mm",   "ramp_mm_min",
                 "ramp_n_rpm",      "lead_factor",    "lead_feed_mm",
                 "lead_mm_min",     "# Tool life",    "life_min",
                 "taylor_m",        "taylor_feed",    "taylor_depth",
                 "# Origin",        "proven",         "note",
                 "source",          "author",         "date"};
  spec.fresh = [&workspace] {
    Recipe r;
    if (const Cutter* c = workspace.cutter()) {
      r.cutter = c->id;
      r.kind = c->kind;
      r.tool_material = c->tool_material;
      r.diameter_mm = c->diameter_mm;
      r.operation = operation_for(workspace.context(), c->kind);
      if (process_of(r.operation) != Process::milling) r.feed_kind = FeedKind::per_revolution;
      r.name = free_recipe_name(workspace.state(), c->id, QObject::tr("new recipe").toStdString());
    }
    r.author = current_user();
    r.date = current_time().substr(0, 10);
    return r;
  };
  spec.check = [&workspace](const Recipe& r) {
    const Cutter* cutter = workspace.state().cutters.find(r.cutter);
    if (!cutter) return check_row(r);
    auto messages = check_recipe(r, *cutter);
    // Warnings about the cutter are shown at its field.
    for (Message& m : messages)
      if (m.code.starts_with("recipe_other")) m.property = "cutter";
    return messages;
  };
  spec.follow = [&workspace](Recipe& r, std::string_view key) {
    if (key == "material")
      if (const WorkMaterial* m = workspace.state().materials.find(r.material)) r.group = m->group;
    if (key == "ap_per_d" && r.ap_per_d) r.ap_mm.reset(), r.typed.erase("ap_mm");
    if (key == "ae_per_d" && r.ae_per_d) r.ae_mm.reset(), r.typed.erase("ae_mm");
    if (key == "ap_mm" && r.ap_mm) r.ap_per_d.reset();
    if (key == "ae_mm" && r.ae_mm) r.ae_per_d.reset();
    if (key == "proven")
      note_proof(workspace.state(), workspace.context(), workspace.state().cutters.find(r.cutter), r);
    if (key != "author" && key != "date") r.author = current_user(), r.date = current_time().substr(0, 10);
  };
  spec.change = [&workspace](const Recipe& before, const Recipe& after, const QString& label) {
    return change_recipe(workspace.state(), before, after, label);
  };
  spec.subtitle = [&workspace](const Recipe& r) {
    const Cutter* cutter = workspace.state().cutters.find(r.cutter);
    return cutter ? QObject::tr("On %1, %2").arg(cutter->number).arg(text_of(cutter->name))
                  : QObject::tr("Its cutter was deleted");
  };
  const auto name_of = [&workspace](std::string_view key, const std::string& id) -> QString {
    const auto parsed = Id::parse(id);
    if (key == "material") {
      const WorkMaterial* m = parsed ? workspace.state().materials.find(*parsed) : nullptr;
      return m ? text_of(m->name) : QObject::tr("any");
    }
    const Cutter* c = parsed ? workspace.state().cutters.find(*parsed) : nullptr;
    return c ? QStringLiteral("%1  %2").arg(c->number).arg(text_of(c->name)) : QString();
  };
  spec.cell = [name_of](const Recipe& r, const Property<Recipe>& p) -> std::optional<QString> {
    if (p.quantity != Quantity::id) return std::nullopt;
    return name_of(p.key, std::get<std::string>(p.get(r)));
  };
  spec.choices = [&workspace](const Recipe&, std::string_view key) {
    std::vector<FieldChoice> list;
    if (key == "material") {
      list.push_back({QString(), QObject::tr("any material")});
      for (const std::size_t i : materials_in_order(workspace.state(), false))
        list.push_back(
            {text_of(workspace.state().materials[i].id.text()), text_of(workspace.state().materials[i].name)});
    } else if (key == "cutter") {
      for (const Cutter& c : workspace.state().cutters)
        list.push_back({text_of(c.id.text()), QStringLiteral("%1  %2").arg(c.number).arg(text_of(c.name))});
    }
    return list;
  };
  spec.extra = [&workspace, show_row](std::function<void(Recipe, const QString&)>) {
    return new RecipePanel(workspace, show_row);
  };
  return new PartSection<Recipe>(workspace, std::move(spec), QStringLiteral("recipe"), parent);
}

}  // namespace pecorra
