// The resolver: cutter + material + machine + operation -> cutting conditions, with the trail built as it computes.
//
// Tables are compiled once into flat curves (rows of one key over the diameter). A query looks at the few curves of its
// kind, operation and material, sorted by one lexicographic key: level, then the narrower key, then the nearer diameter.
#pragma once

#include <array>
#include <cstdint>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <unordered_map>
#include <vector>

#include "core/conditions/conditions.h"
#include "core/cutter/edge_material.h"
#include "core/mechanics/chip.h"
#include "core/tables/condition_table.h"

namespace pecorra {

// The parts of a row's key that a cutter must match, packed: equal under the row's mask.
struct KeyMatch {
  std::uint64_t maker_series = 0, rest = 0;
  bool fits(const KeyMatch& mask, const KeyMatch& cutter) const {
    return (((cutter.maker_series ^ maker_series) & mask.maker_series) | ((cutter.rest ^ rest) & mask.rest)) == 0;
  }
};

// A cutter as the resolver sees it; make once, use for any number of queries on the same resolver.
struct CutterKey {
  bool draft = true;
  CutterKind kind = CutterKind::end_mill;
  OperationSet operations = 0;  // what it can do
  KeyMatch match;
  int flutes = 0;
  double diameter_mm = 0;
  double max_rpm = std::numeric_limits<double>::infinity();
  double edge_radius_mm = 0;
  EdgeShape edge;
  bool depth_counts = false;  // the effective diameter depends on the depth
  double rpm_per_speed = 0;   // 1000/(π·D), and its inverse
  double speed_per_rpm = 0;
  double per_flute = not_given;
  double flute_length_mm = 0, pitch_mm = 0;  // 0: not known
  std::shared_ptr<const EdgeFactor> edge_factor;  // on values of starter rows; none: 1
};

struct MaterialKey {
  int material = -1;  // interned; -1: no row names it
  MaterialGroup group = MaterialGroup::P;
  double hardness_hb = not_given;
};

struct MachineKey {
  double min_rpm = 0;
  double max_rpm = std::numeric_limits<double>::infinity();
  double max_feed_mm_min = std::numeric_limits<double>::infinity();
  std::uint8_t coolants = 0;  // bit per Coolant
};

// A step that is rounded down to, with its inverse (grown by 10⁻¹²) at hand.
struct Step {
  double size;
  double inverse;
};
struct Rounding {
  Step n, vf;
  Rounding(double n_step_rpm = 10, double vf_step_mm_min = 10) : n{n_step_rpm, (1 + 1e-12) / n_step_rpm}, vf{vf_step_mm_min, (1 + 1e-12) / vf_step_mm_min} {}
};

struct Query {
  OperationKind operation = OperationKind::side_rough;
  double pace = 100;
  double ap_mm = not_given;  // asked for instead of what the row says
  double ae_mm = not_given;
  double own_n_rpm = not_given;  // typed in the operation
  double own_vf_mm_min = not_given;
  std::optional<SourceKind> only;  // follow this source and no other
  Rounding rounding;
};

class Resolver {
 public:
  // `starter_rules`: where no row of any table fits, the starter rules answer (see starter_rules.h).
  explicit Resolver(const std::vector<ConditionTable>& tables, EdgeFactors factors = {}, bool starter_rules = false);

  CutterKey key_of(const Cutter& cutter) const;
  MaterialKey key_of(const WorkMaterial& material) const;
  MachineKey key_of(const Machine& machine) const;

  // Values only.
  Resolution resolve(const CutterKey&, const MaterialKey&, const MachineKey&, const Query&) const;
  // Values and how they came about; without an answer the trail says which key failed and what is near.
  Resolution resolve(const CutterKey&, const MaterialKey&, const MachineKey&, const Query&, Trail& trail) const;
  const EdgeFactors& factors() const { return factors_; }

  std::size_t curve_count() const { return curves_.size(); }

 private:
  // The ranges stand last: only a pace and a trail read them.
  enum ValueIndex { vc, feed, ap_mm, ap_per_d, ae_mm, ae_per_d, plunge, ramp, vc_low, vc_high, feed_low, feed_high, value_count, without_ranges = vc_low };
  using Values = std::array<double, value_count>;
  // A row on its curve, and how its values change towards the next one.
  struct Point {
    double diameter_mm;
    Values values;
    Values slopes;  // per mm; zero at the last point
    double half_way_mm;  // to the next point
    bool one_sided; // a value stands at only one end of the way to the next point
    int row;
    bool proven;
  };
  struct Curve {
    KeyMatch match, mask;
    std::uint64_t rank;  // level, then how narrow the key is; smaller wins
    double hardness_from, hardness_to;
    double low_mm, high_mm;  // of its rows
    std::uint32_t first, count;
    int table;
    int material;  // -1: the group
    MaterialGroup group;
    FeedKind feed_kind;
    Coolant coolant;
    TableLevel level;
    bool ranged;
    unsigned level_rank() const { return static_cast<unsigned>(rank >> 32); }
  };
  // The values at a diameter, and the rows they lie between; one and the same where it is a row's own.
  struct Reading {
    Values values;
    const Point *lo, *hi;
  };
  struct Found {
    const Curve* curve = nullptr;
    double distance_mm = 0;  // of the diameter beyond the rows
    int fitting = 0;         // sources that would fit; counted for the trail only
  };

  template <class Reporter>
  Found find(const CutterKey&, const MaterialKey&, const Query&) const;
  template <int count>
  Reading read(const Curve&, double diameter_mm) const;
  void link(Curve&);
  struct Draft;  // what is being worked out
  template <class Reporter>
  bool take_rule(Draft&, Reporter&) const;
  template <class Reporter>
  void scale_by_edge(Draft&, Reporter&) const;
  template <class Reporter>
  bool take_row(Draft&, Reporter&) const;
  template <class Reporter>
  void pace(Draft&, Reporter&) const;
  template <class Reporter>
  void thin_chip(Draft&, Reporter&) const;
  template <class Reporter>
  bool limit_and_round(Draft&, Reporter&) const;
  template <class Reporter>
  Resolution run(const CutterKey&, const MaterialKey&, const MachineKey&, const Query&, Reporter&) const;
  std::uint32_t intern(const std::string& text);
  std::uint32_t find_interned(const std::string& text) const;
  static KeyMatch match_of(std::uint32_t maker, std::uint32_t series, std::uint32_t coating, std::uint32_t tool_material, std::uint32_t flutes);
  // Slots: the groups, then the materials that rows name.
  std::span<const Curve> curves_of(CutterKind kind, OperationKind operation, std::uint32_t from_slot, std::uint32_t to_slot) const;
  // Which parts of a curve's key do not fit, a bit of `Misfit` each.
  static unsigned misfit(const Curve&, const CutterKey&, const MaterialKey&);
  void explain_no_row(const CutterKey&, const MaterialKey&, const Query&, Trail&) const;

  const std::vector<ConditionTable>* tables_;
  EdgeFactors factors_;
  bool starter_rules_ = false;
  std::vector<Point> points_;
  std::vector<Curve> curves_;
  std::uint32_t slots_ = 0;
  std::vector<std::uint32_t> first_curve_;  // by kind, operation and slot
  std::unordered_map<std::string, std::uint32_t> names_;
  std::unordered_map<Id, int> materials_;
};

// Rounds down to the step; small values keep at least two digits, so that nothing is rounded to zero.
double round_down_small(double value, const Step& step);
inline double round_down(double value, const Step& step) {
  const double steps = value * step.inverse;  // with the little that makes up for a step too few
  // Cutting off a positive number is rounding down, and cheaper than a call of floor.
  if (steps >= 10.00000001 && steps < 1e15) return static_cast<double>(static_cast<std::int64_t>(steps)) * step.size;
  return round_down_small(value, step);
}

}  // namespace pecorra
