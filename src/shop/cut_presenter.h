// What the bench shows of a cut, for a cutter in the context and for an operation of a job.
#pragma once

#include <QStringList>

#include "shop/cut_in_front.h"

namespace pecorra {

struct ShownConditions {
  std::optional<CutInFront> cut;
  Trail trail;
  Advice advice;
  QString advice_cutter;  // as it is called
  QString why_not;        // instead of figures
  QString offer;          // label of the button below; empty: none
  QString second_offer;
  QStringList followed;  // what can be followed, automatic first; fewer than two: no choice
  int follows = 0;
};

// What a cutter follows: nothing: automatic; the null id: tables only; else a recipe.
using Followed = std::optional<Id>;
// What can be followed in that context, in the order of ShownConditions::followed.
std::vector<Followed> followed_of(const ShopState& state, const Cutter& cutter, const Context& context);

struct CutterCutQuestion {
  const Cutter& cutter;
  const Assembly* held;  // none: unchanged
  const Context& context;
  Followed follow{};
  const WhatIf& tried;
  bool may_keep = true;  // as a recipe; needs a shop that can be written
};
ShownConditions present_cut(const ShopState& state, const Resolver& resolver, const CutterCutQuestion& question);

// `path`: what its path tells.
ShownConditions present_cut(const ShopState& state, const JobHead& job, const Operation& operation,
                            const PathFacts& path, const WhatIf& tried, UnitSystem units);
// How the operation's cutter is held, with the trial stick-out.
HeldCutter held_for(const ShopState& state, const Operation& operation, const WhatIf& tried);

// One input of a cut, dragged or typed, clamped to what is possible.
WhatIf tried_with(const WhatIf& tried, const std::optional<CutInFront>& cut, std::string_view property, double value);

}  // namespace pecorra
