// A program made elsewhere as a shop keeps it: for what it is retuned, and which cutter each of its T is, so that the
// next version of it is retuned the same way. The program itself stays in its file.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/id.h"
#include "core/base/property.h"
#include "core/cutter/operation_kind.h"

namespace pecorra {

// What is stated for a T of a program; the rest is found out.
struct ToolPairing {
  std::optional<int> t;
  std::optional<int> part;  // of the sections of this T, from 1; none: all of them. The cutter is stated for all
  Id cutter;                // null: found out
  std::optional<OperationKind> operation;
  std::optional<double> ap_mm, ae_mm;
  bool skip = false;        // keeps its S and F
  bool remembered = false;  // from another program of its kind
  bool says_anything() const { return !cutter.is_null() || operation || ap_mm || ae_mm || skip; }
  bool operator==(const ToolPairing&) const = default;
};
template <>
std::span<const Property<ToolPairing>> properties<ToolPairing>();

struct RetunedProgram {
  Id id;
  std::int64_t revision = 0;
  std::string name;   // the file's, without its folder
  std::string file;   // with its folder
  std::string print;  // of the file that was read last
  Id material, machine;
  std::optional<double> pace;
  bool in_proportion = false;  // plunges and ramps keep their share of the cutting feed; else they go by the tables
  bool arc_centres = false;    // F of inside arcs is the centre's, so that the edge has vf
  std::optional<double> stock_top_mm;  // Z of the stock's top in the program
  std::string written;                 // where it was written last
  std::string written_print;           // of what the sections ran at then; another one: changed at source
  std::vector<ToolPairing> tools;
  std::map<std::string, std::string, std::less<>> typed;
  const ToolPairing* pairing(int t, std::optional<int> part = {}) const;
  // The pairing of a T, made where there is none.
  ToolPairing& pairing_for(int t, std::optional<int> part = {});
  // Where the work of one of several sections of a T is stated: what was stated for all of them is then each one's own,
  // but for the cutter.
  ToolPairing& pairing_for_section(int t, int part, int parts);
  bool operator==(const RetunedProgram&) const = default;
};
template <>
std::span<const Property<RetunedProgram>> properties<RetunedProgram>();

inline constexpr std::size_t most_pairings = 1000;

// What is stated for a section: its own before that of all of its T.
ToolPairing stated_for(const std::vector<ToolPairing>& tools, int t, int part);

// Programs of one kind have one pattern: their names but for digits and letters' case, "LID_#.NC".
std::string file_pattern(std::string_view name);

}  // namespace pecorra
