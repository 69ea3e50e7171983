#include "shop/state.h"

#include <algorithm>

#include "shop/demo.h"

namespace pecorra {

std::optional<std::int64_t> ShopState::revision_of(ObjectKind kind, const Id& id) const {
  std::optional<std::int64_t> revision;
  visit(kind, [&](const auto& collection) {
    if (const auto* known = collection.find(id)) revision = known->revision;
  });
  return revision;
}

const Assembly* ShopState::assembly_of(const Id& cutter) const {
  const auto places = assemblies.of_cutter(cutter);
  for (const std::size_t i : places)
    if (assemblies[i].usual) return &assemblies[i];
  return places.empty() ? nullptr : &assemblies[places.front()];
}

Cutter ShopState::as_used(const Cutter& cutter) const {
  const Assembly* assembly = assembly_of(cutter.id);
  return assembly ? as_set(cutter, *assembly) : cutter;
}

EdgeFactors ShopState::edge_factors() const {
  const ShopSettings s = shop_settings();
  return EdgeFactors(edge_materials.all(), s.premium_factor, s.standard_factor, s.plain_factor);
}

ResolverOptions ShopState::resolver_options() const {
  const ShopSettings s = shop_settings();
  std::vector<NeverRule> never(never_rules.begin(), never_rules.end());
  for (const NeverRule& rule : shipped_never_rules())
    if (!never_rules.find(rule.id)) never.push_back(rule);
  return {edge_factors(),
          recipes.shared(),
          s.use_starters,
          true,
          s.use_factors,
          s.wear_factor,
          std::make_shared<const NeverRules>(std::move(never))};
}

const Recipe* ShopState::recipe_named(const Id& cutter, const std::string& name) const {
  for (const std::size_t i : recipes.of_cutter(cutter))
    if (recipes[i].name == name || recipes[i].id.text() == name) return &recipes[i];
  return nullptr;
}

std::optional<Job> ShopState::job(const Id& id) const {
  const JobHead* head = jobs.find(id);
  if (!head) return std::nullopt;
  Job job;
  job.head() = *head;
  if (const auto places = parts.of(id); !places.empty()) {
    const auto all = parts.shared();
    job.part = {all, &(*all)[places.front()]};
  }
  const auto in_order = [&](const auto& collection, auto& list) {
    for (const std::size_t i : collection.of(id)) list.push_back(collection[i]);
    std::stable_sort(list.begin(), list.end(), [](const auto& a, const auto& b) { return a.rank < b.rank; });
  };
  in_order(setups, job.setups);
  in_order(features, job.features);
  in_order(operations, job.operations);
  for (Operation& o : job.operations)
    if (const OperationTrail* trail = trails.find(trail_id(o.id))) put_trail(o, *trail);
  return job;
}

std::vector<Job> ShopState::whole_jobs() const {
  std::vector<Job> all;
  for (const JobHead& head : jobs) all.push_back(*job(head.id));
  return all;
}

const Cutter* ShopState::cutter_numbered(const Id& library, int number) const {
  for (const Cutter& cutter : cutters)
    if (cutter.library == library && cutter.number == number) return &cutter;
  return nullptr;
}

int ShopState::free_number(const Id& library) const {
  int highest = 0;
  for (const Cutter& cutter : cutters)
    if (cutter.library == library) highest = std::max(highest, cutter.number);
  return highest + 1;
}

FormatFaults put_stored(ShopState& state, const StoredObject& stored) {
  if (!stored.body.empty()) return put_body(state, stored.kind, stored.id, stored.revision, stored.body);
  state.visit(stored.kind, [&](auto& collection) { collection.remove(stored.id); });
  return {};
}

FormatFaults put_body(ShopState& state, ObjectKind kind, const Id& id, std::int64_t revision, std::string_view body) {
  FormatFaults faults;
  state.visit(kind, [&](auto& collection) {
    using Object = typename std::remove_cvref_t<decltype(collection.all())>::value_type;
    auto object = object_from_body<Object>(body, faults);
    if (!object) return;
    object->id = id;
    object->revision = revision;
    collection.put(std::move(*object));
  });
  return faults;
}

void Removal::finish() {
  for (const auto& [kind, ids] : gone_) state_.visit(kind, [&ids = ids](auto& collection) { collection.remove(ids); });
  gone_.clear();
  ids_.clear();
}

}  // namespace pecorra
