// What moved at its source since a job took its copy: conditions, cutter, stick-out; and what to do about it, one
// operation at a time.
#pragma once

#include <QStringList>
#include <vector>

#include "shop/change.h"
#include "shop/evaluation.h"
#include "shop/operation_edit.h"

namespace pecorra {

struct SourceChange {
  int operation = 0;  // its place
  Operation now;      // as it would be from its sources today
  QStringList what;   // "cutter: flute length 26 → 30 mm", "row 3 of Steel → row 4 of Steel", "values"
  bool cutter = false, conditions = false, stickout = false;
};
std::vector<SourceChange> source_changes(const ShopState& state, const Resolver& resolver, const Job& job,
                                         UnitSystem units);

// Whether its cutter is another in the library by now, and that was not seen and kept. Quick where nothing changed.
bool cutter_moved(const ShopState& state, const Operation& operation);

// Of the operations at these places.
Change take_sources(const Job& job, const std::vector<SourceChange>& changes, const Places& operations);
Change keep_copies(const Job& job, const std::vector<SourceChange>& changes, const Places& operations);
// What the operation has, as a recipe of its cutter in the library, or as a row of the table of its series, with where
// it was found good. Fails where the cutter is in no library.
enum class BackAs { recipe, row };
tl::expected<Change, QString> back_to_library(const ShopState& state, const Job& job, int operation,
                                              BackAs as = BackAs::recipe);

// What of a cutter a path or its conditions depend on, as a short text: equal for equal ones.
std::string cutter_print(const Cutter& cutter);

}  // namespace pecorra
