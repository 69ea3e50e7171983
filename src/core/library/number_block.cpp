#include "core/library/number_block.h"

#include <algorithm>
#include <array>
#include <unordered_map>

#include "core/library/folded.h"

namespace pecorra {
namespace {

using enum Quantity;

const std::array list{
    field<&NumberBlock::name>("name", "", "For", text, "What stands in these numbers, in words"),
    field<&NumberBlock::from>("from", "", "From", count, "Its first number; empty: 1").within(1, 99999999),
    field<&NumberBlock::to>("to", "", "To", count, "Its last number; empty: there is no end").within(1, 99999999),
    field<&NumberBlock::every>("every", "", "Every", count, "Only every so many: 10 for 10, 20, 30").within(1, 1000000),
    field<&NumberBlock::library>("library", "", "Library", Quantity::id, "For cutters of this library; empty: of any"),
    field<&NumberBlock::kind>("kind", "", "Kind", choice, "For cutters of this kind; empty: of any"),
    field<&NumberBlock::word>("word", "", "Word", text, "For cutters with this word in name, notes, maker, series, coating or a material of their recipes")};

constexpr int vector_limit = 1 << 20;

}  // namespace

template <> std::span<const Property<NumberBlock>> properties<NumberBlock>() { return list; }

std::vector<Message> check_block(const NumberBlock& b) {
  std::vector<Message> messages;
  if (b.from && b.to && *b.from > *b.to) messages.push_back({Severity::error, "low_over_high", "to", {}});
  const int first = b.every ? (b.from.value_or(1) + *b.every - 1) / *b.every * *b.every : b.from.value_or(1);
  if (messages.empty() && b.to && first > *b.to) messages.push_back({Severity::error, "block_without_numbers", "every", {}});
  return messages;
}

bool belongs_to(const NumberBlock& block, const Cutter& c, const FurtherWords& further) {
  if (!block.library.is_null() && block.library != c.library) return false;
  if (block.kind && *block.kind != c.kind) return false;
  if (block.word.empty()) return true;
  const std::string wanted = folded(block.word);
  for (const std::string* text : {&c.name, &c.notes, &c.maker, &c.series, &c.coating})
    if (folded(*text).find(wanted) != std::string::npos) return true;
  return further && folded(further(c)).find(wanted) != std::string::npos;
}

std::optional<Breach> breach_of(const Cutter& cutter, std::span<const NumberBlock> blocks, const FurtherWords& further) {
  const NumberBlock* own = nullptr;
  const NumberBlock* others = nullptr;
  for (const NumberBlock& b : blocks) {
    if (!b.has_condition()) continue;
    if (belongs_to(b, cutter, further)) {
      if (b.holds(cutter.number)) return std::nullopt;
      if (!own) own = &b;
    } else if (!others && b.holds(cutter.number) && (b.library.is_null() || b.library == cutter.library)) {
      others = &b;
    }
  }
  if (own) return Breach{BreachKind::outside, own};
  if (others) return Breach{BreachKind::kept_for_others, others};
  return std::nullopt;
}

TakenNumbers::TakenNumbers(std::span<const Cutter> cutters, const Id& library) {
  for (const Cutter& c : cutters)
    if (c.library == library) take(c.number);
}

void TakenNumbers::take(int number) {
  if (number < 1) return;
  highest_ = std::max(highest_, number);
  if (number >= vector_limit) {
    far_.insert(number);
    return;
  }
  if (number >= static_cast<int>(taken_.size())) taken_.resize(static_cast<std::size_t>(number) + 1 + taken_.size());
  taken_[static_cast<std::size_t>(number)] = true;
}

void TakenNumbers::give_back(int number) {
  if (number > 0 && number < static_cast<int>(taken_.size())) taken_[static_cast<std::size_t>(number)] = false;
  far_.erase(number);
}

std::optional<int> TakenNumbers::free_in(const NumberBlock& block) const {
  const int step = std::max(1, block.every.value_or(1));
  const int last = block.to.value_or(99999999);
  for (int n = (block.from.value_or(1) + step - 1) / step * step; n <= last; n += step)
    if (!contains(n)) return n;
  return std::nullopt;
}

int TakenNumbers::free_for(const Cutter& cutter, std::span<const NumberBlock> blocks, const FurtherWords& further) const {
  for (const NumberBlock& b : blocks)
    if (b.has_condition() && belongs_to(b, cutter, further))
      if (const auto n = free_in(b)) return *n;
  // Behind the highest, but not into numbers that are kept for others.
  for (int n = highest_ + 1;; ++n) {
    Cutter there = cutter;
    there.number = n;
    const auto breach = breach_of(there, blocks, further);
    if (!breach || breach->kind == BreachKind::outside) return n;
    if (!breach->block->to) break;  // it has no end: the smallest free number outside it
    if (!breach->block->every) n = *breach->block->to;
  }
  for (int n = 1;; ++n) {
    Cutter there = cutter;
    there.number = n;
    if (!contains(n) && !breach_of(there, blocks, further)) return n;
    if (n > highest_ + 1) return highest_ + 1;
  }
}

NumberPlan plan_numbers(std::span<const Cutter> cutters, std::span<const std::size_t> chosen, std::span<const NumberBlock> blocks, const FurtherWords& further) {
  NumberPlan plan;
  std::unordered_map<Id, TakenNumbers> taken;
  std::unordered_map<Id, std::unordered_map<int, std::size_t>> first;  // who has a number first in its library
  for (std::size_t i = 0; i < cutters.size(); ++i) {
    taken[cutters[i].library].take(cutters[i].number);
    first[cutters[i].library].try_emplace(cutters[i].number, i);
  }
  std::vector<std::size_t> wanting;
  for (const std::size_t i : chosen) {
    const Cutter& c = cutters[i];
    const bool twice = first[c.library][c.number] != i;
    if (!twice && c.number >= 1 && !breach_of(c, blocks, further)) continue;
    if (!twice) taken[c.library].give_back(c.number);
    wanting.push_back(i);
  }
  std::stable_sort(wanting.begin(), wanting.end(), [&](std::size_t a, std::size_t b) { return cutters[a].number < cutters[b].number; });
  for (const std::size_t i : wanting) {
    const Cutter& c = cutters[i];
    TakenNumbers& numbers = taken[c.library];
    bool has_block = false;
    std::optional<int> number;
    for (const NumberBlock& b : blocks) {
      if (!b.has_condition() || !belongs_to(b, c, further)) continue;
      has_block = true;
      if (!number) number = numbers.free_in(b);
    }
    if (has_block && !number) {
      plan.full.push_back(i);
      numbers.take(c.number);
      continue;
    }
    if (!number) number = numbers.free_for(c, blocks, further);
    numbers.take(*number);
    if (*number != c.number) plan.steps.push_back({i, c.number, *number});
  }
  return plan;
}

}  // namespace pecorra
