#include "core/holder/holder.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace pecorra {
namespace {

using enum Quantity;

const std::array holder_list{
    field<&Holder::name>("name", "", "Name", text, "What people call it"),
    field<&Holder::clamp_from_mm>("clamp_from_mm", "", "Clamps from", length, "Smallest shank").above(0),
    field<&Holder::clamp_to_mm>("clamp_to_mm", "", "Clamps to", length, "Largest shank").above(0),
    field<&Holder::clamp_length_mm>("clamp_length_mm", "", "Clamping length", length, "Least length of shank inside").above(0),
    field<&Holder::source>("source", "", "Source", text, "Where the sizes are from")};

const std::array assembly_list{
    field<&Assembly::cutter>("cutter", "", "Cutter", id, ""),
    field<&Assembly::holder>("holder", "", "Holder", id, "What clamps the cutter"),
    field<&Assembly::stickout_mm>("stickout_mm", "LPR", "Stick-out", length, "From the tip to the face of the holder").above(0)};

double clamp_length(const Cutter& cutter, const Holder* holder) {
  if (holder && holder->clamp_length_mm) return *holder->clamp_length_mm;
  return 2 * cutter.shank_diameter_mm.value_or(0);  // common practice: two diameters
}

}  // namespace

template <> std::span<const Property<Holder>> properties<Holder>() { return holder_list; }
template <> std::span<const Property<Assembly>> properties<Assembly>() { return assembly_list; }

std::vector<Message> check_assembly(const Cutter& c, const Holder* holder, const Assembly& a) {
  std::vector<Message> messages;
  auto add = [&](Severity severity, const char* code, const char* property, Details values) {
    messages.push_back({severity, code, property, std::move(values)});
  };
  if (holder && c.shank_diameter_mm) {
    const double shank = *c.shank_diameter_mm;
    if ((holder->clamp_from_mm && shank < *holder->clamp_from_mm) || (holder->clamp_to_mm && shank > *holder->clamp_to_mm))
      add(Severity::error, "shank_not_in_holder", "holder",
          {{"shank_mm", shank}, {"from_mm", holder->clamp_from_mm.value_or(0)}, {"to_mm", holder->clamp_to_mm.value_or(0)},
           {"holder", holder->name}});
  }
  if (!a.stickout_mm) {
    add(Severity::warning, "stickout_missing", "stickout_mm", {});
    return messages;
  }
  if (c.overall_length_mm) {
    const double most = *c.overall_length_mm - clamp_length(c, holder);
    if (*a.stickout_mm > *c.overall_length_mm)
      add(Severity::error, "stickout_over_overall", "stickout_mm", {{"stickout_mm", *a.stickout_mm}, {"overall_mm", *c.overall_length_mm}});
    else if (*a.stickout_mm > most)
      add(Severity::error, "stickout_leaves_no_clamping", "stickout_mm",
          {{"stickout_mm", *a.stickout_mm}, {"most_mm", most}, {"clamp_mm", clamp_length(c, holder)}});
  }
  if (c.flute_length_mm && *a.stickout_mm < *c.flute_length_mm)
    add(Severity::warning, "flutes_in_holder", "stickout_mm", {{"stickout_mm", *a.stickout_mm}, {"flutes_mm", *c.flute_length_mm}});
  return messages;
}

std::optional<double> gauge_length_mm(const Holder& holder, const Assembly& a) {
  if (!a.stickout_mm || holder.stations.empty()) return std::nullopt;
  return *a.stickout_mm + holder.stations.back().distance_mm;
}

double proposed_stickout_mm(const Cutter& c, const Holder* holder) {
  const double wanted = c.reach_mm.value_or(c.flute_length_mm.value_or(0)) + 5;
  const double most = c.overall_length_mm.value_or(wanted) - clamp_length(c, holder);
  return std::max(1.0, std::floor(std::min(wanted, most)));
}

}  // namespace pecorra
