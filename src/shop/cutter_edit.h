// Changes that affect more than one cutter: merging, inserts, names from the shop's pattern; and the shopping list.
#pragma once

#include "shop/change.h"

namespace pecorra {

// A suggested name follows the sizes; an empty one is suggested again.
void follow_name(const ShopState& state, const Cutter& before, Cutter& after);

// Adds to the change what keeps guessed holders and stick-outs in line with the cutter.
void follow_in_holder(const ShopState& state, const Cutter& cutter, Change& change);

// A cutter of that kind with proposed sizes, all guesses, in the first holder that takes it. A null library: creates
// one.
struct MadeCutter {
  Change change;
  Id cutter;
};
MadeCutter new_cutter_of(const ShopState& state, CutterKind kind, const Id& library, UnitSystem units);
// Makes them all favourites; if all are already, none.
Change toggled_favourites(const ShopState& state, const std::vector<Id>& cutters);
// The next cutter after this one that needs attention, wrapping around; nothing if there is none.
std::optional<Id> next_to_look_at(const ShopState& state, const Id& after);

// Merges `gone` into `keep`: assemblies move over (equal ones are kept once), operations of jobs point to `keep` and
// keep all their values, what only `gone` states is taken over, counts are added. One step.
Change merge_cutters(const ShopState& state, const Cutter& keep, const Cutter& gone);
// Marks them as not duplicates, for good.
Change tell_apart(const Cutter& cutter, const Cutter& other, const std::string& reason);
// Possible duplicates of this cutter, with the reason.
struct LikeCutter {
  const Cutter* cutter = nullptr;
  bool by_order_code = false;
};
std::vector<LikeCutter> like_cutters(const ShopState& state, const Cutter& cutter);

// Changes the insert and every cutter that carries it.
Change change_insert(const ShopState& state, const Insert& before, const Insert& after, const QString& label);

// The names a new pattern would change: those made by the present pattern.
struct Rename {
  const Cutter* cutter = nullptr;
  std::string name;
};
std::vector<Rename> renames(const ShopState& state, const std::string& pattern);
// The pattern, and those names with it.
Change change_name_pattern(const ShopState& state, const std::string& pattern);

// What a job needs and the shop does not have, or has too few of.
struct Lack {
  QString what;        // "Cutter 219, End mill Ø12 × 26"
  QString why;         // "none in stock, 2 on order"
  QString order_code;  // with its maker; may be empty
};
std::vector<Lack> lacks_of(const ShopState& state, const Job& job);
// Everything below its wanted stock, including what is on order.
std::vector<Lack> to_buy(const ShopState& state);

}  // namespace pecorra
