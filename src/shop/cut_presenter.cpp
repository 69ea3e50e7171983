#include "shop/cut_presenter.h"

#include <QObject>
#include <algorithm>

#include "shop/words.h"

namespace pecorra {
namespace {

// Recipes beside "Automatic" and "Tables"; there is no room for more.
constexpr std::size_t most_recipes = 3;

QString what_for(const QString& operation, const WorkMaterial& material, const Machine& machine) {
  return QObject::tr("%1 in %2 on %3").arg(operation, text_of(material.name), text_of(machine.name));
}

std::optional<Holder> holder_of(const ShopState& state, const Id& id) {
  const Holder* holder = state.holders.find(id);
  return holder ? std::optional(*holder) : std::nullopt;
}

// The cut itself, and what would bring it inside its limits.
void put_cut(const ShopState& state, CutInFront cut, ShownConditions& shown) {
  shown.advice = advise(state, cut.model(), cut.cut, cut.report, cut.units);
  if (const Cutter* other = state.cutters.find(shown.advice.cutter))
    shown.advice_cutter = QStringLiteral("%1 %2").arg(other->number).arg(text_of(other->name));
  shown.cut = std::move(cut);
}

// Shown instead of figures.
void put_reason(const CutterCutQuestion& q, NoAnswer reason, ShownConditions& shown) {
  if (reason == NoAnswer::never) {
    for (const TrailStep& step : shown.trail)
      if (step.step == "never_rule" && shown.why_not.isEmpty())
        shown.why_not = sentence(Message{Severity::error, step.step, {}, step.values}, q.context.units);
    return;
  }
  if (reason == NoAnswer::cannot_do) {
    shown.why_not = QObject::tr("Not for %1: this cutter is %2.")
                        .arg(label_text(label_of(q.context.operation)), reason_text(reason, q.cutter.kind));
  } else if (reason == NoAnswer::draft) {
    shown.why_not = QObject::tr("A draft: its sizes have errors, see Sizes. It is not offered in jobs.");
  } else {
    shown.why_not = QObject::tr("No speed and feed here: %1.").arg(reason_text(reason, q.cutter.kind));
    if (reason == NoAnswer::no_row) shown.offer = QObject::tr("Add a row for it");
  }
}

}  // namespace

std::vector<Followed> followed_of(const ShopState& state, const Cutter& cutter, const Context& context) {
  std::vector<Followed> followed{std::nullopt};
  for (const std::size_t i : state.recipes.of_cutter(cutter.id)) {
    const Recipe& r = state.recipes[i];
    const bool fits = r.operation == context.operation && (r.material.is_null() || r.material == context.material);
    if (fits && followed.size() <= most_recipes) followed.push_back(r.id);
  }
  if (followed.size() > 1) followed.push_back(Id{});
  return followed;
}

ShownConditions present_cut(const ShopState& state, const Resolver& resolver, const CutterCutQuestion& q) {
  ShownConditions shown;
  const std::vector<Followed> followed = followed_of(state, q.cutter, q.context);
  for (const Followed& f : followed) {
    const Recipe* recipe = f ? state.recipes.find(*f) : nullptr;
    shown.followed << (recipe ? text_of(recipe->name) : f ? QObject::tr("Tables") : QObject::tr("Automatic"));
  }
  const auto at = std::find(followed.begin(), followed.end(), q.follow);
  if (at != followed.end()) shown.follows = static_cast<int>(at - followed.begin());
  const WorkMaterial* material = state.materials.find(q.context.material);
  const Machine* machine = state.machines.find(q.context.machine);
  if (!material || !machine) {
    shown.why_not = QObject::tr("Choose a material and a machine to see speed and feed.");
    return shown;
  }
  const auto evaluated = [&](const WhatIf& tried) {
    Query query = query_for(state, q.context);
    if (at != followed.end() && q.follow) {
      query.no_recipes = q.follow->is_null();
      query.recipe = resolver.recipe_place(*q.follow);
    }
    return evaluate(state, resolver, q.cutter, *material, *machine, query, q.held, tried);
  };
  const Evaluation e = evaluated(q.tried);
  shown.trail = e.trail;
  if (!e.cut.results.n_rpm) {
    put_reason(q, e.resolution.reason, shown);
    return shown;
  }
  const QString operation = label_text(label_of(q.context.operation));
  CutInFront cut{.held = as_held(q.cutter, q.held, q.tried.stickout_mm),
                 .holder = q.held ? holder_of(state, q.held->holder) : std::nullopt,
                 .material = *material,
                 .machine = *machine,
                 .operation = q.context.operation,
                 .title = QStringLiteral("%1 %2").arg(q.cutter.number).arg(text_of(q.cutter.name)),
                 .about = what_for(operation, *material, *machine),
                 .as_it_comes = e.asked,
                 .as_it_comes_results = e.cut.results,
                 .cut = e.asked,
                 .report = e.cut,
                 .trail = e.trail,
                 .life = life_of(state, q.cutter, *machine, e.resolution, e.cut, e.asked),
                 .coolant = e.resolution.conditions.coolant,
                 .tried = q.tried.any(),
                 .guess = e.resolution.guess,
                 .units = q.context.units};
  if (q.tried.any()) {
    const Evaluation usual = evaluated({});
    cut.as_it_comes = usual.asked;
    cut.as_it_comes_results = usual.cut.results;
  }
  put_cut(state, std::move(cut), shown);
  if (e.resolution.guess && !q.tried.any()) shown.offer = QObject::tr("Add as row");
  if (q.may_keep) shown.second_offer = QObject::tr("Save as recipe");
  return shown;
}

HeldCutter held_for(const ShopState& state, const Operation& o, const WhatIf& tried) {
  return tried.stickout_mm ? as_held(o.cutter, state.assembly_of(o.cutter.id), tried.stickout_mm) : as_held(state, o);
}

ShownConditions present_cut(const ShopState& state, const JobHead& job, const Operation& o, const PathFacts& path,
                            const WhatIf& tried, UnitSystem units) {
  ShownConditions shown;
  shown.trail = o.taken.trail;
  const WorkMaterial* material = state.materials.find(job.material);
  const Machine* machine = state.machines.find(job.machine);
  if (!o.taken.n_rpm || !o.taken.vf_mm_min || !material || !machine) {
    shown.why_not =
        o.cutter.id.is_null()
            ? QObject::tr("Pick a cutter; speed and feed fill in automatically.")
            : QObject::tr("No row fits this cutter here. Type speed and feed above, or add a row under Tables.");
    return shown;
  }
  const HeldCutter held = held_for(state, o, tried), as_it_is = as_held(state, o);
  const QString operation = QObject::tr("%1, %2").arg(text_of(o.name), label_text(label_of(o.operation)));
  CutInFront cut{.held = held,
                 .holder = holder_of(state, held.assembly.holder),
                 .material = *material,
                 .machine = *machine,
                 .operation = o.operation,
                 .title = text_of(o.cutter.name),
                 .about = what_for(operation, *material, *machine),
                 .as_it_comes = cut_of(state, o, path),
                 .as_it_comes_results = {},
                 .cut = {},
                 .report = {},
                 .trail = o.taken.trail,
                 .life = {},
                 .coolant = o.taken.coolant,
                 .tried = tried.any(),
                 .guess = o.taken.guess,
                 .units = units};
  cut.cut = cut.as_it_comes;
  cut.as_it_comes_results =
      CutModel(as_it_is.cutter, as_it_is.assembly, *material, *machine).at(cut.as_it_comes).results;
  if (tried.any()) put_tried(tried, cut.as_it_comes_results, cut.cut);
  cut.report = cut.model().at(cut.cut);
  // The row or recipe it follows, for its tool life.
  Resolution from;
  from.table = o.taken.table;
  from.row = o.taken.row;
  cut.life = life_of(state, o.cutter, *machine, from, cut.report, cut.cut);
  put_cut(state, std::move(cut), shown);
  return shown;
}

WhatIf tried_with(const WhatIf& tried, const std::optional<CutInFront>& cut, std::string_view property, double value) {
  WhatIf out = tried;
  const bool bounded = property == "ae_mm" && cut && cut->held.cutter.diameter_mm;
  const double most = bounded ? *cut->held.cutter.diameter_mm : 1e6;
  if (const auto* p = find_property<WhatIf>(property)) p->set(out, std::clamp(value, 1e-4, most));
  return out;
}

}  // namespace pecorra
