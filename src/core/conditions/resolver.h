// The resolver: cutter + material + machine + operation -> cutting conditions, with the trail built as it computes.
//
// Tables are compiled once into flat curves (rows of one key over the diameter). A query looks at the few curves of its
// kind, operation and material, sorted by one lexicographic key: level, then the narrower key, then the nearer
// diameter.
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
#include "core/material/hazard.h"
#include "core/mechanics/chip.h"
#include "core/mechanics/force_law.h"
#include "core/never/never_rule.h"
#include "core/tables/recipe.h"

namespace pecorra {

// The parts of a row's key that a cutter must match, packed: equal under the row's mask.
struct KeyMatch {
  std::uint64_t maker_series = 0, rest = 0;
  bool fits(const KeyMatch& mask, const KeyMatch& cutter) const {
    return (((cutter.maker_series ^ maker_series) & mask.maker_series) | ((cutter.rest ^ rest) & mask.rest)) == 0;
  }
};

// A cutter as the resolver sees it: made once, then used for any number of queries on the same resolver.
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
  double flute_length_mm = 0, pitch_mm = 0;     // 0: not known
  double stickout_mm = not_given;               // of its assembly; rows can hold up to a length
  std::string holder;                           // name; empty: not known
  double bending = 1;                           // deflection at that stick-out relative to the usual one, at least 1
  std::uint32_t first_recipe = 0, recipes = 0;  // of this cutter
  bool no_factors = false;
  std::shared_ptr<const EdgeFactor> edge_factor;  // on values of starter rows; none: 1
  NeverRules::Mask never{};
  CoolantSet coolants = every_coolant;  // that its edge allows
  CoolantSet led = every_coolant;       // that reach its edge: through the spindle only with channels
  double plunge_reach_mm = 0;           // step that it can plunge without cutting to the centre
  double rake_deg = not_given;
  double axial_sine = 1;         // of the angle between edge and axis, for what is fed along the axis
  double thread_mm = not_given;  // major diameter of the thread that a thread mill is for
  double tip_mm = 0;             // diameter of a ball tip; 0: none
};

struct MaterialKey {
  Id id;
  std::string name;
  int material = -1;  // interned; -1: no row names it
  MaterialGroup group = MaterialGroup::P;
  double hardness_hb = not_given;
  NeverRules::Mask never{};
  CoolantSet coolants = every_coolant;  // that its hazard permits
  Hazard hazard = Hazard::none;
  std::optional<Subgroup> subgroup;
  std::optional<ForceLaw> force;
  double rake_ref_deg = 0;
};

struct MachineKey {
  std::string name;
  double min_rpm = 0;
  double max_rpm = std::numeric_limits<double>::infinity();
  // Greatest feed in the plane and along the axis, by group.
  std::array<double, material_group_count> plane_feed_mm_min{}, axis_feed_mm_min{};
  std::array<FeedLimit, material_group_count> plane_by{}, axis_by{};
  double plunge = 0.4, ramp = 0.5, lead = 1;  // rules where no row says it
  bool own_rules = false;                     // stated on the machine
  std::uint8_t duty = 0;                      // 1 + DutyClass; 0: not stated
  std::shared_ptr<const std::vector<double>> dial_rpm;
  std::shared_ptr<const std::vector<PowerPoint>> power;  // of the motor
  double efficiency = 1;
  std::uint8_t coolants = 0;  // bit per Coolant
};

// A rounding step with its precomputed inverse (enlarged by 10⁻¹²).
struct Step {
  double size;
  double inverse;
};
struct Rounding {
  Step n, vf;
  Rounding(double n_step_rpm = 10, double vf_step_mm_min = 10)
      : n{n_step_rpm, (1 + 1e-12) / n_step_rpm}, vf{vf_step_mm_min, (1 + 1e-12) / vf_step_mm_min} {}
};

struct Query {
  OperationKind operation = OperationKind::side_rough;
  double pace = 100;
  double ap_mm = not_given;  // overrides the row's value
  double ae_mm = not_given;
  double hole_depth_mm = not_given;     // rows of hole-making hold up to that as up to a depth of cut
  double path_diameter_mm = not_given;  // of the hole that a circular path makes
  bool at_edge = false;                 // the feed of the edge, whatever circle the path makes
  double own_n_rpm = not_given;         // typed in the operation
  double own_vf_mm_min = not_given;
  std::optional<SourceKind> only;  // follow this source and no other
  int recipe = -1;                 // this recipe, see Resolver::recipe_place
  bool no_recipes = false;         // tables only
  std::optional<Coolant> own_coolant;
  bool conventional = false;  // else climb milling
  bool skin = false;          // of a casting or forging is cut
  Rounding rounding;
};

// What a resolver is built from besides tables.
struct ResolverOptions {
  EdgeFactors edge;
  std::shared_ptr<const std::vector<Recipe>> recipes{};
  bool starters = true;        // starter tables and rules answer where no row of the shop or a maker fits
  bool starter_rules = false;  // the rules too, where no row of any table fits (see starter_rules.h)
  bool factors = true;
  double worn_factor = 1.3;                   // on the force of a worn edge
  std::shared_ptr<const NeverRules> never{};  // none: nothing is forbidden
};

// Which parts of a row's key do not fit.
enum Misfit : unsigned {
  wrong_material = 1,
  wrong_tool_material = 2,
  wrong_maker = 4,
  wrong_flutes = 8,
  wrong_hardness = 16,
  wrong_coating = 32,
  wrong_duty = 64,
  wrong_cut = 128
};

struct Recorder;
struct StarterQuestion;
StarterQuestion question_of(const CutterKey& cutter, const MaterialKey& material, OperationKind operation);

class Resolver {
 public:
  using Tables = std::shared_ptr<const std::vector<ConditionTable>>;
  // Keeps its own copies of its input, so that other threads can use it while the shop changes.
  explicit Resolver(Tables tables, ResolverOptions options = {});
  // The same, from a copy.
  explicit Resolver(const std::vector<ConditionTable>& tables, ResolverOptions options = {})
      : Resolver(std::make_shared<const std::vector<ConditionTable>>(tables), std::move(options)) {}

  // `stickout_mm`: NaN where not known.
  CutterKey key_of(const Cutter& cutter, double stickout_mm = not_given) const;
  MaterialKey key_of(const WorkMaterial& material) const;
  MachineKey key_of(const Machine& machine) const;

  // Values only.
  Resolution resolve(const CutterKey&, const MaterialKey&, const MachineKey&, const Query&) const;
  // Values and how they came about. Without an answer the trail says which keys failed and what comes close.
  Resolution resolve(const CutterKey&, const MaterialKey&, const MachineKey&, const Query&, Trail& trail) const;
  const EdgeFactors& factors() const { return options_.edge; }
  // For Query::recipe; -1 where there is none.
  int recipe_place(const Id& recipe) const;

  std::size_t curve_count() const { return curves_.size(); }

 private:
  // The ranges stand last: only a pace and a trail read them.
  enum ValueIndex {
    vc,
    feed,
    ap_mm,
    ap_per_d,
    ae_mm,
    ae_per_d,
    plunge,
    ramp,
    vc_low,
    vc_high,
    feed_low,
    feed_high,
    value_count,
    without_ranges = vc_low
  };
  using Values = std::array<double, value_count>;
  // A row on its curve, and how its values change towards the next one.
  struct Point {
    double diameter_mm;
    Values values;
    Values slopes;       // per mm; zero at the last point
    double half_way_mm;  // to the next point
    bool one_sided;      // some value is given at only one of the two points
    int row;
    bool proven;
  };
  // Depth, width and stick-out up to which a curve holds; infinite: any. Kept separately, as few curves have them and
  // all are searched.
  struct Bounds {
    double ap_mm, ap_per_d, ae_mm, ae_per_d, length_mm, length_per_d;
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
    bool detailed;  // some row states detail feeds of its own
    bool finish;    // the finish values of rows for roughing
    bool no_factors;
    bool special;          // a duty class, or conditional
    std::uint8_t duty;     // 1 + DutyClass it asks for; 0: any
    bool conditional;      // holds up to some depth, width or length:
    std::uint32_t bounds;  // those, in bounds_
    unsigned level_rank() const { return static_cast<unsigned>(rank >> 32); }
  };
  // The values at a diameter, and the rows they lie between; the same row twice at a row's own diameter.
  struct Reading {
    Values values;
    const Point *lo, *hi;
  };
  struct Found {
    const Curve* curve = nullptr;
    double distance_mm = 0;  // of the diameter beyond the rows
  };

  template <class Reporter>
  Found find(const CutterKey&, const MaterialKey&, const MachineKey&, const Query&,
             std::vector<const Curve*>* fitting) const;
  bool special_fits(const Curve&, const CutterKey&, const MachineKey&, const Query&) const;
  bool holds(const Curve&, const CutterKey&, const Query&) const;
  const ConditionRow& row_of(const Curve& curve, const Point& point) const;
  template <int count>
  Reading read(const Curve&, double diameter_mm) const;
  void link(Curve&);
  struct Draft;  // what is being worked out
  // Whether what a row was proven with is what there is here; else the report says what is not.
  template <class Reporter>
  static bool is_proven_here(const ConditionRow&, const Draft&, Reporter&);
  template <class Reporter>
  bool take_recipe(Draft&, Reporter&) const;
  template <class Reporter>
  bool take_rule(Draft&, Reporter&) const;
  template <class Reporter>
  bool take_factor(Draft&, Reporter&) const;
  template <class Reporter>
  void take_curve(Draft&, const Found&, double speed_factor, double feed_factor, Reporter&) const;
  // The steps that starter values take besides: what the material, the way of milling and the edge do to them, and the
  // limits that they keep by themselves.
  template <class Reporter>
  void scale_starter(Draft&, bool for_group, Reporter&) const;
  template <class Reporter>
  void fit_starter(Draft&, Reporter&) const;
  template <class Reporter>
  void fit_chip(Draft&, Reporter&) const;
  template <class Reporter>
  void fit_power(Draft&, Reporter&) const;
  double power_used(const Draft&) const;
  static double rpm_of(const Draft&);
  template <class Reporter>
  void scale_by_material(Draft&, Reporter&) const;
  template <class Reporter>
  void scale_by_manner(Draft&, Reporter&) const;
  template <class Reporter>
  void detail_feeds(Draft&, Reporter&) const;
  template <class Reporter>
  void turn_dial(Draft&, double asked, Reporter&) const;
  template <class Reporter>
  void scale_by_edge(Draft&, Reporter&) const;
  // Sets the coolant asked for by the source or the operation, as far as machine, material and edge allow.
  // `of_starter`: stated for a whole group, so a coolant that is not allowed is not an error.
  template <class Reporter>
  static void take_coolant(Draft&, Coolant wanted, bool of_starter, Reporter&);
  template <class Reporter>
  bool is_forbidden(const CutterKey&, const MaterialKey&, const Query&, Resolution&, Reporter&) const;
  template <class Reporter>
  bool take_row(Draft&, Reporter&) const;
  template <class Reporter>
  void pace(Draft&, Reporter&) const;
  template <class Reporter>
  void thin_chip(Draft&, Reporter&) const;
  template <class Reporter>
  void circular_path(Draft&, Reporter&) const;
  template <class Reporter>
  bool limit_and_round(Draft&, Reporter&) const;
  template <class Reporter>
  Resolution run(const CutterKey&, const MaterialKey&, const MachineKey&, const Query&, Reporter&) const;
  std::uint32_t intern(const std::string& text);
  std::uint32_t find_interned(const std::string& text) const;
  static KeyMatch match_of(std::uint32_t maker, std::uint32_t series, std::uint32_t coating,
                           std::uint32_t tool_material, std::uint32_t flutes);
  // Slots: the groups, then the materials that rows name.
  std::span<const Curve> curves_of(CutterKind kind, OperationKind operation, std::uint32_t from_slot,
                                   std::uint32_t to_slot) const;
  // Which parts of a curve's key do not fit, a bit of `Misfit` each.
  unsigned misfit(const Curve&, const CutterKey&, const MaterialKey&, const MachineKey&, const Query&) const;
  void explain_no_row(const CutterKey&, const MaterialKey&, const MachineKey&, const Query&, Trail&) const;
  void explain_beaten(const CutterKey&, const Curve& taken, double distance_mm,
                      const std::vector<const Curve*>& fitting, Recorder&) const;
  // Adds the rows as one curve, and their finishing values as another.
  void add_curve(int table, const ConditionTable&, const std::vector<std::size_t>& rows, bool finish,
                 std::vector<std::uint32_t>& keys);

  Tables tables_;
  ResolverOptions options_;
  std::vector<std::uint32_t> recipes_;  // indices of usable recipes, by cutter, the usual ones first
  std::unordered_map<Id, std::pair<std::uint32_t, std::uint32_t>> recipes_of_;  // first and count by cutter
  std::vector<Point> points_;
  std::vector<Id> row_ids_, table_ids_;  // of each point and table: answers carry them
  std::vector<Curve> curves_;
  std::vector<Bounds> bounds_;
  std::uint32_t slots_ = 0;
  std::vector<std::uint32_t> first_curve_;  // by kind, operation and slot
  std::unordered_map<std::string, std::uint32_t> names_;
  std::unordered_map<Id, int> materials_;
};

// Rounds down to the step. Small values keep at least two digits, so that nothing becomes zero.
double round_down_small(double value, const Step& step);
inline double round_down(double value, const Step& step) {
  const double steps =
      value * step.inverse;  // the inverse is slightly large, so that exact multiples do not fall one step short
  // Truncating a positive number rounds it down, and is cheaper than calling floor.
  if (steps >= 10.00000001 && steps < 1e15) return static_cast<double>(static_cast<std::int64_t>(steps)) * step.size;
  return round_down_small(value, step);
}

}  // namespace pecorra
