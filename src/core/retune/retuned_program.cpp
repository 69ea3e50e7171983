#include "core/retune/retuned_program.h"

#include <algorithm>
#include <array>
#include <cctype>

namespace pecorra {
namespace {

using enum Quantity;

constexpr std::array pairing_fields{
    field<&ToolPairing::t>("t", "T", "T", count, "Number in the program").within(0, 99999999),
    field<&ToolPairing::part>("part", "", "Section", count, "Of this T, from 1; none: all of them").within(1, 100000),
    field<&ToolPairing::cutter>("cutter", "", "Cutter", id, "None: found by comment, pocket or number"),
    field<&ToolPairing::operation>("operation", "", "Operation", choice, "What the tables are asked for"),
    field<&ToolPairing::ap_mm>("ap_mm", "ap", "Depth of cut", length, "As the program cuts").above(0),
    field<&ToolPairing::ae_mm>("ae_mm", "ae", "Width of cut", length, "As the program cuts").above(0),
    field<&ToolPairing::skip>("skip", "", "Leave out", flag, "Keeps its S and F; it is still checked"),
    field<&ToolPairing::remembered>("remembered", "", "Remembered", flag, "From another program of its kind")};

constexpr std::array program_fields{
    field<&RetunedProgram::name>("name", "", "Name", text, "The file's"),
    field<&RetunedProgram::file>("file", "", "File", text, "Where the program is"),
    field<&RetunedProgram::print>("print", "", "Print", text, "Of the file that was read last"),
    field<&RetunedProgram::material>("material", "", "Material", id, "What is cut"),
    field<&RetunedProgram::machine>("machine", "", "Machine", id, "Where it runs"),
    field<&RetunedProgram::pace>("pace", "", "Pace", number, "100 is the target").within(1, 1000),
    field<&RetunedProgram::in_proportion>("in_proportion", "", "Plunge, ramp and lead in proportion", flag,
                                          "Keep their share of the cutting feed instead of the table's values"),
    field<&RetunedProgram::arc_centres>("arc_centres", "", "Slow down on inside arcs", flag,
                                        "So that the edge, not the centre, moves at the feed"),
    field<&RetunedProgram::stock_top_mm>("stock_top_mm", "Z", "Top of stock", length,
                                         "Its Z in the program; tells depths of cut and moves through the air"),
    field<&RetunedProgram::written>("written", "", "Written to", text, "Where it was written last"),
    field<&RetunedProgram::written_print>("written_print", "", "Written print", text,
                                          "Of what its sections ran at then")};

}  // namespace

template <>
std::span<const Property<ToolPairing>> properties<ToolPairing>() {
  return pairing_fields;
}
template <>
std::span<const Property<RetunedProgram>> properties<RetunedProgram>() {
  return program_fields;
}

const ToolPairing* RetunedProgram::pairing(int t, std::optional<int> part) const {
  const auto found =
      std::find_if(tools.begin(), tools.end(), [&](const ToolPairing& p) { return p.t == t && p.part == part; });
  return found == tools.end() ? nullptr : &*found;
}

ToolPairing& RetunedProgram::pairing_for(int t, std::optional<int> part) {
  const auto found =
      std::find_if(tools.begin(), tools.end(), [&](const ToolPairing& p) { return p.t == t && p.part == part; });
  if (found != tools.end()) return *found;
  tools.push_back({});
  tools.back().t = t;
  tools.back().part = part;
  return tools.back();
}

ToolPairing& RetunedProgram::pairing_for_section(int t, int part, int parts) {
  if (parts == 1 && !pairing(t, 1)) return pairing_for(t);
  const ToolPairing* whole = pairing(t);
  if (!whole || !(whole->operation || whole->ap_mm || whole->ae_mm || whole->skip)) return pairing_for(t, part);
  const ToolPairing all = *whole;
  for (int i = 1; i <= parts; ++i) {
    ToolPairing& own = pairing_for(t, i);
    if (!own.operation) own.operation = all.operation;
    if (!own.ap_mm) own.ap_mm = all.ap_mm;
    if (!own.ae_mm) own.ae_mm = all.ae_mm;
    own.skip = own.skip || all.skip;
  }
  ToolPairing& cutter_only = pairing_for(t);
  cutter_only.operation.reset(), cutter_only.ap_mm.reset(), cutter_only.ae_mm.reset();
  cutter_only.skip = false;
  std::erase_if(tools, [t](const ToolPairing& p) { return p.t == t && !p.part && !p.says_anything(); });
  return pairing_for(t, part);
}

ToolPairing stated_for(const std::vector<ToolPairing>& tools, int t, int part) {
  ToolPairing out;
  out.t = t;
  for (const bool own : {false, true})
    for (const ToolPairing& p : tools) {
      if (p.t != t || p.part.has_value() != own || (own && p.part != part)) continue;
      if (!own && !p.cutter.is_null()) out.cutter = p.cutter, out.remembered = p.remembered;
      if (p.operation) out.operation = p.operation;
      if (p.ap_mm) out.ap_mm = p.ap_mm;
      if (p.ae_mm) out.ae_mm = p.ae_mm;
      out.skip = out.skip || p.skip;
    }
  return out;
}

std::string file_pattern(std::string_view name) {
  std::string out;
  for (const char c : name) {
    const auto byte = static_cast<unsigned char>(c);
    if (std::isdigit(byte)) {
      if (out.empty() || out.back() != '#') out += '#';
    } else {
      out += static_cast<char>(std::toupper(byte));
    }
  }
  return out;
}

}  // namespace pecorra
