#include "shop/number_plan.h"

#include <QObject>
#include <unordered_set>

#include "shop/shop.h"
#include "shop/words.h"

namespace pecorra {

FurtherWords materials_of_recipes(const ShopState& state) {
  return [&state](const Cutter& cutter) {
    std::string names;
    for (const std::size_t i : state.recipes.of_cutter(cutter.id))
      if (const WorkMaterial* m = state.materials.find(state.recipes[i].material)) names += m->name + "\n";
    return names;
  };
}

std::optional<Breach> breach_of(const ShopState& state, const Cutter& cutter) {
  return state.number_blocks.empty() ? std::nullopt
                                     : breach_of(cutter, state.number_blocks.all(), materials_of_recipes(state));
}

QString block_text(const NumberBlock& b) {
  const int from = b.from.value_or(1);
  QString range = b.to     ? QObject::tr("%1 to %2").arg(from).arg(*b.to)
                  : b.from ? QObject::tr("%1 and up").arg(from)
                           : QString();
  if (b.every && *b.every > 1)
    range = range.isEmpty() ? QObject::tr("every %1th").arg(*b.every)
                            : QObject::tr("every %1th of %2").arg(*b.every).arg(range);
  if (range.isEmpty()) range = QObject::tr("any number");
  return b.name.empty() ? range : range + QStringLiteral(", ") + text_of(b.name);
}

QString breach_text(const ShopState& state, const Cutter& cutter) {
  const auto breach = breach_of(state, cutter);
  if (!breach) return {};
  return breach->kind == BreachKind::outside
             ? QObject::tr("Number %1 is outside its block: %2").arg(cutter.number).arg(block_text(*breach->block))
             : QObject::tr("Number %1 is reserved for others: %2").arg(cutter.number).arg(block_text(*breach->block));
}

Change renumber(const ShopState& state, const NumberPlan& plan) {
  Change change;
  change.label = plan.steps.size() == 1 ? QObject::tr("Number %1 → %2").arg(plan.steps[0].from).arg(plan.steps[0].to)
                                        : QObject::tr("%1 cutters renumbered").arg(plan.steps.size());
  for (const Renumbering& step : plan.steps) {
    Cutter after = state.cutters[step.cutter];
    after.number = step.to;
    change.edit(state.cutters[step.cutter], after);
  }
  return change;
}

std::vector<Moved> plan_move(const ShopState& state, const std::vector<Id>& cutters, const Id& library) {
  std::vector<Moved> plan;
  TakenNumbers taken(state.cutters.all(), library);
  const FurtherWords further = materials_of_recipes(state);
  for (const Id& id : cutters) {
    const Cutter* c = state.cutters.find(id);
    if (!c) continue;
    Cutter there = *c;
    there.library = library;
    const bool stays = !taken.contains(c->number) && !breach_of(there, state.number_blocks.all(), further);
    const int number = stays ? c->number : taken.free_for(there, state.number_blocks.all(), further);
    taken.take(number);
    plan.push_back({static_cast<std::size_t>(c - state.cutters.all().data()), number});
  }
  return plan;
}

Change move_cutters(const ShopState& state, const std::vector<Id>& cutters, const Id& library) {
  Change change;
  std::vector<Id> others = cutters;
  std::erase_if(others, [&](const Id& id) {
    const Cutter* c = state.cutters.find(id);
    return !c || c->library == library;
  });
  const Library* to = state.libraries.find(library);
  int renumbered = 0;
  for (const Moved& m : plan_move(state, others, library)) {
    const Cutter& before = state.cutters[m.cutter];
    Cutter after = before;
    after.library = library;
    after.number = m.number;
    renumbered += before.number != m.number;
    change.edit(before, after);
  }
  if (change.empty() || !to) return {};
  const QString what =
      others.size() == 1 ? text_of(state.cutters.find(others[0])->name) : QObject::tr("%1 cutters").arg(others.size());
  change.label =
      renumbered == 0
          ? QObject::tr("%1 moved to %2").arg(what, text_of(to->name))
          : QObject::tr("%1 moved to %2, %3 with another number").arg(what, text_of(to->name)).arg(renumbered);
  return change;
}

namespace {

std::vector<Moved> copy_into(const ShopState& state, const std::vector<Id>& cutters, const Id& library,
                             Change& change) {
  const std::vector<Moved> plan = plan_move(state, cutters, library);
  for (const Moved& m : plan) {
    Cutter copy = state.cutters[m.cutter];
    const Id original = copy.id;
    copy.id = new_id();
    copy.revision = 0;
    copy.library = library;
    copy.number = m.number;
    change.add(copy);
    const auto with_it = [&](const auto& all) {
      for (const std::size_t i : all.of_cutter(original)) {
        auto part = all[i];
        part.id = new_id();
        part.revision = 0;
        part.cutter = copy.id;
        change.add(part);
      }
    };
    with_it(state.assemblies);
    with_it(state.recipes);
  }
  return plan;
}

}  // namespace

Change copy_cutters(const ShopState& state, const std::vector<Id>& cutters, const Id& library) {
  Change change;
  const Library* to = state.libraries.find(library);
  if (!to || cutters.empty()) return change;
  const std::vector<Moved> plan = copy_into(state, cutters, library, change);
  if (plan.size() == 1) {
    const Cutter& c = state.cutters[plan[0].cutter];
    change.label =
        c.library == library
            ? QObject::tr("Copied %1 as number %2").arg(text_of(c.name)).arg(plan[0].number)
            : QObject::tr("Copied %1 to %2 as number %3").arg(text_of(c.name), text_of(to->name)).arg(plan[0].number);
  } else {
    change.label = QObject::tr("%1 cutters copied to %2").arg(plan.size()).arg(text_of(to->name));
  }
  return change;
}

namespace {

std::vector<Id> cutters_of(const ShopState& state, const Id& library) {
  std::vector<Id> ids;
  for (const Cutter& c : state.cutters)
    if (c.library == library) ids.push_back(c.id);
  return ids;
}

}  // namespace

Change copy_library(const ShopState& state, const Id& library, const Library& other) {
  Change change;
  change.add(other);
  copy_into(state, cutters_of(state, library), other.id, change);
  change.label = QObject::tr("Library %1 copied").arg(text_of(state.libraries.find(library)->name));
  return change;
}

Change delete_library(const ShopState& state, const Id& library) {
  const Library* gone = state.libraries.find(library);
  if (!gone) return {};
  const std::vector<Id> cutters = cutters_of(state, library);
  Change change = delete_cutters(state, cutters);
  for (const SharedLibrary& s : state.shared_libraries)
    if (s.library == library) change.remove(s);
  for (const NumberBlock& b : state.number_blocks)
    if (b.library == library) change.remove(b);
  change.remove(*gone);
  change.label = cutters.empty()
                     ? QObject::tr("Deleted library %1").arg(text_of(gone->name))
                     : QObject::tr("Deleted library %1 with %2 cutters").arg(text_of(gone->name)).arg(cutters.size());
  return change;
}

Change delete_cutters(const ShopState& state, const std::vector<Id>& cutters) {
  Change change;
  const std::unordered_set<Id> gone(cutters.begin(), cutters.end());
  for (const Assembly& a : state.assemblies)
    if (gone.contains(a.cutter)) change.remove(a);
  for (const Recipe& r : state.recipes)
    if (gone.contains(r.cutter)) change.remove(r);
  for (const Id& id : cutters)
    if (const Cutter* c = state.cutters.find(id)) change.remove(*c);
  const Cutter* one = cutters.size() == 1 ? state.cutters.find(cutters[0]) : nullptr;
  change.label =
      one ? QObject::tr("Deleted %1").arg(text_of(one->name)) : QObject::tr("Deleted %1 cutters").arg(cutters.size());
  return change;
}

}  // namespace pecorra
