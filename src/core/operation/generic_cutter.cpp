#include "core/operation/generic_cutter.h"

#include <algorithm>
#include <cmath>

#include "core/cutter/kinds.h"
#include "core/cutter/kinds/threads.h"
#include "core/cutter/name_pattern.h"

namespace pecorra {

Cutter generic_cutter(const WantedCutter& wanted) {
  Cutter c = proposed_cutter(wanted.kind, wanted.diameter_mm);
  if (!wanted.thread.empty()) {
    c.thread = wanted.thread;
    follow_thread(c);
  }
  // Without a pilot it goes into any hole.
  if (wanted.kind == CutterKind::counterbore) c.step_diameter_mm = c.step_length_mm = std::nullopt;
  // A drill is fluted over all of its hole; other cutters reach down with a neck or a shank.
  const double more = std::ceil(wanted.reach_mm);
  if (c.flute_length_mm && wanted.kind == CutterKind::drill) c.flute_length_mm = std::max(*c.flute_length_mm, more);
  if (c.reach_mm) c.reach_mm = std::max({*c.reach_mm, more, c.flute_length_mm.value_or(0)});
  else if (c.flute_length_mm && wanted.kind != CutterKind::face_mill)
    c.flute_length_mm = std::max(*c.flute_length_mm, more);
  const double longest = std::max(c.reach_mm.value_or(0), c.flute_length_mm.value_or(0));
  if (c.overall_length_mm) c.overall_length_mm = std::max(*c.overall_length_mm, longest + 20);
  c.name = "Generic " + suggested_name(c);
  return c;
}

}  // namespace pecorra
