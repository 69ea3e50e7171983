// Holders, and assemblies of a cutter in a holder. Lengths in mm.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/base/message.h"
#include "core/base/property.h"
#include "core/cutter/cutter.h"
#include "core/holder/collet.h"
#include "core/machine/machine_interface.h"

namespace pecorra {

enum class HolderForm { collet, side_lock, shell_mill, drill_chuck, hydraulic, shrink, other };

template <>
std::span<const Choice> choices_of<HolderForm>();

// A point of the profile: distance from the cutter-side face upwards, diameter there; two at one distance make a step.
struct Station {
  double distance_mm = 0;
  double diameter_mm = 0;
  bool operator==(const Station&) const = default;
};

struct Holder {
  Id id;
  std::int64_t revision = 0;
  std::string name;
  std::optional<MachineInterface> machine_side;
  std::optional<HolderForm> form;
  std::vector<Station> stations;                     // rising distances, up to the gauge line
  std::optional<double> clamp_from_mm, clamp_to_mm;  // shank diameters that it takes
  std::optional<double> clamp_length_mm;             // least length of shank inside
  std::optional<double> max_rpm;
  bool leads_coolant = true;  // from the spindle to the cutter
  std::string maker, order_code, notes;
  std::string source;
  std::optional<int> in_stock, wanted, on_order;
  bool retired = false;
  std::map<std::string, std::string, std::less<>> typed;
  bool operator==(const Holder&) const = default;
};
template <>
std::span<const Property<Holder>> properties<Holder>();

// What the machine measures of a cutter before it cuts, where it can.
enum class CutterMeasuring { length, length_and_radius };
template <>
std::span<const Choice> choices_of<CutterMeasuring>();

struct Assembly {
  Id id;
  std::int64_t revision = 0;
  Id cutter;
  Id holder;
  std::string name;                            // distinguishes several assemblies of one cutter
  bool usual = false;                          // used when the cutter is picked
  std::optional<double> stickout_mm;           // cutter tip to holder face, planned
  std::optional<double> measured_stickout_mm;  // as measured; used where given
  std::optional<double> set_diameter_mm;       // of an adjustable or reground cutter
  std::optional<double> extension_diameter_mm,
      extension_length_mm;  // between holder and cutter; its length counts as stick-out
  Id collet;                // collet or sleeve in the holder
  std::optional<CutterMeasuring> measuring;
  bool checked_for_breakage = false;  // behind its last cut, where the machine can
  // Not chosen by anybody yet: they follow the cutter's sizes.
  bool holder_guessed = false, stickout_guessed = false;
  // Measured values override calculated ones.
  std::optional<double> holding_stiffness_n_um;  // of spindle and holder, across the axis at the holder's face
  std::optional<double> tip_stiffness_n_um;      // of all of it, at the tip
  std::optional<double> measured_frequency_hz;   // first bending mode
  std::optional<double> damping_percent;         // of critical
  std::map<std::string, std::string, std::less<>> typed;
  bool operator==(const Assembly&) const = default;
};
template <>
std::span<const Property<Assembly>> properties<Assembly>();

// Faults of a holder by itself: stations going back, no diameter, a reversed clamping range.
std::vector<Message> check_holder(const Holder& holder);

// Stick-out against flutes, clamping length and clamping range; shank form against the holder's; speed; the set
// diameter; the collet's range, and that a collet holder has one.
std::vector<Message> check_assembly(const Cutter& cutter, const Holder* holder, const Assembly& assembly,
                                    const Collet* collet = nullptr);

// Whether shank and bore go together, by diameter and form.
bool holds(const Holder& holder, const Cutter& cutter);

// Measured where it was, else planned.
std::optional<double> stickout_of(const Assembly& assembly);
// Rounded down to whole millimetres, what clearance is judged by (common practice).
std::optional<double> safe_stickout_mm(const Assembly& assembly);
// Tip to gauge line; nothing without stick-out or stations.
std::optional<double> gauge_length_mm(const Holder& holder, const Assembly& assembly);
// A careful stick-out for a cutter: as short as its reach and the holder allow.
double proposed_stickout_mm(const Cutter& cutter, const Holder* holder);
// Cutter at its set diameter.
Cutter as_set(const Cutter& cutter, const Assembly& assembly);
// Cutter by its silhouette and material, holder as solid steel (7.85 g/cm³) with the shank in it; kg. Nothing while
// either is unknown.
std::optional<double> weight_kg(const Cutter& cutter, const Holder& holder, const Assembly& assembly);

}  // namespace pecorra
