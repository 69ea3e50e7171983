// An operation of a job: what is cut with which cutter, at which conditions, from which source. It keeps copies of its
// cutter and conditions; nothing in a library changes them silently.
#pragma once

#include <map>
#include <optional>
#include <span>
#include <string>
#include <vector>

#include "core/conditions/conditions.h"
#include "core/cutter/cutter.h"
#include "core/cutter/operation_kind.h"
#include "core/feature/feature.h"
#include "core/motion/motion.h"

namespace pecorra {

// Each has a declaration, see declaration.h.
enum class PathKind {
  profile,
  drill,
  face,
  slot,
  pocket,
  helical_bore,
  spot,
  centre,
  ream,
  bore,
  back_bore,
  countersink,
  counterbore,
  tap
};
template <>
std::span<const Choice> choices_of<PathKind>();

enum class ProfileWhere { around, within, along };
template <>
std::span<const Choice> choices_of<ProfileWhere>();

enum class DepthTo { full_diameter, tip };
template <>
std::span<const Choice> choices_of<DepthTo>();

// `automatic`: by depth, drill and material.
enum class DrillCycle { automatic, straight, peck, chip_break };
template <>
std::span<const Choice> choices_of<DrillCycle>();

// How a boring bar leaves its hole: at the feed, or with the spindle stopped and its point off the wall.
enum class BoreRetract { feed, orientated };
template <>
std::span<const Choice> choices_of<BoreRetract>();

// Whether the control keeps feed and spindle in step, or the tap's holder gives.
enum class TappingKind { rigid, floating };
template <>
std::span<const Choice> choices_of<TappingKind>();

enum class EntryKind { automatic, plunge, ramp, helix, predrilled };
template <>
std::span<const Choice> choices_of<EntryKind>();

// Who keeps the cutter's radius off the wall: the path, or the control with a correction (G41, G42).
enum class Compensation { path, control };
template <>
std::span<const Choice> choices_of<Compensation>();

enum class FacePattern { to_and_fro, one_way, spiral };
template <>
std::span<const Choice> choices_of<FacePattern>();

// Whether the program stops before the operation: M1 where the operator wants it, or M0.
enum class ProgramStop { none, optional, always };
template <>
std::span<const Choice> choices_of<ProgramStop>();

// The values an operation took, and from where.
struct TakenConditions {
  std::optional<double> n_rpm, vf_mm_min, plunge_mm_min, ramp_mm_min, ramp_n_rpm, lead_mm_min, ap_mm, ae_mm, vc_m_min,
      fz_mm;
  std::optional<int> dial_position;  // of a machine with a dial
  Coolant coolant = Coolant::off;
  SourceKind source = SourceKind::none;
  bool guess = false;
  bool proven = false;
  Id table;
  Id row;                   // of the table, or a recipe
  std::string source_text;  // as it was called when taken
  std::string kept;         // values of the source that were seen and not taken, see fingerprint()
  SharedTrail trail;        // how they came about
  bool operator==(const TakenConditions&) const = default;
};
template <>
std::span<const Property<TakenConditions>> properties<TakenConditions>();

struct Operation {
  Id id;
  std::int64_t revision = 0;
  Id job, setup;
  double rank = 0;  // its place in the job's order
  PathKind path = PathKind::profile;
  OperationKind operation = OperationKind::side_rough;  // what the tables are asked for
  std::string name, comment;                            // both in the program
  ProgramStop stop = ProgramStop::none;
  Id behind;                         // an operation that has to come before it, whatever the order
  Id proven_step;                    // whose values it uses, exactly
  std::optional<double> pace;        // instead of the job's
  std::optional<SourceKind> source;  // the only one it follows
  Cutter cutter;                     // copy; null id: none picked yet
  std::string kept_cutter;           // print of the library's cutter that was seen and not taken
  bool generic_cutter = false;       // of no library: made for this job, see core/operation/generic_cutter.h
  std::optional<double> stickout_mm;
  std::optional<int> tool_number;
  std::vector<FeatureUse> features;
  std::optional<double> top_mm;    // a height; the top of the stock where not given
  std::optional<double> depth_mm;  // below it; the feature's where not given
  std::optional<double> leave_wall_mm, leave_floor_mm;
  std::optional<double> permitted_deflection_mm;  // how much the tip may deflect for the wall's tolerance
  bool climb = true;
  // Profile
  ProfileWhere where = ProfileWhere::around;
  std::optional<double> side_stock_mm;                    // material beside the line before the cut
  std::optional<double> finish_pass_mm, finish_floor_mm;  // what is left for the last pass
  std::optional<int> spring_passes;
  std::optional<int> tab_count;
  std::optional<double> tab_width_mm, tab_height_mm;
  std::vector<Point2> tabs_at;  // instead of so many at equal distances
  Compensation compensation = Compensation::path;
  // Face, slot, pocket
  FacePattern pattern = FacePattern::to_and_fro;
  std::optional<double> width_mm;
  EntryKind entry = EntryKind::automatic;
  // Holes
  DrillCycle cycle = DrillCycle::automatic;
  std::optional<double> peck_mm, breakthrough_mm, dwell_s;
  DepthTo depth_to = DepthTo::tip;
  std::optional<double> diameter_mm;  // of the bore, or of the cone at the top
  BoreRetract bore_retract = BoreRetract::feed;
  std::optional<double> shift_mm;  // of a boring bar off its axis; empty: a fifth of a millimetre
  TappingKind tapping = TappingKind::rigid;
  // Slower where a drill meets a slope or leaves into another hole.
  std::optional<double> slow_entry_mm, slow_exit_mm, slow_feed_pct;
  // Own values, typed here
  std::optional<double> own_n_rpm, own_vf_mm_min, own_plunge_mm_min, own_ramp_mm_min, own_ap_mm, own_ae_mm;
  std::optional<Coolant> own_coolant;
  // Taken for the cut itself; for portions at full width, and for finishing the wall and the floor, where the kind has
  // them.
  TakenConditions taken, taken_slot, taken_finish, taken_floor;
  std::map<std::string, std::string, std::less<>> typed;

  bool has_own_speed() const { return own_n_rpm && own_vf_mm_min; }
  // Values typed, here or once for the cutter, hold as they are.
  bool is_own() const {
    return own_n_rpm || own_vf_mm_min || taken.source == SourceKind::own || taken.source == SourceKind::own_for_cutter;
  }
  bool operator==(const Operation&) const = default;
};
template <>
std::span<const Property<Operation>> properties<Operation>();

// Kinds of source that an operation can be told to follow alone.
inline bool can_be_followed(SourceKind kind) {
  return kind == SourceKind::recipe || kind == SourceKind::maker_table || kind == SourceKind::shop_table ||
         kind == SourceKind::starter_table;
}

// The values that matter to a program in one text: S, F, plunge, ramp, ap, ae, coolant.
std::string fingerprint(const TakenConditions& taken);
// Of all that the operation took.
std::string fingerprint(const Operation& operation);

// Whether its path leads as a climbing cutter with M3 does: one that turns with M4 climbs on the other side.
bool climbs_with_m3(const Operation& operation);

}  // namespace pecorra
