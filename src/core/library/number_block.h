// Number blocks: rules for which numbers a group of cutters may have, their breaches, and a plan of free numbers.
#pragma once

#include <functional>
#include <optional>
#include <set>
#include <span>
#include <string>
#include <vector>

#include "core/base/message.h"
#include "core/cutter/cutter.h"

namespace pecorra {

// "1 to 24 for what stands in the machine", "200 up for stainless", "every tenth for probes". Whatever is not stated
// holds for any cutter: without library, kind and word it keeps numbers for people to give away.
struct NumberBlock {
  Id id;
  std::int64_t revision = 0;
  std::string name;             // what it is for, in words
  std::optional<int> from, to;  // inclusive; without `to` there is no end
  std::optional<int> every;     // only numbers that this divides
  Id library;                   // for cutters of this library
  std::optional<CutterKind> kind;
  std::string word;  // in the name, notes, maker, series or coating, or a material of its recipes
  bool operator==(const NumberBlock&) const = default;

  bool holds(int number) const {
    return number >= from.value_or(1) && (!to || number <= *to) && (!every || *every < 1 || number % *every == 0);
  }
  bool has_condition() const { return !library.is_null() || kind || !word.empty(); }
};
template <>
std::span<const Property<NumberBlock>> properties<NumberBlock>();
std::vector<Message> check_block(const NumberBlock& block);

// What else a word may stand in, as names of materials that a cutter has recipes for; may be empty.
using FurtherWords = std::function<std::string(const Cutter&)>;

// Whether the block is for this cutter; true for every cutter where it states no condition.
bool belongs_to(const NumberBlock& block, const Cutter& cutter, const FurtherWords& further = {});

enum class BreachKind { outside, kept_for_others };
struct Breach {
  BreachKind kind = BreachKind::outside;
  const NumberBlock* block = nullptr;  // where it belongs; or whose number it has
};
// If a cutter belongs to blocks for different cutters (the standing set's probe: 1 to 24, and every tenth), all of them
// apply; blocks for the same cutters are alternatives. Outside: one that applies is not kept. Reserved: it has a number
// of a block with a first number that is not for it, without being in one that is. Blocks without a condition keep
// nobody out.
std::optional<Breach> breach_of(const Cutter& cutter, std::span<const NumberBlock> blocks,
                                const FurtherWords& further = {});

// The cutters among `chosen` (indices into `cutters`) that get another number: breaches, and numbers used twice in a
// library. The new number comes after the others of its blocks, or from their gaps; without blocks, after all others.
// Cutters whose blocks are full are listed in `full`.
struct Renumbering {
  std::size_t cutter = 0;  // place
  int from = 0, to = 0;
};
struct NumberPlan {
  std::vector<Renumbering> steps;
  std::vector<std::size_t> full;
};
NumberPlan plan_numbers(std::span<const Cutter> cutters, std::span<const std::size_t> chosen,
                        std::span<const NumberBlock> blocks, const FurtherWords& further = {});

// The numbers in use in a library, to assign many free ones at a time.
class TakenNumbers {
 public:
  TakenNumbers() = default;
  TakenNumbers(std::span<const Cutter> cutters, const Id& library);
  bool contains(int number) const {
    return number < static_cast<int>(taken_.size()) ? taken_[static_cast<std::size_t>(number)] : far_.contains(number);
  }
  void take(int number);
  void give_back(int number);
  int highest() const { return highest_; }
  // The number for a cutter that is put into the library: in its block where it has one, else behind the highest.
  int free_for(const Cutter& cutter, std::span<const NumberBlock> blocks, const FurtherWords& further = {}) const;
  // One that breaks no rule, behind the others of its block or in a gap; nothing: its blocks are full, or there are
  // none for it.
  std::optional<int> free_in_blocks(const Cutter& cutter, std::span<const NumberBlock> blocks,
                                    const FurtherWords& further = {}) const;

 private:
  std::vector<bool> taken_;  // up to a million
  std::set<int> far_;
  int highest_ = 0;
};

}  // namespace pecorra
