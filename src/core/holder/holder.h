// Holders, and assemblies of a cutter in a holder. Lengths in mm.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/base/message.h"
#include "core/base/property.h"
#include "core/cutter/cutter.h"

namespace pecorra {

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
  std::vector<Station> stations;                            // rising distances, up to the gauge line
  std::optional<double> clamp_from_mm, clamp_to_mm;         // shank diameters that it takes
  std::optional<double> clamp_length_mm;                    // least length of shank inside
  std::string source;
  bool operator==(const Holder&) const = default;
};
template <> std::span<const Property<Holder>> properties<Holder>();

struct Assembly {
  Id id;
  std::int64_t revision = 0;
  Id cutter;
  Id holder;
  std::optional<double> stickout_mm;  // cutter tip to holder face
  std::map<std::string, std::string, std::less<>> typed;
  bool operator==(const Assembly&) const = default;
};
template <> std::span<const Property<Assembly>> properties<Assembly>();

// Stick-out against flutes, clamping length and clamping range.
std::vector<Message> check_assembly(const Cutter& cutter, const Holder* holder, const Assembly& assembly);

// Tip to gauge line; nothing without stick-out or stations.
std::optional<double> gauge_length_mm(const Holder& holder, const Assembly& assembly);
// A careful stick-out for a cutter: as short as its reach and the holder allow.
double proposed_stickout_mm(const Cutter& cutter, const Holder* holder);

}  // namespace pecorra
