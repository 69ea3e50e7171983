// Maps the headings of a sheet to the properties of a type, and reads its cells. Independent of the type.
#pragma once

#include <functional>
#include <map>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/decimal.h"
#include "core/base/property.h"
#include "core/quantity/entry.h"
#include "core/quantity/print.h"
#include "core/transfer/sheet.h"

namespace pecorra {

// "DC (mm)", "vc [m/min]": the words, lower case without blanks and marks, and the unit.
struct Heading {
  std::string word, unit;
};
Heading heading_of(std::string_view text);
// Lower case, letters and digits alone; Ø is d.
std::string word_of(std::string_view text);
// Inch where the unit is one of the inch system, metric where it is one of the metric; nothing where it is neither.
std::optional<UnitSystem> system_of(std::string_view unit);
std::string trimmed(std::string_view text);
// "(mm)", "[mm]": what stands inside.
std::string bare_unit(std::string_view cell);
// A line below the headings that holds nothing but units.
bool is_unit_line(const std::vector<std::string>& cells);

// Another heading for a property, as shops use it.
struct Synonym {
  std::string_view word;  // as word_of() gives it
  std::string_view key;
};

template <class T>
const Property<T>* property_headed(const Heading& heading, std::span<const Synonym> synonyms) {
  if (heading.word.empty()) return nullptr;
  for (const Property<T>& p : properties<T>())
    if (word_of(p.key) == heading.word || (!p.symbol.empty() && word_of(p.symbol) == heading.word) ||
        word_of(p.label) == heading.word)
      return &p;
  for (const Synonym& s : synonyms)
    if (s.word == heading.word) return find_property<T>(s.key);
  return nullptr;
}

// Another word for a choice, as shops write it into cells.
struct ChoiceWord {
  std::string_view key;     // of the property
  std::string_view word;    // as word_of() gives it
  std::string_view choice;  // its key
};

// A plain number with a point, as in most cells: read without the rules of fields, with the same result.
inline std::optional<double> plain_figure(std::string_view text) {
  double value = 0;
  const char* end = text.data() + text.size();
  return !text.empty() && read_decimal(text.data(), end, value) == end ? std::optional(value) : std::nullopt;
}

// Maps a name, as of a material, to its id text; nothing if there is none of that name.
using IdLookup = std::function<std::optional<std::string>(std::string_view key, const std::string& name)>;

// Sets the property from a cell; the fault says what would be right. An empty cell changes nothing.
template <class T>
std::optional<std::string> read_cell(T& object, const Property<T>& property, const std::string& text, UnitSystem units,
                                     const IdLookup& ids, std::span<const ChoiceWord> words = {}) {
  const auto refused = [&](const std::string& why) { return std::optional("“" + text + "” " + why); };
  switch (property.quantity) {
    case Quantity::text: property.set(object, text); return std::nullopt;
    case Quantity::id: {
      const auto id = ids ? ids(property.key, text) : std::nullopt;
      if (!id || !property.set(object, *id)) return refused("is not known");
      return std::nullopt;
    }
    case Quantity::flag: {
      const std::string word = word_of(text);
      for (const char* yes : {"yes", "true", "1", "x", "y"})
        if (word == yes) return property.set(object, true), std::nullopt;
      for (const char* no : {"no", "false", "0", "n"})
        if (word == no) return property.set(object, false), std::nullopt;
      return refused("is neither yes nor no");
    }
    case Quantity::choice: {
      const std::string word = word_of(text);
      for (const Choice& c : property.choices)
        if (word_of(c.key) == word || word_of(c.label) == word)
          return property.set(object, std::string(c.key)), std::nullopt;
      for (const ChoiceWord& w : words)
        if (w.key == property.key && w.word == word) return property.set(object, std::string(w.choice)), std::nullopt;
      std::string known;
      for (const Choice& c : property.choices) known += (known.empty() ? "" : ", ") + std::string(c.label);
      return refused("is not known; there are " + known);
    }
    default: break;
  }
  if (const auto figure = plain_figure(text); figure && stored_per_shown(property.quantity, units) == 1 &&
                                              property.accepts(*figure) &&
                                              (property.quantity != Quantity::count || *figure == std::floor(*figure)))
    return property.set(object, *figure), std::nullopt;
  const auto entry = parse_entry(text, property.quantity, units);
  if (!entry)
    return entry.error().text.starts_with("“") ? std::optional(entry.error().text) : refused(entry.error().text);
  if (!property.accepts(entry->stored))
    return refused(property.low_open && property.low == 0 ? "is not possible; use more than 0" : "is out of range");
  property.set(object, entry->stored);
  return std::nullopt;
}

struct CellFault {
  int line = 0;        // of the sheet, 1 the first
  std::string column;  // its heading
  std::string text;
};

}  // namespace pecorra
