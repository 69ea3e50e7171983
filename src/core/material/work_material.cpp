#include "core/material/work_material.h"

#include <algorithm>
#include <array>
#include <cctype>

#include "core/base/check.h"
#include "core/material/hardness.h"

namespace pecorra {
namespace {

constexpr Choice group_choices[] = {{"P", "steel"},
                                    {"M", "stainless steel"},
                                    {"K", "cast iron"},
                                    {"N", "non-ferrous metals"},
                                    {"S", "heat-resistant alloys"},
                                    {"H", "hardened steel"},
                                    {"wood", "wood and boards"},
                                    {"plastic", "plastics"},
                                    {"composite", "composites"},
                                    {"foam", "foam"}};
constexpr Choice subgroup_choices[] = {{"aluminium_wrought", "aluminium, wrought"},
                                       {"aluminium_cast", "aluminium, cast with silicon"},
                                       {"magnesium", "magnesium"},
                                       {"zinc", "zinc"},
                                       {"copper", "copper"},
                                       {"brass", "brass"},
                                       {"brass_free_cutting", "free-cutting brass"},
                                       {"bronze", "bronze"},
                                       {"beryllium_copper", "beryllium copper"},
                                       {"graphite", "graphite"},
                                       {"heat_resistant", "nickel, cobalt and iron alloys"},
                                       {"titanium", "titanium"},
                                       {"thermoplastic", "thermoplastic"},
                                       {"thermoplastic_filled", "thermoplastic, filled"},
                                       {"thermoset", "thermoset"},
                                       {"softwood", "softwood"},
                                       {"hardwood", "hardwood"},
                                       {"board", "board"},
                                       {"cfrp", "carbon fibre"},
                                       {"gfrp", "glass fibre"},
                                       {"aramid", "aramid fibre"},
                                       {"metal_panel", "metal-faced panel"},
                                       {"mineral_filled", "mineral-filled"},
                                       {"foam", "foam"},
                                       {"tooling_board", "tooling board"}};
constexpr Choice hazard_choices[] = {{"none", "none"},
                                     {"burning_metal", "burns; never water"},
                                     {"toxic_dust", "toxic dust"},
                                     {"abrasive_dust", "abrasive dust; dry with extraction"},
                                     {"wood_dust", "wood dust; dry with extraction"},
                                     {"burning_chips", "fine chips burn"},
                                     {"stress_cracking", "cracks under oil"},
                                     {"dry_only", "dry or air only"}};

using enum Quantity;

constexpr std::array force_list{
    field<&WorkMaterial::kc11_n_mm2>("kc11_n_mm2", "kc1.1", "Cutting force", stress,
                                     "For a chip 1 mm thick and 1 mm wide")
        .above(0),
    field<&WorkMaterial::mc>("mc", "mc", "Force exponent", number, "Exponent of the chip thickness")
        .within(0, 0.999999),
    field<&WorkMaterial::rake_ref_deg>("rake_ref_deg", "γref", "Measured at rake", angle, "At which kc1.1 was measured")
        .within(-60, 60)};

constexpr std::array material_fields{
    field<&WorkMaterial::name>("name", "", "Name", text, "Short designation used everywhere"),
    field<&WorkMaterial::designations>("designations", "", "Also known as", text,
                                       "Other designations, separated by commas"),
    field<&WorkMaterial::group>("group", "", "Group", choice, "ISO 513 letter, or our own word"),
    field<&WorkMaterial::subgroup>("subgroup", "", "Subgroup", choice, "Where the group alone says too little"),
    field<&WorkMaterial::vdi_group>("vdi_group", "", "VDI 3323 group", count, "1 to 41").within(1, 41),
    field<&WorkMaterial::condition>("condition", "", "Condition", text, "Heat treatment or state"),
    field<&WorkMaterial::hardness_hb>("hardness_hb", "HB", "Hardness", hardness,
                                      "Usual; HB, HV, HRC or the strength may be typed")
        .above(0),
    field<&WorkMaterial::hardness_from_hb>("hardness_from_hb", "", "Hardness from", hardness, "Softest").above(0),
    field<&WorkMaterial::hardness_to_hb>("hardness_to_hb", "", "Hardness to", hardness, "Hardest").above(0),
    field<&WorkMaterial::strength_n_mm2>("strength_n_mm2", "Rm", "Tensile strength", stress, "Usual").above(0),
    field<&WorkMaterial::strength_from_n_mm2>("strength_from_n_mm2", "", "Strength from", stress, "Weakest").above(0),
    field<&WorkMaterial::strength_to_n_mm2>("strength_to_n_mm2", "", "Strength to", stress, "Strongest").above(0),
    field<&WorkMaterial::strength_evidence>("strength_evidence", "", "Strength evidence", choice,
                                            "How well hardness and strength are known"),
    force_list[0],
    force_list[1],
    force_list[2],
    field<&WorkMaterial::force_evidence>("force_evidence", "", "Force evidence", choice,
                                         "How well the constants are known"),
    field<&WorkMaterial::kc11_milling_n_mm2>("kc11_milling_n_mm2", "", "Cutting force, milling", stress,
                                             "kc1.1 for milling, within the chip thickness below")
        .above(0),
    field<&WorkMaterial::mc_milling>("mc_milling", "", "Force exponent, milling", number, "Goes with it")
        .within(0, 0.999999),
    field<&WorkMaterial::milling_from_mm>("milling_from_mm", "", "Chip from", feed_per_tooth,
                                          "Thinnest mean chip the milling constants hold for")
        .above(0),
    field<&WorkMaterial::milling_to_mm>("milling_to_mm", "", "Chip to", feed_per_tooth,
                                        "Thickest mean chip the milling constants hold for")
        .above(0),
    field<&WorkMaterial::milling_evidence>("milling_evidence", "", "Milling evidence", choice,
                                           "How well the milling constants are known"),
    field<&WorkMaterial::unit_power_n_mm2>("unit_power_n_mm2", "", "Unit power", stress,
                                           "Energy per volume of chips at a feed of 0.3 mm: 1000 N/mm² = 1 kW·s/cm³")
        .above(0),
    field<&WorkMaterial::unit_power_evidence>("unit_power_evidence", "", "Unit power evidence", choice,
                                              "How well the unit power is known"),
    field<&WorkMaterial::density_g_cm3>("density_g_cm3", "ρ", "Density", density, "At room temperature").above(0),
    field<&WorkMaterial::density_evidence>("density_evidence", "", "Density evidence", choice,
                                           "How well the density is known"),
    field<&WorkMaterial::hazard>("hazard", "", "Hazard", choice, "Decides which coolants are allowed"),
    field<&WorkMaterial::hazard_source>("hazard_source", "", "Hazard source", text, "Source of the hazard"),
    field<&WorkMaterial::cut_here>("cut_here", "", "Cut here", flag, "Shown in the chart, and first in lists"),
    field<&WorkMaterial::source>("source", "", "Source", text, "Source of the values"),
    field<&WorkMaterial::notes>("notes", "", "Notes", text, "For the programmer")};

constexpr Choice evidence_choices[] = {
    {"published", "published"}, {"handbook", "usual in handbooks"}, {"estimate", "an estimate"}};

std::string bare_letters(std::string_view text) {
  std::string out;
  for (const char c : text)
    if (c != ' ' && c != '-' && c != '.') out += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
  return out;
}

}  // namespace

template <>
std::span<const Choice> choices_of<MaterialGroup>() {
  return group_choices;
}
template <>
std::span<const Choice> choices_of<Subgroup>() {
  return subgroup_choices;
}
template <>
std::span<const Choice> choices_of<Hazard>() {
  return hazard_choices;
}
template <>
std::span<const Property<WorkMaterial>> properties<WorkMaterial>() {
  return material_fields;
}
std::span<const Property<WorkMaterial>> force_properties() { return force_list; }
template <>
std::span<const Choice> choices_of<Evidence>() {
  return evidence_choices;
}

std::optional<Subgroup> subgroup_of(const WorkMaterial& m) {
  if (m.subgroup || !m.vdi_group) return m.subgroup;
  const int vdi = *m.vdi_group;
  if (vdi == 21 || vdi == 22) return Subgroup::aluminium_wrought;
  if (vdi >= 23 && vdi <= 25) return Subgroup::aluminium_cast;
  if (vdi == 26) return Subgroup::brass_free_cutting;
  if (vdi == 27) return Subgroup::brass;
  if (vdi == 28) return Subgroup::copper;
  if (vdi >= 31 && vdi <= 35) return Subgroup::heat_resistant;
  if (vdi == 36 || vdi == 37) return Subgroup::titanium;
  return std::nullopt;
}

std::vector<Message> check_material(const WorkMaterial& m) {
  std::vector<Message> messages;
  check_ranges(m, messages);
  const auto range = [&](const std::optional<double>& usual, const std::optional<double>& from,
                         const std::optional<double>& to, const char* to_key, const char* usual_key) {
    if (from && to && *from > *to)
      messages.push_back({Severity::error, "values_reversed", to_key, {{"from", *from}, {"to", *to}}});
    else if (usual && ((from && *usual < *from) || (to && *usual > *to)))
      messages.push_back({Severity::warning,
                          "usual_outside_range",
                          usual_key,
                          {{"usual", *usual}, {"from", from.value_or(0)}, {"to", to.value_or(*usual)}}});
  };
  range(m.hardness_hb, m.hardness_from_hb, m.hardness_to_hb, "hardness_to_hb", "hardness_hb");
  range(m.strength_n_mm2, m.strength_from_n_mm2, m.strength_to_n_mm2, "strength_to_n_mm2", "strength_n_mm2");
  if (m.kc11_n_mm2.has_value() != m.mc.has_value())
    messages.push_back({Severity::warning, "force_half_known", m.mc ? "kc11_n_mm2" : "mc", {}});
  if (m.group == MaterialGroup::P && m.hardness_hb && m.strength_n_mm2)
    if (const auto rm = convert_hardness(*m.hardness_hb, HardnessScale::hb, HardnessScale::rm);
        rm && (*rm > 1.34 * *m.strength_n_mm2 || *m.strength_n_mm2 > 1.34 * *rm))
      messages.push_back({Severity::warning,
                          "hardness_not_of_strength",
                          "hardness_hb",
                          {{"hb", *m.hardness_hb}, {"strength", *m.strength_n_mm2}, {"right", *rm}}});
  return messages;
}

bool is_called(const WorkMaterial& m, std::string_view text) {
  const std::string wanted = bare_letters(text);
  if (wanted.empty()) return false;
  if (bare_letters(m.name) == wanted) return true;
  for (std::size_t at = 0; at <= m.designations.size();) {
    const std::size_t end = std::min(m.designations.find(',', at), m.designations.size());
    if (bare_letters(std::string_view(m.designations).substr(at, end - at)) == wanted) return true;
    at = end + 1;
  }
  return false;
}

}  // namespace pecorra
