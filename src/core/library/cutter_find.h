// Finds cutters in long lists by words, values and ranges of properties combined.
#pragma once

#include <cstdint>
#include <map>
#include <optional>
#include <set>
#include <span>
#include <string>
#include <tl/expected.hpp>
#include <vector>

#include "core/cutter/cutter.h"

namespace pecorra {

// From and to, inclusive, in the stored unit; `typed`: as somebody wrote it.
struct NumberRange {
  std::optional<double> from, to;
  std::string typed;
  bool operator==(const NumberRange&) const = default;
};
// "6..12 mm", "1/4"–1/2"", ">= 10", "< 3", "12": what is not given is open; a single value stands for itself. Text
// behind “..” or a dash between blanks is the upper end. The fault says what would be right.
tl::expected<NumberRange, std::string> parse_range(std::string_view text, Quantity quantity, UnitSystem units);

// Criteria besides words: all properties must match, each with one of its values.
struct CutterFilter {
  std::map<std::string, std::set<std::string>, std::less<>>
      values;  // property -> values as texts; an empty text is “not given”
  std::map<std::string, NumberRange, std::less<>> ranges;
  bool operator==(const CutterFilter&) const = default;
  bool has_criteria() const { return !values.empty() || !ranges.empty(); }
};

// A value as it is counted and compared: texts as they are, numbers shortest, flags "yes" and "no".
std::string value_text(const Value& value);
// `without`: the property whose own criterion does not count.
bool fits(const Cutter& cutter, const CutterFilter& filter, std::string_view without = {});

// The words of every cutter of a list in one block of memory, in the list's order.
class CutterIndex {
 public:
  void rebuild(std::span<const Cutter> cutters);
  // The cutter at that place has changed, or was appended.
  void update(std::span<const Cutter> cutters, std::size_t place);
  std::size_t size() const { return rows_.size(); }
  const Id& id(std::size_t place) const { return rows_[place].id; }

  // For each cutter whether every word of the text occurs in name, maker, series, order code, notes, number, kind or
  // tool material. A length with its unit or after Ø is the diameter: 1", 1/4in, 12mm, Ø12. If the text extends the
  // previous one, only its hits are searched.
  const std::vector<std::uint8_t>& find(std::string_view text);
  // Whether the words of the last find() match at one place, after an update.
  bool has_words(std::size_t place) const;

 private:
  struct Row {
    Id id;
    std::uint32_t from;
    std::uint16_t size;
    std::uint8_t kind, material;  // material: 0 is not stated
    float diameter_mm;            // 0: none
  };
  struct Word {
    std::string text;
    std::uint64_t kinds = 0, materials = 0;  // whose label has it
    float diameter_mm = 0;                   // where it is a size
  };
  void append(const Cutter& cutter, Row& row);
  bool has(const Row& row, const Word& word) const;

  std::string texts_;
  std::size_t wasted_ = 0;
  std::vector<Row> rows_;
  std::string last_text_;
  std::vector<Word> words_;
  std::vector<std::uint8_t> hits_;
};

}  // namespace pecorra
