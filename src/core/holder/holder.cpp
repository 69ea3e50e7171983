#include "core/holder/holder.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include "core/base/stock.h"
#include "core/cutter/kinds.h"

namespace pecorra {
namespace {

using enum Quantity;

constexpr std::array own_list{
    field<&Holder::name>("name", "", "Name", text, "Everyday name"),
    field<&Holder::machine_side>("machine_side", "", "Machine side", choice, "Taper that fits the spindle"),
    field<&Holder::form>("form", "", "Clamping method", choice, "How it holds the cutter"),
    field<&Holder::clamp_from_mm>("clamp_from_mm", "", "Clamps from", length, "Smallest shank").above(0),
    field<&Holder::clamp_to_mm>("clamp_to_mm", "", "Clamps to", length, "Largest shank").above(0),
    field<&Holder::clamp_length_mm>("clamp_length_mm", "", "Clamping length", length, "Least length of shank inside")
        .above(0),
    field<&Holder::max_rpm>("max_rpm", "RPMX", "Permitted speed", spindle_speed, "As marked on the holder").above(0),
    field<&Holder::leads_coolant>("leads_coolant", "", "Coolant through", flag,
                                  "Off: what comes through the spindle does not reach the cutter"),
    field<&Holder::maker>("maker", "", "Maker", text, "Manufacturer"),
    field<&Holder::order_code>("order_code", "", "Order code", text, "For reordering"),
    field<&Holder::notes>("notes", "", "Notes", text, "For the programmer"),
    field<&Holder::source>("source", "", "Source", text, "Source of the sizes")};
constexpr auto holder_list = joined(own_list, stock_properties<Holder>());

constexpr std::array assembly_list{
    field<&Assembly::cutter>("cutter", "", "Cutter", id, ""),
    field<&Assembly::holder>("holder", "", "Holder", id, "Holder that clamps the cutter"),
    field<&Assembly::name>("name", "", "Assembly", text, "Distinguishes several assemblies of one cutter"),
    field<&Assembly::usual>("usual", "", "Usual one", flag, "Used when the cutter is picked"),
    field<&Assembly::stickout_mm>("stickout_mm", "LPR", "Stick-out", length,
                                  "From the tip to the face of the holder, as planned")
        .above(0),
    field<&Assembly::measured_stickout_mm>("measured_stickout_mm", "", "Measured", length,
                                           "Stick-out as measured; used where it is given")
        .above(0),
    field<&Assembly::set_diameter_mm>("set_diameter_mm", "", "Set diameter", length,
                                      "Of an adjustable or reground cutter, as set or measured")
        .above(0),
    field<&Assembly::extension_diameter_mm>("extension_diameter_mm", "", "Extension", length,
                                            "Diameter of an extension between holder and cutter")
        .above(0),
    field<&Assembly::extension_length_mm>("extension_length_mm", "", "Its length", length,
                                          "From the holder's face to the end of the extension")
        .above(0),
    field<&Assembly::collet>("collet", "", "Collet", id, "Collet or sleeve in the holder"),
    field<&Assembly::measuring>("measuring", "", "Measured in the machine", choice,
                                "Before it cuts, where the machine can"),
    field<&Assembly::checked_for_breakage>("checked_for_breakage", "", "Checked for breakage", flag,
                                           "Behind its last cut, where the machine can"),
    field<&Assembly::holder_guessed>("holder_guessed", "", "Guessed holder", flag,
                                     "Follows the shank until a holder is chosen"),
    field<&Assembly::stickout_guessed>("stickout_guessed", "", "Guessed stick-out", flag,
                                       "Follows the reach until one is entered"),
    field<&Assembly::holding_stiffness_n_um>(
        "holding_stiffness_n_um", "", "Holding stiffness", stiffness,
        "Lateral stiffness of spindle and holder at the holder's face; empty: assumed rigid")
        .above(0),
    field<&Assembly::tip_stiffness_n_um>("tip_stiffness_n_um", "", "Tip stiffness", stiffness,
                                         "Measured at the tip; overrides the calculated one")
        .above(0),
    field<&Assembly::measured_frequency_hz>("measured_frequency_hz", "", "Natural frequency", frequency,
                                            "Measured at the tip; overrides the calculated one")
        .above(0),
    field<&Assembly::damping_percent>("damping_percent", "", "Damping", percent,
                                      "Fraction of critical damping; 3 % if empty (common practice)")
        .above(0)
        .within(0, 50)};

constexpr Choice measuring_choices[] = {{"length", "length"}, {"length_and_radius", "length and radius"}};
constexpr Choice form_choices[] = {
    {"collet", "Collet"},    {"side_lock", "Side lock"},        {"shell_mill", "Pilot and screw"},
    {"drill_chuck", "Jaws"}, {"hydraulic", "Hydraulic sleeve"}, {"shrink", "Shrink fit"},
    {"other", "Other"}};

double clamp_length(const Cutter& cutter, const Holder* holder) {
  if (holder && holder->form == HolderForm::shell_mill) return 0;  // it stands on the holder's face
  if (holder && holder->clamp_length_mm) return *holder->clamp_length_mm;
  return 2 * cutter.shank_diameter_mm.value_or(0);  // common practice: two diameters
}

}  // namespace

template <>
std::span<const Choice> choices_of<CutterMeasuring>() {
  return measuring_choices;
}
template <>
std::span<const Choice> choices_of<HolderForm>() {
  return form_choices;
}
template <>
std::span<const Property<Holder>> properties<Holder>() {
  return holder_list;
}
template <>
std::span<const Property<Assembly>> properties<Assembly>() {
  return assembly_list;
}

std::vector<Message> check_holder(const Holder& h) {
  std::vector<Message> messages;
  if (h.stations.size() < 2) messages.push_back({Severity::warning, "holder_without_profile", "stations", {}});
  for (std::size_t i = 0; i < h.stations.size(); ++i) {
    const Station& s = h.stations[i];
    if (!(s.diameter_mm > 0) || !std::isfinite(s.diameter_mm) || !std::isfinite(s.distance_mm) || s.distance_mm < 0)
      messages.push_back(
          {Severity::error, "station_without_size", "stations", {{"station", static_cast<double>(i + 1)}}});
    else if (i > 0 && s.distance_mm < h.stations[i - 1].distance_mm)
      messages.push_back({Severity::error,
                          "stations_not_rising",
                          "stations",
                          {{"station", static_cast<double>(i + 1)},
                           {"before_mm", h.stations[i - 1].distance_mm},
                           {"at_mm", s.distance_mm}}});
  }
  if (h.clamp_from_mm && h.clamp_to_mm && *h.clamp_from_mm > *h.clamp_to_mm)
    messages.push_back(
        {Severity::error, "range_reversed", "clamp_to_mm", {{"from_mm", *h.clamp_from_mm}, {"to_mm", *h.clamp_to_mm}}});
  return messages;
}

bool holds(const Holder& h, const Cutter& c) {
  if (!c.shank_diameter_mm) return false;
  const double slack = 0.05;  // shanks are ground a little under their size
  if (h.clamp_from_mm && *c.shank_diameter_mm < *h.clamp_from_mm - slack) return false;
  if (h.clamp_to_mm && *c.shank_diameter_mm > *h.clamp_to_mm + slack) return false;
  const bool bore = c.shank_form == ShankForm::bore || (!c.shank_form && c.kind == CutterKind::face_mill);
  if (h.form == HolderForm::shell_mill || bore) return h.form == HolderForm::shell_mill && bore;
  if (h.form == HolderForm::side_lock)
    return !c.shank_form || *c.shank_form == ShankForm::flat || *c.shank_form == ShankForm::inclined_flat;
  if (h.form == HolderForm::shrink || h.form == HolderForm::hydraulic)
    return !c.shank_form || *c.shank_form == ShankForm::plain;
  return true;
}

std::optional<double> stickout_of(const Assembly& a) {
  return a.measured_stickout_mm ? a.measured_stickout_mm : a.stickout_mm;
}

std::optional<double> safe_stickout_mm(const Assembly& a) {
  const auto out = stickout_of(a);
  return out ? std::optional(std::floor(*out + 1e-9)) : std::nullopt;
}

Cutter as_set(const Cutter& cutter, const Assembly& a) {
  Cutter set = cutter;
  if (a.set_diameter_mm) set.diameter_mm = a.set_diameter_mm;
  return set;
}

std::optional<double> weight_kg(const Cutter& c, const Holder& h, const Assembly& a) {
  const Profile profile = silhouette(c);
  if (profile.empty() || h.stations.size() < 2 || !stickout_of(a)) return std::nullopt;
  // Flutes take about a third of the fluted part away (common practice, no source).
  double fluted = 0;
  if (c.flutes && c.flute_length_mm && c.diameter_mm)
    fluted = std::numbers::pi / 4 * *c.diameter_mm * *c.diameter_mm * *c.flute_length_mm / 3;
  const double cutter =
      (volume_mm3(profile) - fluted) * density_g_cm3(c.tool_material.value_or(ToolMaterial::hss)) / 1e6;
  double holder = 0;
  for (std::size_t i = 1; i < h.stations.size(); ++i) {
    const double r = h.stations[i - 1].diameter_mm / 2, s = h.stations[i].diameter_mm / 2;
    holder +=
        std::numbers::pi / 3 * (h.stations[i].distance_mm - h.stations[i - 1].distance_mm) * (r * r + r * s + s * s);
  }
  const double inside = std::min(*c.overall_length_mm - *stickout_of(a), h.stations.back().distance_mm);
  if (inside > 0) holder -= std::numbers::pi / 4 * *c.shank_diameter_mm * *c.shank_diameter_mm * inside;
  double extension = 0;
  if (a.extension_diameter_mm && a.extension_length_mm)
    extension = std::numbers::pi / 4 * *a.extension_diameter_mm * *a.extension_diameter_mm * *a.extension_length_mm;
  return cutter + (std::max(0.0, holder) + extension) * 7.85 / 1e6;
}

std::vector<Message> check_assembly(const Cutter& c, const Holder* holder, const Assembly& a, const Collet* collet) {
  std::vector<Message> messages;
  auto add = [&](Severity severity, const char* code, const char* property, Details values) {
    messages.push_back({severity, code, property, std::move(values)});
  };
  if (holder && c.shank_diameter_mm) {
    const double shank = *c.shank_diameter_mm;
    if ((holder->clamp_from_mm && shank < *holder->clamp_from_mm) ||
        (holder->clamp_to_mm && shank > *holder->clamp_to_mm))
      add(Severity::error, "shank_not_in_holder", "holder",
          {{"shank_mm", shank},
           {"from_mm", holder->clamp_from_mm.value_or(0)},
           {"to_mm", holder->clamp_to_mm.value_or(0)},
           {"holder", holder->name}});
  }
  if (holder && c.shank_form && !holds(*holder, c) && messages.empty())
    add(Severity::error, "shank_form_not_for_holder", "holder",
        {{"form", std::string(label_of(*c.shank_form))}, {"holder", holder->name}});
  if (holder && holder->max_rpm && c.max_rpm && *holder->max_rpm < *c.max_rpm)
    add(Severity::note, "holder_slower_than_cutter", "holder",
        {{"holder_rpm", *holder->max_rpm}, {"cutter_rpm", *c.max_rpm}});
  if (collet && c.shank_diameter_mm && !takes(*collet, *c.shank_diameter_mm))
    add(Severity::error, "shank_not_in_collet", "collet",
        {{"shank_mm", *c.shank_diameter_mm},
         {"from_mm", collet->clamp_from_mm.value_or(0)},
         {"to_mm", collet->clamp_to_mm.value_or(0)},
         {"collet", collet->name}});
  if (collet && holder && holder->form != HolderForm::collet && !a.extension_length_mm)
    add(Severity::warning, "holder_takes_no_collet", "collet", {{"holder", holder->name}});
  if (a.set_diameter_mm) {
    const double from = c.diameter_from_mm.value_or(c.diameter_mm.value_or(0) * 0.95),
                 to = c.diameter_to_mm.value_or(c.diameter_mm.value_or(0));
    if (*a.set_diameter_mm < from - 1e-9 || *a.set_diameter_mm > to + 1e-9)
      add(Severity::error, "outside_range", "set_diameter_mm",
          {{"diameter_mm", *a.set_diameter_mm}, {"from_mm", from}, {"to_mm", to}});
  }
  if (a.extension_length_mm && a.stickout_mm && *a.extension_length_mm >= *a.stickout_mm)
    add(Severity::error, "extension_over_stickout", "extension_length_mm",
        {{"extension_mm", *a.extension_length_mm}, {"stickout_mm", *a.stickout_mm}});
  if (a.measured_stickout_mm && a.stickout_mm && std::abs(*a.measured_stickout_mm - *a.stickout_mm) > 1)
    add(Severity::warning, "measured_off_planned", "measured_stickout_mm",
        {{"measured_mm", *a.measured_stickout_mm}, {"stickout_mm", *a.stickout_mm}});
  if (!a.stickout_mm) {
    add(Severity::warning, "stickout_missing", "stickout_mm", {});
    return messages;
  }
  if (c.overall_length_mm) {
    // An extension clamps the cutter in place of the holder.
    const double most = *c.overall_length_mm + a.extension_length_mm.value_or(0) - clamp_length(c, holder);
    if (*a.stickout_mm > *c.overall_length_mm + a.extension_length_mm.value_or(0))
      add(Severity::error, "stickout_over_overall", "stickout_mm",
          {{"stickout_mm", *a.stickout_mm}, {"overall_mm", *c.overall_length_mm}});
    else if (*a.stickout_mm > most)
      add(Severity::error, "stickout_leaves_no_clamping", "stickout_mm",
          {{"stickout_mm", *a.stickout_mm}, {"most_mm", most}, {"clamp_mm", clamp_length(c, holder)}});
  }
  if (c.flute_length_mm && *a.stickout_mm < *c.flute_length_mm)
    add(Severity::warning, "flutes_in_holder", "stickout_mm",
        {{"stickout_mm", *a.stickout_mm}, {"flutes_mm", *c.flute_length_mm}});
  return messages;
}

std::optional<double> gauge_length_mm(const Holder& holder, const Assembly& a) {
  const auto out = stickout_of(a);
  if (!out || holder.stations.empty()) return std::nullopt;
  return *out + holder.stations.back().distance_mm;
}

double proposed_stickout_mm(const Cutter& c, const Holder* holder) {
  const double wanted = c.reach_mm.value_or(c.flute_length_mm.value_or(0)) + 5;
  const double most = c.overall_length_mm.value_or(wanted) - clamp_length(c, holder);
  return std::max(1.0, std::floor(std::min(wanted, most)));
}

}  // namespace pecorra
