// The answer to "how fast does this cutter run in this": values, where they come from, and the trail that led there.
#pragma once

#include <initializer_list>
#include <limits>
#include <memory>
#include <string>
#include <vector>

#include "core/base/message.h"
#include "core/machine/machine.h"

namespace pecorra {

enum class SourceKind { own, own_for_cutter, proven_step, recipe, maker_table, shop_table, starter_table, none };
template <>
std::span<const Choice> choices_of<SourceKind>();

inline constexpr double not_given = std::numeric_limits<double>::quiet_NaN();

// Flat and without allocation: a million of these are made for a chart. NaN is "not given".
struct Conditions {
  double n_rpm = not_given;
  double vf_mm_min = not_given;       // of the centre
  double vf_edge_mm_min = not_given;  // on a circular path
  double path_diameter_mm = not_given;
  double vc_m_min = not_given;
  double fz_mm = not_given;
  double fn_mm = not_given;
  double d_eff_mm = not_given;
  double ap_mm = not_given;
  double ae_mm = not_given;
  double plunge_mm_min = not_given;
  double ramp_mm_min = not_given;
  double ramp_n_rpm = not_given;   // where the row wants another speed on a slope
  double lead_mm_min = not_given;  // into and out of the cut
  int dial_position = 0;           // of a machine with a dial
  Coolant coolant = Coolant::off;
};

// Why there are no conditions.
enum class NoAnswer { none, cannot_do, draft, no_row, below_least_speed, no_speed, never };
// Its code on the command line and in files.
std::string_view key_of(NoAnswer reason);

struct Resolution {
  Conditions conditions;
  SourceKind source = SourceKind::none;
  NoAnswer reason = NoAnswer::none;
  bool guess = false;
  bool proven = false;
  bool held_speed = false;  // a limit of the machine or cutter set the speed
  bool held_feed = false;
  bool coolant_refused = false;  // the source asks for one that the material or the edge does not allow
  Id table;                      // null: a recipe, or a rule
  Id row;                        // the row the values start from (the nearer of two), or the recipe

  bool found() const { return source != SourceKind::none; }
};

// The row or recipe that a trail step links to.
struct TrailTarget {
  Id table;
  Id row;  // without a table: a recipe
  bool is_null() const { return table.is_null() && row.is_null(); }
  bool operator==(const TrailTarget&) const = default;
};

struct TrailStep {
  std::string step;  // stable code: "source", "interpolated", "depth", "pace", "chip_thinning", "speed", "limit", …
  Details values;
  TrailTarget target;
  bool operator==(const TrailStep&) const = default;
};

using Trail = std::vector<TrailStep>;

// One that many copies of an object share.
class SharedTrail {
 public:
  SharedTrail() = default;
  SharedTrail(Trail trail) : held_(trail.empty() ? nullptr : std::make_shared<const Trail>(std::move(trail))) {}
  SharedTrail(std::initializer_list<TrailStep> steps) : SharedTrail(Trail(steps)) {}
  operator const Trail&() const { return steps(); }
  const Trail& steps() const {
    static const Trail none;
    return held_ ? *held_ : none;
  }
  auto begin() const { return steps().begin(); }
  auto end() const { return steps().end(); }
  bool empty() const { return steps().empty(); }
  std::size_t size() const { return steps().size(); }
  const TrailStep& back() const { return steps().back(); }
  void clear() { held_.reset(); }
  bool operator==(const SharedTrail& other) const { return held_ == other.held_ || steps() == other.steps(); }

 private:
  std::shared_ptr<const Trail> held_;
};

}  // namespace pecorra
