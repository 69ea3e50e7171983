#include "core/retune/retuned_program.h"

#include <algorithm>
#include <array>
#include <cctype>

namespace pecorra {
namespace {

using enum Quantity;

constexpr std::array pairing_fields{
    field<&ToolPairing::t>("t", "T", "T", count, "Number in the program").within(0, 99999999),
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
    field<&RetunedProgram::in_proportion>("in_proportion", "", "Plunge and ramp in proportion", flag,
                                          "Keep their share of the cutting feed instead of the table's values"),
    field<&RetunedProgram::arc_centres>("arc_centres", "", "Slow down on inside arcs", flag,
                                        "So that the edge, not the centre, moves at the feed"),
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

const ToolPairing* RetunedProgram::pairing(int t) const {
  const auto found = std::find_if(tools.begin(), tools.end(), [t](const ToolPairing& p) { return p.t == t; });
  return found == tools.end() ? nullptr : &*found;
}

ToolPairing& RetunedProgram::pairing_for(int t) {
  const auto found = std::find_if(tools.begin(), tools.end(), [t](const ToolPairing& p) { return p.t == t; });
  if (found != tools.end()) return *found;
  tools.push_back({});
  tools.back().t = t;
  return tools.back();
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
