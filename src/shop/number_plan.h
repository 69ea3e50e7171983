// Numbers of the shop's cutters by its blocks.
#pragma once

#include "shop/change.h"

namespace pecorra {

// Names of the materials that a cutter has recipes for; points into the shop.
FurtherWords materials_of_recipes(const ShopState& state);
std::optional<Breach> breach_of(const ShopState& state, const Cutter& cutter);
// "outside 40 to 79, bronze"; empty: its number is as it should be.
QString breach_text(const ShopState& state, const Cutter& cutter);
QString block_text(const NumberBlock& block);
// The plan as one change.
Change renumber(const ShopState& state, const NumberPlan& plan);

// Cutters put into another library: each keeps its number where it is free there, else gets a free one of its block.
// Copies get UUIDs of their own, and their assemblies and recipes with them.
struct Moved {
  std::size_t cutter = 0;  // place in the shop
  int number = 0;          // there
};
std::vector<Moved> plan_move(const ShopState& state, const std::vector<Id>& cutters, const Id& library);
Change move_cutters(const ShopState& state, const std::vector<Id>& cutters, const Id& library);
Change copy_cutters(const ShopState& state, const std::vector<Id>& cutters, const Id& library);
// A library and its cutters as another one; every cutter keeps its number.
Change copy_library(const ShopState& state, const Id& library, const Library& other);
// With its cutters; the file of a shared library stays on the disk.
Change delete_library(const ShopState& state, const Id& library);
// With assemblies and recipes; jobs keep their own copies.
Change delete_cutters(const ShopState& state, const std::vector<Id>& cutters);

}  // namespace pecorra
