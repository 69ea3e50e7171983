// Numbers cutters by the shop's number blocks.
#pragma once

#include "shop/change.h"

namespace pecorra {

// Names of the materials a cutter has recipes for; points into the shop.
FurtherWords materials_of_recipes(const ShopState& state);
std::optional<Breach> breach_of(const ShopState& state, const Cutter& cutter);
// "outside 40 to 79, bronze"; empty: its number is as it should be.
QString breach_text(const ShopState& state, const Cutter& cutter);
QString block_text(const NumberBlock& block);
// The plan as one change.
Change renumber(const ShopState& state, const NumberPlan& plan);

// Puts cutters into another library: each keeps its number if it is free there, else it gets a free one of its block.
// Copies and their assemblies and recipes get UUIDs of their own.
struct Moved {
  std::size_t cutter = 0;  // index in the shop
  int number = 0;          // there
};
std::vector<Moved> plan_move(const ShopState& state, const std::vector<Id>& cutters, const Id& library);
Change move_cutters(const ShopState& state, const std::vector<Id>& cutters, const Id& library);
Change copy_cutters(const ShopState& state, const std::vector<Id>& cutters, const Id& library);
// Copies a library with its cutters; every cutter keeps its number.
Change copy_library(const ShopState& state, const Id& library, const Library& other);
// With its cutters; the file of a shared library stays on the disk.
Change delete_library(const ShopState& state, const Id& library);
// With assemblies and recipes; jobs keep their own copies.
Change delete_cutters(const ShopState& state, const std::vector<Id>& cutters);

}  // namespace pecorra
