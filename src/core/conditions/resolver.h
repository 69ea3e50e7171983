// The resolver: cutter + material + machine + operation -> cutting conditions, with the trail built as it computes.
//
// Tables are compiled once into flat curves (rows of one key over the diameter). A query looks at the few curves of its
// kind, operation and material, sorted by one lexicographic key: level, then the narrower key, then the nearer diameter.
#pragma once

#include <array>
#include <cstdint>
#include <optional>
#include <span>
#include <string>
#include <unordered_map>
#include <vector>

#include "core/conditions/conditions.h"
#include "core/mechanics/chip.h"
#include "core/tables/condition_table.h"

namespace pecorra {

// A cutter as the resolver sees it; make once, use for any number of queries on the same resolver.
struct CutterKey {
  bool draft = true;
  CutterKind kind = CutterKind::end_mill;
  int tool_material = -1;
  int coating = -1, maker = -1, series = -1;  // interned
  int flutes = 0;
  double diameter_mm = 0;
  double max_rpm = std::numeric_limits<double>::infinity();
  double edge_radius_mm = 0;
  EdgeShape edge;
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

struct Rounding {
  double n_step_rpm = 10;
  double vf_step_mm_min = 10;
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
  explicit Resolver(const std::vector<ConditionTable>& tables);

  CutterKey key_of(const Cutter& cutter) const;
  MaterialKey key_of(const WorkMaterial& material) const;
  MachineKey key_of(const Machine& machine) const;

  // Values only.
  Resolution resolve(const CutterKey&, const MaterialKey&, const MachineKey&, const Query&) const;
  // Values and how they came about; without an answer the trail says which key failed and what is near.
  Resolution resolve(const CutterKey&, const MaterialKey&, const MachineKey&, const Query&, Trail& trail) const;

  std::size_t curve_count() const { return curves_.size(); }

 private:
  struct Point {
    double diameter_mm;
    double vc, vc_low, vc_high;
    double feed, feed_low, feed_high;
    double ap_mm, ap_per_d, ae_mm, ae_per_d;
    double plunge, ramp;
    int row;
    bool proven;
  };
  struct Curve {
    std::uint32_t first, count;
    int material;  // -1: the group
    MaterialGroup group;
    double hardness_from, hardness_to;
    int tool_material, coating, maker, series, flutes;  // -1 or 0: any
    FeedKind feed_kind;
    Coolant coolant;
    TableLevel level;
    int table;
    std::uint32_t narrowness;  // smaller is narrower
  };

  template <class Reporter>
  Resolution run(const CutterKey&, const MaterialKey&, const MachineKey&, const Query&, Reporter&) const;
  int intern(const std::string& text);
  int find_interned(const std::string& text) const;
  // Slots: the groups, then the materials that rows name.
  std::span<const Curve> curves_of(CutterKind kind, OperationKind operation, std::uint32_t from_slot, std::uint32_t to_slot) const;
  // Which part of a curve's key does not fit: 0 fits, else a bit of `Misfit`.
  unsigned misfit(const Curve&, const CutterKey&, const MaterialKey&) const;
  void explain_no_row(const CutterKey&, const MaterialKey&, const Query&, Trail&) const;

  const std::vector<ConditionTable>* tables_;
  std::vector<Point> points_;
  std::vector<Curve> curves_;
  std::uint32_t slots_ = 0;
  std::vector<std::uint32_t> first_curve_;  // by kind, operation and slot
  std::unordered_map<std::string, int> names_;
  std::unordered_map<Id, int> materials_;

};

// Rounds down to the step; small values keep at least two digits, so that nothing is rounded to zero.
double round_down(double value, double step);

}  // namespace pecorra
