#include "shop/recipe_edit.h"

#include <QObject>
#include <algorithm>
#include <cmath>

#include "core/quantity/print.h"
#include "shop/shop.h"
#include "shop/words.h"

namespace pecorra {
namespace {

bool for_the_same(const Recipe& a, const Recipe& b) {
  return a.cutter == b.cutter && a.operation == b.operation && a.material == b.material;
}

// Into the table of this cutter's series, or the shop's own if it has none.
RowChange row_into_series(const ShopState& state, const Cutter& cutter, ConditionRow row, const QString& label) {
  if (cutter.maker.empty() || cutter.series.empty()) return row_into_shop(state, std::move(row), label);
  row.id = new_id();
  row.author = current_user();
  row.date = current_time().substr(0, 10);
  RowChange out;
  const QString series = text_of(cutter.maker + " " + cutter.series);
  for (const ConditionTable& t : state.tables) {
    if (t.level != TableLevel::maker || t.maker != cutter.maker || t.series != cutter.series) continue;
    ConditionTable changed = t;
    changed.rows.push_back(row);
    out.change.label = QObject::tr("%1, in %2").arg(label, text_of(t.name));
    out.change.edit(t, changed);
    out.target = {t.id, row.id};
    return out;
  }
  ConditionTable fresh;
  fresh.id = new_id();
  fresh.name = series.toStdString();
  fresh.level = TableLevel::maker;
  fresh.maker = cutter.maker;
  fresh.series = cutter.series;
  fresh.rows.push_back(row);
  out.change.label = QObject::tr("%1, in a new table for %2").arg(label, series);
  out.change.add(fresh);
  out.target = {fresh.id, row.id};
  return out;
}

}  // namespace

std::string free_recipe_name(const ShopState& state, const Id& cutter, const std::string& wanted) {
  const auto taken = [&](const std::string& name) {
    const auto places = state.recipes.of_cutter(cutter);
    return std::any_of(places.begin(), places.end(), [&](std::size_t i) { return state.recipes[i].name == name; });
  };
  if (!taken(wanted)) return wanted;
  for (int n = 2;; ++n)
    if (std::string name = wanted + " " + std::to_string(n); !taken(name)) return name;
}

RecipeChange keep_as_recipe(const ShopState& state, const Cutter& cutter, const WorkMaterial& material,
                            OperationKind operation, const Evaluation& seen, const WhatIf& tried) {
  Recipe recipe;
  static_cast<ConditionRow&>(recipe) = row_from(state, cutter, material, operation, seen.resolution);
  recipe.id = new_id();
  recipe.cutter = cutter.id;
  recipe.author = current_user();
  recipe.date = current_time().substr(0, 10);
  const CutResults& now = seen.cut.results;
  if (tried.any()) {
    const bool per_turn = recipe.feed_kind == FeedKind::per_revolution && process_of(operation) != Process::milling;
    if (tried.vc_m_min) recipe.vc_m_min = tried.vc_m_min;
    if (tried.fz_mm)
      recipe.feed_kind = per_turn ? FeedKind::per_revolution : FeedKind::per_tooth,
      recipe.feed_mm = per_turn ? now.fn_mm : tried.fz_mm;
    if (tried.ap_mm) recipe.ap_mm = tried.ap_mm, recipe.ap_per_d.reset();
    if (tried.ae_mm) recipe.ae_mm = tried.ae_mm, recipe.ae_per_d.reset();
    // A range that no longer contains the target is dropped.
    if (tried.vc_m_min) recipe.vc_low_m_min.reset(), recipe.vc_high_m_min.reset();
    if (tried.fz_mm) recipe.feed_low_mm.reset(), recipe.feed_high_mm.reset();
    recipe.proven = false;
  }
  std::string name(label_of(operation));
  if (now.q_cm3_min && process_of(operation) == Process::milling) {
    recipe.removal_cm3_min = std::round(*now.q_cm3_min * 10) / 10;
    name += ", " + plain(*now.q_cm3_min, *now.q_cm3_min < 10 ? 1 : 0) + " cm³/min";
  }
  recipe.name = free_recipe_name(state, cutter.id, name);
  const auto places = state.recipes.of_cutter(cutter.id);
  recipe.usual =
      std::none_of(places.begin(), places.end(), [&](std::size_t i) { return for_the_same(state.recipes[i], recipe); });
  RecipeChange out;
  out.recipe = recipe.id;
  out.change.label = QObject::tr("Recipe %1 on %2").arg(text_of(recipe.name), text_of(cutter.name));
  out.change.add(recipe);
  return out;
}

Change put_on_cutters(const ShopState& state, const Recipe& recipe, const std::vector<Id>& cutters, int& odd) {
  Change change;
  odd = 0;
  for (const Id& id : cutters) {
    const Cutter* cutter = state.cutters.find(id);
    if (!cutter || id == recipe.cutter) continue;
    Recipe copy = recipe;
    copy.id = new_id();
    copy.revision = 0;
    copy.cutter = id;
    const auto places = state.recipes.of_cutter(id);
    if (std::any_of(places.begin(), places.end(), [&](std::size_t i) {
          return state.recipes[i].name == copy.name && for_the_same(state.recipes[i], copy);
        }))
      continue;
    copy.usual =
        std::none_of(places.begin(), places.end(), [&](std::size_t i) { return for_the_same(state.recipes[i], copy); });
    copy.proven = false;  // not on this cutter
    const auto messages = check_recipe(copy, *cutter);
    odd += std::any_of(messages.begin(), messages.end(), [](const Message& m) {
      return m.code.starts_with("recipe_other") || m.code == "cutter_cannot";
    });
    change.add(copy);
  }
  change.label = QObject::tr("Recipe %1 put on %2 more cutters").arg(text_of(recipe.name)).arg(change.objects.size());
  return change;
}

Change change_recipe(const ShopState& state, const Recipe& before, const Recipe& after, const QString& label) {
  Change change;
  change.label = label;
  change.edit(before, after);
  if (after.usual)
    for (const std::size_t i : state.recipes.of_cutter(after.cutter)) {
      const Recipe& other = state.recipes[i];
      if (other.id == after.id || !other.usual || !for_the_same(other, after)) continue;
      Recipe now = other;
      now.usual = false;
      change.edit(other, now);
    }
  return change;
}

RowChange recipe_into_table(const ShopState& state, const Recipe& recipe) {
  ConditionRow row = recipe;
  const Cutter* cutter = state.cutters.find(recipe.cutter);
  row.proven = false;  // not yet proven for the series
  row.source = "recipe " + recipe.name + (cutter ? " of " + cutter->name : std::string());
  const QString label = QObject::tr("Row from the recipe %1").arg(text_of(recipe.name));
  return cutter ? row_into_series(state, *cutter, std::move(row), label) : row_into_shop(state, std::move(row), label);
}

RowChange row_for_series(const ShopState& state, const Cutter& cutter, const WorkMaterial& material,
                         OperationKind operation) {
  ConditionRow row = row_from(state, cutter, material, operation, {});  // its keys
  row.flutes = cutter.flutes;
  row.feed_kind = process_of(operation) == Process::milling ? FeedKind::per_tooth : FeedKind::per_revolution;
  row.source = cutter.maker.empty() ? "data sheet" : cutter.maker + " data sheet";
  return row_into_series(state, cutter, std::move(row), QObject::tr("Row from a data sheet"));
}

}  // namespace pecorra
