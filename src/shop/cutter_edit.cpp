#include "shop/cutter_edit.h"

#include <QObject>
#include <algorithm>
#include <map>
#include <set>

#include "core/base/stock.h"
#include "core/cutter/duplicates.h"
#include "core/cutter/guesses.h"
#include "shop/generic_holders.h"
#include "shop/number_plan.h"
#include "shop/shop.h"
#include "shop/words.h"

namespace pecorra {
namespace {

// Empty values are taken from the other.
Cutter completed(const Cutter& keep, const Cutter& from) {
  Cutter out = keep;
  for (const Property<Cutter>& property : properties<Cutter>()) {
    const Value mine = property.get(keep), theirs = property.get(from);
    const std::string* text = std::get_if<std::string>(&mine);
    const bool empty =
        std::holds_alternative<std::monostate>(mine) || (text && (text->empty() || *text == Id{}.text()));
    if (!empty || mine == theirs) continue;
    property.set(out, theirs);
    if (from.guesses.contains(property.key)) out.guesses.insert(std::string(property.key));
    if (const auto typed = from.typed.find(property.key); typed != from.typed.end())
      out.typed[typed->first] = typed->second;
  }
  const auto sum = [](std::optional<int> a, std::optional<int> b) {
    return a && b ? std::optional(*a + *b) : a ? a : b;
  };
  out.in_stock = sum(keep.in_stock, from.in_stock);
  out.on_order = sum(keep.on_order, from.on_order);
  out.wanted = std::max(keep.wanted, from.wanted);
  out.accepted.erase(told_apart_key(from.id));
  return out;
}

// Whether two assemblies are equal apart from their ids and cutters.
bool same_assembly(Assembly a, const Assembly& b) {
  a.id = b.id;
  a.revision = b.revision;
  a.cutter = b.cutter;
  a.usual = b.usual;
  a.typed = b.typed;
  return a == b;
}

template <class T>
void add_lack(std::vector<Lack>& lacks, const QString& what, const T& thing, const QString& why) {
  lacks.push_back(
      {what, why,
       text_of(thing.maker + (thing.maker.empty() || thing.order_code.empty() ? "" : " ") + thing.order_code)});
}

template <class T>
QString stock_text(const T& thing) {
  QStringList parts;
  if (thing.retired) parts << QObject::tr("retired");
  else
    parts << (thing.in_stock.value_or(0) == 0 ? QObject::tr("none in stock")
                                              : QObject::tr("%1 in stock").arg(*thing.in_stock));
  if (thing.wanted) parts << QObject::tr("%1 wanted").arg(*thing.wanted);
  if (thing.on_order.value_or(0) > 0) parts << QObject::tr("%1 on order").arg(*thing.on_order);
  return parts.join(QStringLiteral(", "));
}

// Counted, and none left. Cutters that nobody counts are assumed to be in stock.
template <class T>
bool is_missing(const T& thing) {
  return thing.retired || (thing.in_stock && *thing.in_stock == 0);
}

QString cutter_text(const Cutter& c) { return QObject::tr("Cutter %1, %2").arg(c.number).arg(text_of(c.name)); }

}  // namespace

void follow_name(const ShopState& state, const Cutter& before, Cutter& after) {
  if (after.name.empty() || (after.name == before.name && before.name == state.name_for(before)))
    after.name = state.name_for(after);
}

namespace {

// A generic one for the spindle that most machines of the shop have.
const Holder* generic_holder_for(const ShopState& state, const Cutter& cutter) {
  std::map<MachineInterface, int> count;
  for (const Machine& machine : state.machines)
    if (machine.interface) ++count[*machine.interface];
  const auto most =
      std::max_element(count.begin(), count.end(), [](const auto& a, const auto& b) { return a.second < b.second; });
  for (const Holder& h : generic_holders())
    if (most != count.end() && h.machine_side == most->first && holds(h, cutter)) return &h;
  return nullptr;
}

// The present holder if it fits, else the first that does, else a generic one, which joins the shop; with the shortest
// stick-out that both allow.
void fit_guesses(const ShopState& state, const Cutter& cutter, Assembly& assembly, Change& change) {
  const Holder* holder = state.holders.find(assembly.holder);
  if (assembly.holder_guessed && !(holder && holds(*holder, cutter))) {
    holder = nullptr;
    for (const Holder& h : state.holders)
      if (!h.retired && holds(h, cutter)) {
        holder = &h;
        break;
      }
    if (!holder) holder = generic_holder_for(state, cutter);
    if (holder && !state.holders.find(holder->id)) change.add(*holder);
    assembly.holder = holder ? holder->id : Id{};
  }
  if (!assembly.stickout_guessed) return;
  // Without a holder nothing is known of it, and a guess never clashes with what is typed.
  const double guess = holder ? proposed_stickout_mm(cutter, holder) : 0;
  if (holder && guess >= cutter.flute_length_mm.value_or(0)) assembly.stickout_mm = guess;
  else assembly.stickout_mm.reset();
}

}  // namespace

void follow_in_holder(const ShopState& state, const Cutter& cutter, Change& change) {
  for (const std::size_t i : state.assemblies.of_cutter(cutter.id)) {
    const Assembly& before = state.assemblies[i];
    Assembly after = before;
    fit_guesses(state, cutter, after, change);
    change.edit(before, after);
  }
}

MadeCutter new_cutter_of(const ShopState& state, CutterKind kind, const Id& library, UnitSystem units) {
  MadeCutter made;
  Cutter cutter = guessed_cutter(kind, is_inch(units) ? 0.375 * mm_per_inch : 10, units);
  cutter.library = library;
  if (library.is_null()) {  // the first cutter of an empty shop
    Library first;
    first.id = new_id();
    first.name = QObject::tr("Cutters").toStdString();
    cutter.library = first.id;
    made.change.add(first);
  }
  made.cutter = cutter.id = new_id();
  cutter.number = TakenNumbers(state.cutters.all(), cutter.library).free_for(cutter, state.number_blocks.all());
  cutter.name = state.name_for(cutter);
  Assembly assembly;
  assembly.id = new_id();
  assembly.cutter = cutter.id;
  assembly.holder_guessed = assembly.stickout_guessed = true;
  fit_guesses(state, cutter, assembly, made.change);
  made.change.label = QObject::tr("New %1, number %2, with sizes to be checked")
                          .arg(within_sentence(label_text(label_of(kind))))
                          .arg(cutter.number);
  made.change.add(cutter);
  made.change.add(assembly);
  return made;
}

Change toggled_favourites(const ShopState& state, const std::vector<Id>& cutters) {
  Change change;
  const bool on =
      std::any_of(cutters.begin(), cutters.end(), [&](const Id& id) { return !state.cutters.find(id)->favourite; });
  for (const Id& id : cutters) {
    Cutter after = *state.cutters.find(id);
    after.favourite = on;
    change.edit(*state.cutters.find(id), after);
  }
  change.label = on ? QObject::tr("Marked as favourite: %1").arg(cutters.size())
                    : QObject::tr("No longer a favourite: %1").arg(cutters.size());
  return change;
}

std::optional<Id> next_to_look_at(const ShopState& state, const Id& after) {
  const auto& cutters = state.cutters;
  std::size_t at = 0;
  while (at < cutters.size() && cutters[at].id != after) ++at;
  for (std::size_t step = 1; step <= cutters.size(); ++step)
    if (const Cutter& c = cutters[(at + step) % cutters.size()]; to_look_at(c)) return c.id;
  return std::nullopt;
}

Change merge_cutters(const ShopState& state, const Cutter& keep, const Cutter& gone) {
  Change change;
  change.label =
      QObject::tr("Merged %1, number %2, into number %3").arg(text_of(gone.name)).arg(gone.number).arg(keep.number);
  change.edit(keep, completed(keep, gone));
  bool has_usual = false;
  for (const std::size_t i : state.assemblies.of_cutter(keep.id)) has_usual = has_usual || state.assemblies[i].usual;
  for (const std::size_t i : state.assemblies.of_cutter(gone.id)) {
    const Assembly& a = state.assemblies[i];
    const auto mine = state.assemblies.of_cutter(keep.id);
    if (std::any_of(mine.begin(), mine.end(), [&](std::size_t j) { return same_assembly(a, state.assemblies[j]); })) {
      change.remove(a);
      continue;
    }
    Assembly moved = a;
    moved.cutter = keep.id;
    moved.usual = a.usual && !has_usual && mine.empty();
    change.edit(a, moved);
  }
  for (const std::size_t i : state.recipes.of_cutter(gone.id)) {
    Recipe moved = state.recipes[i];
    moved.cutter = keep.id;
    // Of two usual recipes for the same, the existing one stays usual.
    for (const std::size_t j : state.recipes.of_cutter(keep.id))
      if (state.recipes[j].usual && state.recipes[j].operation == moved.operation &&
          state.recipes[j].material == moved.material)
        moved.usual = false;
    change.edit(state.recipes[i], moved);
  }
  for (const Operation& o : state.operations) {
    if (o.cutter.id != gone.id) continue;
    Operation after = o;
    after.cutter.id = keep.id;
    after.cutter.library = keep.library;
    after.cutter.number = keep.number;
    change.edit(o, after);
  }
  // Marks as “not a duplicate” carry over.
  for (const Cutter& other : state.cutters) {
    if (other.id == keep.id || other.id == gone.id) continue;
    const auto said = other.accepted.find(told_apart_key(gone.id));
    if (said == other.accepted.end()) continue;
    Cutter after = other;
    after.accepted[told_apart_key(keep.id)] = said->second;
    after.accepted.erase(said->first);
    change.edit(other, after);
  }
  change.remove(gone);
  return change;
}

Change tell_apart(const Cutter& cutter, const Cutter& other, const std::string& reason) {
  Cutter after = cutter;
  after.accepted[told_apart_key(other.id)] = reason;
  Change change;
  change.label = QObject::tr("%1 and number %2 are not duplicates").arg(text_of(cutter.name)).arg(other.number);
  change.edit(cutter, after);
  return change;
}

std::vector<LikeCutter> like_cutters(const ShopState& state, const Cutter& cutter) {
  std::vector<LikeCutter> found;
  for (const Cutter& other : state.cutters)
    if (other.id != cutter.id)
      if (const auto why = likeness(cutter, other)) found.push_back({&other, *why == Likeness::order_code});
  return found;
}

Change change_insert(const ShopState& state, const Insert& before, const Insert& after, const QString& label) {
  Change change;
  change.label = label;
  change.edit(before, after);
  int carried = 0;
  for (const Cutter& c : state.cutters) {
    if (c.insert != after.id) continue;
    Cutter fresh = fitted(c, after);
    follow_name(state, c, fresh);
    if (fresh == c) continue;
    ++carried;
    change.edit(c, fresh);
  }
  if (carried > 0)
    change.label += QObject::tr(", and %n cutters with it", nullptr, carried)
                        .replace(QStringLiteral("%n"), QString::number(carried));
  return change;
}

std::vector<Rename> renames(const ShopState& state, const std::string& pattern) {
  std::vector<Rename> out;
  for (const Cutter& c : state.cutters) {
    if (c.name != state.name_for(c)) continue;  // somebody gave it a name
    std::string name = suggested_name(c, pattern);
    if (name != c.name) out.push_back({&c, std::move(name)});
  }
  return out;
}

Change change_name_pattern(const ShopState& state, const std::string& pattern) {
  const ShopSettings before = state.shop_settings();
  ShopSettings after = before;
  after.name_pattern = pattern;
  Change change;
  change.edit(before, after);
  const auto list = renames(state, pattern);
  for (const Rename& r : list) {
    Cutter renamed = *r.cutter;
    renamed.name = r.name;
    change.edit(*r.cutter, renamed);
  }
  change.label = list.empty() ? QObject::tr("Names by %1").arg(text_of(pattern))
                              : QObject::tr("Names by %1: %2 cutters renamed").arg(text_of(pattern)).arg(list.size());
  return change;
}

std::vector<Lack> lacks_of(const ShopState& state, const Job& job) {
  std::vector<Lack> lacks;
  std::set<Id> seen;
  for (const Operation& o : job.operations) {
    if (o.cutter.id.is_null() || !seen.insert(o.cutter.id).second) continue;
    const Cutter* c = state.cutters.find(o.cutter.id);
    if (!c) {
      add_lack(lacks, cutter_text(o.cutter), o.cutter,
               o.generic_cutter ? QObject::tr("generic, in no library") : QObject::tr("no longer in a library"));
      continue;
    }
    if (is_missing(*c)) add_lack(lacks, cutter_text(*c), *c, stock_text(*c));
    if (const Insert* insert = state.inserts.find(c->insert);
        insert && seen.insert(insert->id).second &&
        (is_missing(*insert) || insert->in_stock.value_or(1000) < c->flutes.value_or(1)))
      add_lack(lacks,
               QObject::tr("Insert %1 %2, %3 needed")
                   .arg(text_of(insert->name), text_of(insert->grade))
                   .arg(c->flutes.value_or(1)),
               *insert, stock_text(*insert));
    const Assembly* a = state.assembly_of(c->id);
    if (!a) continue;
    if (const Holder* holder = state.holders.find(a->holder);
        holder && is_missing(*holder) && seen.insert(holder->id).second)
      add_lack(lacks, QObject::tr("Holder %1").arg(text_of(holder->name)), *holder, stock_text(*holder));
    if (const Collet* collet = state.collets.find(a->collet);
        collet && is_missing(*collet) && seen.insert(collet->id).second)
      add_lack(lacks, QObject::tr("Collet %1").arg(text_of(collet->name)), *collet, stock_text(*collet));
  }
  return lacks;
}

std::vector<Lack> to_buy(const ShopState& state) {
  std::vector<Lack> lacks;
  const auto look = [&](const auto& things, const auto& text) {
    for (const auto& thing : things)
      if (const int n = short_by(thing); n > 0)
        add_lack(lacks, QObject::tr("%1 × %2").arg(n).arg(text(thing)), thing, stock_text(thing));
  };
  look(state.cutters, cutter_text);
  look(state.inserts,
       [](const Insert& i) { return QObject::tr("Insert %1 %2").arg(text_of(i.name), text_of(i.grade)); });
  look(state.holders, [](const Holder& h) { return QObject::tr("Holder %1").arg(text_of(h.name)); });
  look(state.collets, [](const Collet& c) { return QObject::tr("Collet %1").arg(text_of(c.name)); });
  return lacks;
}

}  // namespace pecorra
