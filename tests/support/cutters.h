// Cutters for tests, made by the program's own guesses.
#pragma once

#include "core/cutter/guesses.h"
#include "core/cutter/kinds.h"
#include "core/cutter/name_pattern.h"

namespace test {

inline pecorra::Cutter cutter_of(pecorra::CutterKind kind, double diameter_mm) {
  using namespace pecorra;
  Cutter c = proposed_cutter(kind, diameter_mm);
  c.id = Id::from_name("cutter/" + std::string(key_of(kind)) + "/" + std::to_string(diameter_mm));
  c.number = 1;
  c.name = suggested_name(c);
  return c;
}
inline pecorra::Cutter end_mill(double diameter_mm) { return cutter_of(pecorra::CutterKind::end_mill, diameter_mm); }

}  // namespace test
