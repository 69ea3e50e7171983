#include "core/cutter/name_pattern.h"

#include <fmt/format.h>
#include <algorithm>
#include <cctype>

#include "core/cutter/kinds.h"
#include "core/quantity/entry.h"
#include "core/quantity/print.h"
#include "core/transfer/difference.h"

namespace pecorra {
namespace {

std::string lower(std::string_view text) {
  std::string out;
  for (const char c : text) out += c == '_' ? ' ' : static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
  const auto first = out.find_first_not_of(' ');
  return first == std::string::npos ? std::string() : out.substr(first, out.find_last_not_of(' ') - first + 1);
}

const Property<Cutter>* property_named(std::string_view name) {
  const std::string wanted = lower(name);
  if (wanted.empty()) return nullptr;
  for (const Property<Cutter>& p : properties<Cutter>())
    if (wanted == lower(p.symbol) || wanted == lower(p.key) || wanted == lower(p.label)) return &p;
  // Former names of fields, for older patterns.
  constexpr std::pair<std::string_view, std::string_view> former[] = {
      {"made of", "tool_material"}, {"edges pull", "edge_direction"}, {"greatest ramp", "max_ramp_deg"}};
  for (const auto& [label, key] : former)
    if (wanted == label) return find_property<Cutter>(key);
  // Lengths also without their unit: {flute length} is {flute_length_mm}.
  for (const Property<Cutter>& p : properties<Cutter>())
    if (lower(p.key).starts_with(wanted + " ")) return &p;
  return nullptr;
}

// What a property says in a name; empty when it is not given or zero.
std::string said(const Property<Cutter>& property, const Cutter& c) {
  // A ball's radius is half its diameter, so it is left out; so are sizes that the kind does not have.
  if (property.key == "corner_radius_mm" && !parameter_use(c.kind, property.key)) return {};
  const Value value = property.get(c);
  if (const double* number = std::get_if<double>(&value)) {
    if (*number == 0) return {};
    std::string text = shown(*number, property.quantity, c.unit);
    if (property.quantity != Quantity::length || !is_inch(c.unit)) return text;
    // Inches appear beside millimetres in lists: 7/16" as bought, always with the inch mark.
    if (const auto typed = c.typed.find(property.key); typed != c.typed.end())
      if (const auto entry = parse_entry(typed->second, property.quantity, c.unit);
          entry && same_value(entry->stored, *number))
        text = typed->second;
    return text.find_first_of("\"″abcdefghijklmnopqrstuvwxyz") == std::string::npos ? text + "\"" : text;
  }
  if (const bool* flag = std::get_if<bool>(&value)) return *flag ? std::string(property.label) : std::string();
  const std::string* text = std::get_if<std::string>(&value);
  if (!text) return {};
  for (const Choice& choice : property.choices)
    if (choice.key == *text) return std::string(choice.label);
  return *text;
}

class Reader {
 public:
  Reader(std::string_view pattern, const Cutter& cutter) : pattern_(pattern), cutter_(cutter) {}

  // Reads up to the end, or to the bracket that closes this part. `whole`: every property in it said something.
  std::string part(bool inside, bool& whole) {
    std::string out;
    const std::size_t opened = at_;
    while (at_ < pattern_.size()) {
      const char c = pattern_[at_];
      if (c == '\\' && at_ + 1 < pattern_.size()) {
        out += pattern_[at_ + 1];
        at_ += 2;
      } else if (c == '{') {
        const std::size_t close = pattern_.find('}', at_);
        if (close == std::string_view::npos) return stop(at_, "this brace is not closed; expected }");
        const std::string_view name = pattern_.substr(at_ + 1, close - at_ - 1);
        const Property<Cutter>* property = property_named(name);
        if (!property || property->quantity == Quantity::id)
          return stop(
              at_,
              fmt::format("“{}” is not a property of a cutter; use a symbol or a label, such as DC or diameter", name));
        std::string text = said(*property, cutter_);
        whole = whole && !text.empty();
        if (text.ends_with('"') && pattern_.substr(close + 1).starts_with('"'))
          text.pop_back();  // the pattern contains the mark itself
        out += text;
        at_ = close + 1;
      } else if (c == '[') {
        ++at_;
        bool complete = true;
        const std::string text = part(true, complete);
        if (fault_.place > 0) return {};
        if (complete) out += text;
      } else if (c == ']') {
        if (!inside) return stop(at_, "this bracket was not opened; write \\] for the mark itself");
        ++at_;
        return out;
      } else if (c == '}') {
        return stop(at_, "this brace was not opened; write \\} for the mark itself");
      } else {
        out += c;
        ++at_;
      }
    }
    if (inside) return stop(opened - 1, "this bracket is not closed; expected ]");
    return out;
  }
  const PatternFault& fault() const { return fault_; }

 private:
  std::string stop(std::size_t place, std::string text) {
    if (fault_.place == 0) {
      // Characters, not bytes.
      const auto characters = std::count_if(pattern_.begin(), pattern_.begin() + static_cast<std::ptrdiff_t>(place),
                                            [](char c) { return (static_cast<unsigned char>(c) & 0xc0) != 0x80; });
      fault_ = {static_cast<int>(characters) + 1, std::move(text)};
    }
    at_ = pattern_.size();
    return {};
  }

  std::string_view pattern_;
  const Cutter& cutter_;
  std::size_t at_ = 0;
  PatternFault fault_;
};

}  // namespace

tl::expected<std::string, PatternFault> name_by_pattern(std::string_view pattern, const Cutter& cutter) {
  Reader reader(pattern.substr(0, 2000), cutter);
  bool whole = true;
  std::string raw = reader.part(false, whole);
  if (reader.fault().place > 0) return tl::unexpected(reader.fault());
  // No double blanks where something was left out.
  std::string name;
  for (const char c : raw)
    if (c != ' ' || (!name.empty() && name.back() != ' ')) name += c;
  while (!name.empty() && name.back() == ' ') name.pop_back();
  return name;
}

std::string suggested_name(const Cutter& cutter, std::string_view pattern) {
  if (const auto name = name_by_pattern(pattern, cutter); name && !name->empty()) return *name;
  return *name_by_pattern(usual_name_pattern, cutter);
}

}  // namespace pecorra
