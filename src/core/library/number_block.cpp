#include "core/library/number_block.h"

#include <algorithm>
#include <array>
#include <unordered_map>

#include "core/library/folded.h"

namespace pecorra {
namespace {

using enum Quantity;

constexpr std::array block_list{
    field<&NumberBlock::name>("name", "", "For", text, "What these numbers are for"),
    field<&NumberBlock::from>("from", "", "From", count, "Its first number; empty: 1").within(1, 99999999),
    field<&NumberBlock::to>("to", "", "To", count, "Its last number; empty: no limit").within(1, 99999999),
    field<&NumberBlock::every>("every", "", "Step", count, "10 allows 10, 20, 30").within(1, 1000000),
    field<&NumberBlock::library>("library", "", "Library", Quantity::id, "Cutters of this library; empty: any"),
    field<&NumberBlock::kind>("kind", "", "Kind", choice, "Cutters of this kind; empty: any"),
    field<&NumberBlock::word>(
        "word", "", "Word", text,
        "Cutters with this word in name, notes, maker, series, coating or a material of their recipes")};

constexpr int vector_limit = 1 << 20;

}  // namespace

template <>
std::span<const Property<NumberBlock>> properties<NumberBlock>() {
  return block_list;
}

std::vector<Message> check_block(const NumberBlock& b) {
  std::vector<Message> messages;
  if (b.from && b.to && *b.from > *b.to)
    messages.push_back({Severity::error,
                        "values_reversed",
                        "to",
                        {{"from", static_cast<double>(*b.from)}, {"to", static_cast<double>(*b.to)}}});
  const int first = b.every ? (b.from.value_or(1) + *b.every - 1) / *b.every * *b.every : b.from.value_or(1);
  if (messages.empty() && b.to && first > *b.to)
    messages.push_back({Severity::error, "block_without_numbers", "every", {}});
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

namespace {

// Blocks for the same cutters: any of them will do.
bool same_condition(const NumberBlock& a, const NumberBlock& b) {
  return a.library == b.library && a.kind == b.kind && a.word == b.word;
}

}  // namespace

std::optional<Breach> breach_of(const Cutter& cutter, std::span<const NumberBlock> blocks,
                                const FurtherWords& further) {
  const NumberBlock* others = nullptr;
  bool in_own = false;
  for (const NumberBlock& b : blocks) {
    if (!b.has_condition()) continue;
    if (belongs_to(b, cutter, further)) {
      if (b.holds(cutter.number)) {
        in_own = true;
        continue;
      }
      if (std::none_of(blocks.begin(), blocks.end(),
                       [&](const NumberBlock& o) { return same_condition(o, b) && o.holds(cutter.number); }))
        return Breach{BreachKind::outside, &b};
    } else if (!others && b.from && b.holds(cutter.number) && (b.library.is_null() || b.library == cutter.library)) {
      others = &b;
    }
  }
  if (others && !in_own) return Breach{BreachKind::kept_for_others, others};
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

std::optional<int> TakenNumbers::free_in_blocks(const Cutter& cutter, std::span<const NumberBlock> blocks,
                                                const FurtherWords& further) const {
  Cutter there = cutter;
  for (const NumberBlock& b : blocks) {
    if (!b.has_condition() || !belongs_to(b, cutter, further)) continue;
    const int step = std::max(1, b.every.value_or(1)), from = b.from.value_or(1);
    const auto find = [&](std::int64_t first, std::int64_t last) -> std::optional<int> {
      for (std::int64_t n = (first + step - 1) / step * step; n <= last; n += step) {
        if (contains(static_cast<int>(n))) continue;
        there.number = static_cast<int>(n);
        if (!breach_of(there, blocks, further)) return there.number;
      }
      return std::nullopt;
    };
    // After the highest in use while the block lasts; then in the gaps.
    const std::int64_t last =
        std::min<std::int64_t>(b.to.value_or(99999999), std::max(highest_, from) + std::int64_t{1000} * step);
    std::int64_t behind = std::min<std::int64_t>(last, highest_);
    while (behind >= from && !contains(static_cast<int>(behind))) --behind;
    if (const auto n = find(std::max<std::int64_t>(behind + 1, from), last)) return n;
    if (const auto n = find(from, std::min<std::int64_t>(last, behind))) return n;
  }
  return std::nullopt;
}

int TakenNumbers::free_for(const Cutter& cutter, std::span<const NumberBlock> blocks,
                           const FurtherWords& further) const {
  if (const auto n = free_in_blocks(cutter, blocks, further)) return *n;
  Cutter there = cutter;
  const auto is_right = [&](int n) {
    there.number = n;
    const auto breach = breach_of(there, blocks, further);
    return !breach || breach->kind == BreachKind::outside;  // its own blocks are full: any number outside other blocks
  };
  // After the highest; if numbers there are reserved for others, the lowest free one.
  if (is_right(highest_ + 1)) return highest_ + 1;
  for (int n = 1; n <= highest_; ++n)
    if (!contains(n) && is_right(n)) return n;
  return highest_ + 1;
}

NumberPlan plan_numbers(std::span<const Cutter> cutters, std::span<const std::size_t> chosen,
                        std::span<const NumberBlock> blocks, const FurtherWords& further) {
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
  std::stable_sort(wanting.begin(), wanting.end(),
                   [&](std::size_t a, std::size_t b) { return cutters[a].number < cutters[b].number; });
  for (const std::size_t i : wanting) {
    const Cutter& c = cutters[i];
    TakenNumbers& numbers = taken[c.library];
    const bool has_block = std::any_of(blocks.begin(), blocks.end(), [&](const NumberBlock& b) {
      return b.has_condition() && belongs_to(b, c, further);
    });
    std::optional<int> number = numbers.free_in_blocks(c, blocks, further);
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
