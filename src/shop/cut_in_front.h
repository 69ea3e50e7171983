// The current cut in full: shown by the bench, the cut board and the cut sheet.
#pragma once

#include <QString>

#include "shop/evaluation.h"

namespace pecorra {

struct CutInFront {
  HeldCutter held;
  std::optional<Holder> holder;
  WorkMaterial material;
  Machine machine;
  OperationKind operation = OperationKind::side_rough;
  QString title;    // of the cutter
  QString about;    // "side roughing in 42CrMo4 +QT on Fettler 6"
  Cut as_it_comes;  // without what is tried
  CutResults as_it_comes_results;
  Cut cut;
  CutReport report;
  Trail trail;
  std::optional<LifeFigures> life;
  Coolant coolant = Coolant::off;
  bool tried = false;
  bool guess = false;
  UnitSystem units = UnitSystem::metric;

  CutModel model() const { return CutModel(held.cutter, held.assembly, material, machine); }
  // The value of an input of WhatIf; the resolved one where none is tried.
  std::optional<double> value_of(std::string_view property, bool tried_too = true) const;
  bool is_rigid() const;  // a deflection is shown although the holder is not known
};

// Its results as text with units, one line each: "Removal rate", "28 cm³/min".
struct FigureLine {
  QString symbol, label, text;
  std::string key;
};
std::vector<FigureLine> figure_lines(const CutInFront& cut, UnitSystem units);
// Tool life and the related speeds; empty if nothing is known.
std::vector<FigureLine> life_lines(const CutInFront& cut, UnitSystem units);

}  // namespace pecorra
