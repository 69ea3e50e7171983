#include "shop/history.h"

#include <QObject>

#include "core/library/cutter_rows.h"
#include "formats/json/objects.h"
#include "shop/words.h"

namespace pecorra {
namespace {

constexpr int most_entries = 2000;

QStringList changes_between(const Cutter& before, const Cutter& after, UnitSystem units) {
  QStringList list;
  for (const Property<Cutter>& p : cutter_cells()) {
    if (p.key == "typed" || same_value(p.get(before), p.get(after))) continue;
    if (p.quantity == Quantity::id) list << QObject::tr("%1 changed").arg(label_text(p.label));
    else list << property_change_text(label_text(p.label), p.get(before), p.get(after), p.quantity, p.choices, units);
  }
  return list;
}

// Applies one side of a change to the object as it was on the other side.
Json stepped_back(Json object, const Json& before, const Json& after) {
  for (const auto& [key, value] : after.items())
    if (!before.contains(key)) object.erase(key);
  for (const auto& [key, value] : before.items()) object[key] = value;
  return object;
}

Cutter cutter_from(const Json& json, const Id& id) {
  Cutter c;
  FormatFaults faults;
  from_json(c, json, faults);
  c.id = id;
  c.revision = 0;
  return c;
}

}  // namespace

tl::expected<std::vector<PastState>, StoreFault> past_of(const QString& file, const Cutter& now, UnitSystem units) {
  const auto store = Store::open(file);
  if (!store) return tl::unexpected(store.error());
  const auto entries = (*store)->history(now.id, most_entries);
  if (!entries) return tl::unexpected(entries.error());
  std::vector<PastState> past;
  // Goes back from the present state: each entry says what was before it.
  Json object = to_json(now);
  for (const HistoryEntry& e : *entries) {
    const Json before = Json::parse(e.before.empty() ? "{}" : e.before, nullptr, false),
               after = Json::parse(e.after.empty() ? "{}" : e.after, nullptr, false);
    if (before.is_discarded() || after.is_discarded()) break;
    PastState p;
    p.seq = e.seq;
    p.when = text_of(e.when);
    p.who = text_of(e.who);
    p.label = label_text(e.label);
    p.deleted = e.after.empty();
    p.after = p.deleted ? Cutter{} : cutter_from(object, now.id);
    const bool made = e.before.empty();
    object = made ? Json::object() : p.deleted ? before : stepped_back(object, before, after);
    if (!made && !p.deleted) p.changes = changes_between(cutter_from(object, now.id), p.after, units);
    past.push_back(std::move(p));
  }
  return past;
}

std::vector<CutterUse> uses_of(const ShopState& state, const Id& cutter) {
  std::vector<CutterUse> uses;
  for (const Job& job : state.whole_jobs())
    for (std::size_t i = 0; i < job.operations.size(); ++i)
      if (job.operations[i].cutter.id == cutter)
        uses.push_back(
            {job.id, static_cast<int>(i),
             QObject::tr("%1: operation %2, %3")
                 .arg(text_of(job.name))
                 .arg(i + 1)
                 .arg(text_of(job.operations[i].name.empty() ? std::string(label_of(job.operations[i].operation))
                                                             : job.operations[i].name))});
  return uses;
}

}  // namespace pecorra
