// Changes of cutters that reach further than one cutter: merging, inserts, names by the shop's pattern; and what is to
// be bought.
#pragma once

#include "shop/change.h"

namespace pecorra {

// A name that was the suggested one follows the sizes; an empty one is suggested anew.
void follow_name(const ShopState& state, const Cutter& before, Cutter& after);

// Guessed holders and stick-outs of the cutter brought in line with it, as part of the change.
void follow_in_holder(const ShopState& state, const Cutter& cutter, Change& change);

// A cutter of that kind with proposed sizes, all of them guesses, in the first holder that takes it. A null library: a
// first one is made.
struct MadeCutter {
  Change change;
  Id cutter;
};
MadeCutter new_cutter_of(const ShopState& state, CutterKind kind, const Id& library, UnitSystem units);
// Makes them all favourites; if all are already, none.
Change toggled_favourites(const ShopState& state, const std::vector<Id>& cutters);
// The next one that needs attention, cycling after this one; nothing where there is none.
std::optional<Id> next_to_look_at(const ShopState& state, const Id& after);

// `gone` becomes `keep`: assemblies move over (those that are the same stand once), operations of jobs point to `keep`
// and keep every value they have, what only `gone` says is taken over, the counts are added. One step.
Change merge_cutters(const ShopState& state, const Cutter& keep, const Cutter& gone);
// Marks them as no duplicates, permanently.
Change tell_apart(const Cutter& cutter, const Cutter& other, const std::string& reason);
// Possible duplicates of this cutter, with the reason.
struct LikeCutter {
  const Cutter* cutter = nullptr;
  bool by_order_code = false;
};
std::vector<LikeCutter> like_cutters(const ShopState& state, const Cutter& cutter);

// The insert, and every cutter that carries it.
Change change_insert(const ShopState& state, const Insert& before, const Insert& after, const QString& label);

// Names that a pattern would change: cutters that are called by the present pattern.
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
// Everything below its wanted stock, orders counted.
std::vector<Lack> to_buy(const ShopState& state);

}  // namespace pecorra
