#include "core/library/cutter_find.h"

#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include <cstring>

#include "core/library/folded.h"
#include "core/quantity/entry.h"

namespace pecorra {
namespace {

std::string_view bare(std::string_view text) {
  while (!text.empty() && text.front() == ' ') text.remove_prefix(1);
  while (!text.empty() && text.back() == ' ') text.remove_suffix(1);
  return text;
}

// Substring search that is fast for short texts too.
bool stands_in(const char* text, std::size_t size, const std::string& word) {
  return memmem(text, size, word.data(), word.size()) != nullptr;
}

// 1", 1/4in, 12mm, Ø12; 0 for any other word.
float diameter_in(std::string_view word) {
  static constexpr std::string_view sign = "ø";  // as folded
  const bool has_sign = word.starts_with(sign);
  if (has_sign) word.remove_prefix(sign.size());
  if (word.empty() || word.front() < '0' || word.front() > '9') return 0;
  if (!has_sign && !word.ends_with('"') && !word.ends_with("mm") && !word.ends_with("in")) return 0;
  const auto entry = parse_entry(word, Quantity::length, UnitSystem::metric);
  return entry && entry->stored > 0 ? static_cast<float>(entry->stored) : 0;
}

}  // namespace

tl::expected<NumberRange, std::string> parse_range(std::string_view text, Quantity quantity, UnitSystem units) {
  NumberRange range;
  range.typed = bare(text);
  const auto number = [&](std::string_view part) -> tl::expected<double, std::string> {
    const auto entry = parse_entry(bare(part), quantity, units);
    if (!entry) return tl::unexpected(entry.error().text);
    return entry->stored;
  };
  text = bare(text);
  if (text.empty()) return tl::unexpected(std::string("enter a number, such as 12, or a range, such as 6 .. 12"));
  for (const auto& [sign, lower] : {std::pair<std::string_view, bool>{">=", true},
                                    {"≥", true},
                                    {">", true},
                                    {"from ", true},
                                    {"<=", false},
                                    {"≤", false},
                                    {"<", false},
                                    {"to ", false},
                                    {"up to ", false}})
    if (text.starts_with(sign)) {
      const auto value = number(text.substr(sign.size()));
      if (!value) return tl::unexpected(value.error());
      (lower ? range.from : range.to) = *value;
      return range;
    }
  for (const std::string_view between : {"..", "…", "–", " - ", " to "}) {
    const auto at = text.find(between);
    if (at == std::string_view::npos) continue;
    const std::string_view low = bare(text.substr(0, at));
    std::string_view high = bare(text.substr(at + between.size()));
    while (!high.empty() && high.front() == '.') high = bare(high.substr(1));
    if (low.empty() && high.empty()) return tl::unexpected(std::string("a number is missing; 6 .. 12 is a range"));
    if (!high.empty()) {
      const auto value = number(high);
      if (!value) return tl::unexpected(value.error());
      range.to = *value;
    }
    if (!low.empty()) {
      // "6 .. 12 mm": the unit behind holds for both, where the first number has none.
      auto value = number(low);
      const auto unit = high.find_first_not_of("0123456789.,/- ");
      if (unit != std::string_view::npos && low.find_first_not_of("0123456789.,/- ") == std::string_view::npos)
        value = number(std::string(low) + " " + std::string(high.substr(unit)));
      if (!value) return tl::unexpected(value.error());
      range.from = *value;
    }
    if (range.from && range.to && *range.from > *range.to)
      return tl::unexpected(std::string("the first number is greater than the second; write 6 .. 12"));
    return range;
  }
  const auto value = number(text);
  if (!value) return tl::unexpected(value.error());
  range.from = range.to = *value;
  return range;
}

std::string value_text(const Value& value) {
  if (const double* number = std::get_if<double>(&value)) return fmt::format("{}", *number);
  if (const bool* flag = std::get_if<bool>(&value)) return *flag ? "yes" : "no";
  if (const std::string* text = std::get_if<std::string>(&value)) return *text;
  return {};
}

bool fits(const Cutter& cutter, const CutterFilter& filter, std::string_view without) {
  for (const auto& [key, wanted] : filter.values) {
    if (key == without) continue;
    const Property<Cutter>* p = find_property<Cutter>(key);
    if (p && !wanted.contains(value_text(p->get(cutter)))) return false;
  }
  for (const auto& [key, range] : filter.ranges) {
    if (key == without) continue;
    const Property<Cutter>* p = find_property<Cutter>(key);
    if (!p) continue;
    const auto number = number_of(cutter, *p);
    // As a field shows it: 12.7 is in 1/2".
    const double slack = number ? 1e-6 * std::max(1.0, std::abs(*number)) : 0;
    if (!number || (range.from && *number < *range.from - slack) || (range.to && *number > *range.to + slack))
      return false;
  }
  return true;
}

void CutterIndex::append(const Cutter& c, Row& row) {
  const std::size_t from = texts_.size();
  for (const std::string* text : {&c.name, &c.maker, &c.series, &c.order_code, &c.notes})
    if (!text->empty()) {
      append_folded(texts_, *text);
      texts_ += '\n';
    }
  texts_ += std::to_string(c.number);
  row.id = c.id;
  row.from = static_cast<std::uint32_t>(from);
  row.size = static_cast<std::uint16_t>(std::min<std::size_t>(texts_.size() - from, 0xffff));
  row.kind = static_cast<std::uint8_t>(c.kind);
  row.material = c.tool_material ? static_cast<std::uint8_t>(static_cast<int>(*c.tool_material) + 1) : 0;
  row.diameter_mm = static_cast<float>(c.diameter_mm.value_or(0));
}

void CutterIndex::rebuild(std::span<const Cutter> cutters) {
  texts_.clear();
  texts_.reserve(cutters.size() * 64);
  rows_.resize(cutters.size());
  for (std::size_t i = 0; i < cutters.size(); ++i) append(cutters[i], rows_[i]);
  texts_.shrink_to_fit();
  wasted_ = 0;
  last_text_.clear();
  words_.clear();
  hits_.assign(rows_.size(), 1);
}

void CutterIndex::update(std::span<const Cutter> cutters, std::size_t place) {
  if (place > rows_.size() || wasted_ > texts_.size() / 2 + 100000) return rebuild(cutters);
  if (place == rows_.size()) {
    rows_.emplace_back();
    hits_.push_back(1);
  } else {
    wasted_ += rows_[place].size;
  }
  append(cutters[place], rows_[place]);
  hits_[place] = has_words(place);
}

bool CutterIndex::has(const Row& row, const Word& word) const {
  if (word.diameter_mm > 0) return std::abs(row.diameter_mm - word.diameter_mm) <= 1e-4f * word.diameter_mm;
  return (word.kinds >> row.kind & 1) || (row.material && (word.materials >> (row.material - 1) & 1)) ||
         stands_in(texts_.data() + row.from, row.size, word.text);
}

bool CutterIndex::has_words(std::size_t place) const {
  return std::all_of(words_.begin(), words_.end(), [&](const Word& w) { return has(rows_[place], w); });
}

const std::vector<std::uint8_t>& CutterIndex::find(std::string_view text) {
  const std::string wanted = folded(text);
  if (wanted == last_text_ && hits_.size() == rows_.size()) return hits_;
  // A text that only adds letters searches the previous hits.
  bool narrower = !last_text_.empty() && wanted.starts_with(last_text_) && hits_.size() == rows_.size();
  words_.clear();
  std::string_view rest = wanted;
  while (!rest.empty()) {
    const auto end = std::min(rest.find(' '), rest.size());
    if (end > 0) {
      Word word{std::string(rest.substr(0, end))};
      const auto mark = [&](std::span<const Choice> choices, std::uint64_t& bits) {
        for (std::size_t i = 0; i < choices.size(); ++i)
          if (folded(choices[i].label).find(word.text) != std::string::npos) bits |= std::uint64_t{1} << i;
      };
      mark(choices_of<CutterKind>(), word.kinds);
      mark(choices_of<ToolMaterial>(), word.materials);
      word.diameter_mm = diameter_in(word.text);
      narrower = narrower && word.diameter_mm == 0;  // 1" is not in 1
      words_.push_back(std::move(word));
    }
    rest.remove_prefix(std::min(end + 1, rest.size()));
  }
  // Rare words first: the longest is looked for before the others.
  std::stable_sort(words_.begin(), words_.end(),
                   [](const Word& a, const Word& b) { return a.text.size() > b.text.size(); });
  last_text_ = wanted;
  if (hits_.size() != rows_.size()) hits_.assign(rows_.size(), 1);
  for (std::size_t i = 0; i < rows_.size(); ++i)
    if (!narrower || hits_[i]) hits_[i] = has_words(i);
  return hits_;
}

}  // namespace pecorra
