// A library, or some of its cutters, as one JSON file: the cutters with their assemblies and recipes, and the holders,
// collets, inserts, tool materials and work materials that these name. Described in docs/formats/README.md, with a JSON
// Schema in data/schemas/library.schema.json.
#pragma once

#include <functional>
#include <unordered_map>
#include <vector>

#include "formats/json/objects.h"

namespace pecorra {

struct LibraryFile {
  std::string shop;             // that it comes from, for people
  Library library;              // the null id where the file names none
  std::vector<Cutter> cutters;  // their library is not written
  std::vector<Assembly> assemblies;
  std::vector<Recipe> recipes;
  std::vector<Holder> holders;
  std::vector<Collet> collets;
  std::vector<Insert> inserts;
  std::vector<EdgeMaterial> edge_materials;
  std::vector<WorkMaterial> materials;
};

// Names of inserts, which cutters name them by.
using InsertNames = std::unordered_map<Id, std::string>;
InsertNames insert_names(const LibraryFile& file);
// One cutter with its assemblies and recipes, as it stands in the file.
Json cutter_entry(const InsertNames& inserts, const Cutter& cutter, const std::vector<const Assembly*>& assemblies,
                  const std::vector<const Recipe*>& recipes);
std::string library_text(const LibraryFile& file);

// Inserts that are there already, by name.
using InsertNamed = std::function<std::optional<Id>(const std::string&)>;

struct ReadLibrary {
  LibraryFile file;
  // For each cutter of the file what is wrong with it; empty where it is right. As long as file.cutters.
  std::vector<FormatFaults> faults;
  FormatFaults part_faults;  // of holders and the rest: those are left out
  // False where an entry states no UUID: it then has one for this reading alone, by which its assemblies and recipes
  // know it.
  std::vector<bool> has_id;
};
// What cannot be read at all is the fault; a cutter with faults is there as far as it goes. `insert_named`: inserts
// that are there already, for files that name one without holding it.
tl::expected<ReadLibrary, FormatFault> read_library(std::string_view text, const InsertNamed& insert_named = {});

}  // namespace pecorra
