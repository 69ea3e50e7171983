// Cutters as assets of MTConnect (ANSI/MTC1.4, part 4.1: cutting tools): a CuttingToolArchetype for each, its sizes as
// measurements with the property symbols of ISO 13399. What the standard has no element for stands in its
// CuttingToolDefinition as text; docs/formats/mtconnect.md lists what is carried where. The structure is from memory.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "formats/json/library_file.h"

namespace pecorra {

// `created`: ISO 8601. Cutters with the sizes, number, maker, order code and name; of the usual assembly stick-out,
// gauge length and weight where given.
struct AssetExtra {
  Id cutter;
  std::string holder;
  std::optional<double> stickout_mm, gauge_length_mm, weight_kg;
};
std::string mtconnect_text(const LibraryFile& file, const std::vector<AssetExtra>& extras, const std::string& created);

struct ReadAssets {
  std::vector<Cutter> cutters;
  std::vector<FormatFaults> faults;  // of each
  std::vector<bool> has_id;
  std::vector<AssetExtra> extras;  // of each
};
// Also reads assets that other programs wrote: archetypes and single cutting tools; a kind is then taken from the words
// of the description. Documents with a DOCTYPE are refused.
tl::expected<ReadAssets, FormatFault> read_mtconnect(std::string_view text, const InsertNamed& insert_named = {});

}  // namespace pecorra
