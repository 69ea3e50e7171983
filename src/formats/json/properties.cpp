#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include <set>

#include "core/quantity/print.h"
#include "formats/json/objects.h"

namespace pecorra {
namespace {

constexpr int deepest = 64;
constexpr std::size_t most_values = 10'000'000, most_unknown = 100, most_keys = 5000;
constexpr double most_anything = 1e9;  // of any quantity, in the unit of its key

std::string joined(const std::string& path, std::string_view key) {
  return path.empty() ? std::string(key) : path + "." + std::string(key);
}

Json value_json(const Value& value, Quantity quantity) {
  if (const bool* b = std::get_if<bool>(&value)) return *b;
  if (const double* d = std::get_if<double>(&value)) {
    if (quantity == Quantity::count || (std::abs(*d) < 1e15 && *d == std::floor(*d)))
      return static_cast<std::int64_t>(*d);
    return *d;
  }
  if (const std::string* s = std::get_if<std::string>(&value)) return *s;
  return nullptr;
}

std::string range_text(double low, double high, bool open) {
  if (std::isfinite(low) && std::isfinite(high) && high < 1e5)
    return fmt::format("{} {} and at most {}", open ? "more than" : "at least", plain(low, 6),
                       plain(std::round(high * 1e4) / 1e4, 6));
  if (std::isfinite(low)) return fmt::format("{} {}", open ? "more than" : "at least", plain(low, 6));
  return "a finite number";
}

std::string choices_text(std::span<const Choice> choices, const std::string& wrong) {
  std::vector<std::string> keys;
  for (const Choice& choice : choices) keys.emplace_back(choice.key);
  const std::string near = nearest_text(wrong, keys);
  if (!near.empty()) return "“" + near + "” is the nearest";
  return fmt::format("use one of {}", fmt::join(keys, ", "));
}

}  // namespace

std::string nearest_text(std::string_view text, const std::vector<std::string>& known) {
  auto lower = [](std::string_view s) {
    std::string out(s.substr(0, 64));
    for (char& c : out)
      if (c >= 'A' && c <= 'Z') c = static_cast<char>(c + 32);
    return out;
  };
  const std::string a = lower(text);
  std::string best;
  std::size_t best_distance = std::max<std::size_t>(2, a.size() / 2);
  for (const std::string& candidate : known) {
    const std::string b = lower(candidate);
    std::vector<std::size_t> row(b.size() + 1);
    for (std::size_t j = 0; j <= b.size(); ++j) row[j] = j;
    for (std::size_t i = 1; i <= a.size(); ++i) {
      std::size_t diagonal = row[0];
      row[0] = i;
      for (std::size_t j = 1; j <= b.size(); ++j) {
        const std::size_t above = row[j];
        row[j] = std::min({row[j] + 1, row[j - 1] + 1, diagonal + (a[i - 1] != b[j - 1])});
        diagonal = above;
      }
    }
    if (a.size() >= 2 && b.find(a) != std::string::npos) row[b.size()] = 1;  // only a part of the name was given
    if (row[b.size()] < best_distance || (row[b.size()] == best_distance && best.empty())) {
      best_distance = row[b.size()];
      best = candidate;
    }
  }
  return best;
}

namespace {

// Scans a text before it is parsed: reports faults, and nothing beyond the budget is built.
class Watch : public nlohmann::json_sax<Json> {
 public:
  explicit Watch(std::string_view text) : text_(text) {}
  FormatFault fault;
  bool null() override { return value(); }
  bool boolean(bool) override { return value(); }
  bool number_integer(number_integer_t) override { return value(); }
  bool number_unsigned(number_unsigned_t) override { return value(); }
  bool number_float(number_float_t, const string_t&) override { return value(); }
  bool string(string_t&) override { return value(); }
  bool binary(binary_t&) override { return value(); }
  bool start_object(std::size_t) override {
    keys_.emplace_back();
    return deeper();
  }
  bool key(string_t& key) override {
    // Lookup in objects is linear: one with very many keys would take too long.
    if (keys_.back().size() >= most_keys)
      return refuse({"", fmt::format("has more than {} keys in one object", most_keys)});
    if (keys_.back().insert(key).second) return true;
    return refuse({key, "appears twice; once is enough"});
  }
  bool end_object() override {
    keys_.pop_back();
    --depth_;
    return true;
  }
  bool start_array(std::size_t) override { return deeper(); }
  bool end_array() override {
    --depth_;
    return true;
  }
  bool parse_error(std::size_t byte, const std::string&, const Json::exception& error) override {
    if (dynamic_cast<const Json::out_of_range*>(&error))
      return refuse({"", "contains a number that is too large; expected finite numbers"});
    const std::size_t end = std::min(byte > 0 ? byte - 1 : 0, text_.size());
    const auto line = std::count(text_.begin(), text_.begin() + static_cast<std::ptrdiff_t>(end), '\n') + 1;
    return refuse({"", fmt::format("invalid JSON at byte {}, line {}; expected an object in {{}}", byte, line)});
  }

 private:
  bool refuse(FormatFault why) {
    fault = std::move(why);
    return false;
  }
  bool value() {
    if (++values_ <= most_values) return true;
    return refuse({"", fmt::format("has more than {} values", most_values)});
  }
  bool deeper() {
    if (++depth_ > deepest) return refuse({"", fmt::format("nested more than {} levels deep", deepest)});
    return value();
  }
  std::string_view text_;
  std::vector<std::set<std::string>> keys_;
  std::size_t values_ = 0;
  int depth_ = 0;
};

}  // namespace

tl::expected<Json, FormatFault> parse_json(std::string_view text) {
  Watch watch(text);
  if (!Json::sax_parse(text, &watch)) return tl::unexpected(watch.fault);
  return Json::parse(text, nullptr, false);
}

namespace {

void put_value(Json& json, const PropertyFacts& property, const Value& value) {
  if (std::holds_alternative<std::monostate>(value)) return;
  if (const double* number = std::get_if<double>(&value); number && !std::isfinite(*number)) return;
  const std::string* text = std::get_if<std::string>(&value);
  if (text && text->empty()) return;
  json[std::string(property.key)] = value_json(value, property.quantity);
}

// What is wrong with a number, if anything is.
std::string number_fault(const PropertyFacts& property, double number, const ReadRules& rules) {
  if (!std::isfinite(number)) return "is not finite; expected a finite number";
  if (property.quantity == Quantity::count && number != std::floor(number))
    return fmt::format("{} is not a whole number", plain(number, 6));
  if (property.quantity == Quantity::count && std::abs(number) > 1e9) return "is too large; at most 1000000000";
  if (!rules.strict_range) return {};
  if (std::abs(number) > most_anything)
    return fmt::format("{} is unreasonably large; expected at most {}", plain(number, 6), plain(most_anything, 0));
  if (!property.accepts(number))
    return fmt::format("{} is out of range; expected {}", plain(number, 6),
                       range_text(property.low, property.high, property.low_open));
  return {};
}

// The value that stands there, nothing where it is faulty or does not count.
Value value_of(const PropertyFacts& property, const Json& json, const std::string& path, const ReadRules& rules,
               FormatFaults& faults) {
  const auto refuse = [&](std::string why) {
    faults.push_back({joined(path, property.key), std::move(why)});
    return Value();
  };
  switch (property.quantity) {
    case Quantity::flag:
      if (json.is_boolean()) return json.get<bool>();
      return refuse("is not a flag; expected true or false");
    case Quantity::text:
    case Quantity::id:
    case Quantity::choice:
      if (json.is_string()) return json.get<std::string>();
      return refuse("is not text; expected text in quotation marks");
    default: break;
  }
  if (!json.is_number()) return refuse("is not a number; expected a number without quotation marks");
  const double number = json.get<double>();
  const auto faulty_zero = [&] {
    return std::find(rules.zero_is_fault.begin(), rules.zero_is_fault.end(), property.key) != rules.zero_is_fault.end();
  };
  if (rules.zero_is_absent && number == 0 && !property.accepts(0) && !faulty_zero()) return Value();
  if (std::string why = number_fault(property, number, rules); !why.empty()) return refuse(std::move(why));
  return number;
}

// Finds values by their keys, which mostly stand in the order of their declarations.
class PropertyCursor {
 public:
  explicit PropertyCursor(const Json& json) : json_(json), next_(json.begin()) {}
  const Json* find(std::string_view key) {
    if (!json_.is_object()) return nullptr;
    auto found = json_.end();
    if (next_ != json_.end() && next_.key() == key) found = next_;
    else found = json_.find(std::string(key));
    if (found == json_.end()) return nullptr;
    next_ = std::next(found);
    return &*found;
  }

 private:
  const Json& json_;
  Json::const_iterator next_;
};

// A text that the property did not take.
FormatFault not_taken(const PropertyFacts& property, const std::string& path, const std::string& text) {
  return {joined(path, property.key), property.quantity == Quantity::choice
                                          ? "“" + text + "” is not known; " + choices_text(property.choices, text)
                                          : "“" + text + "” is not a UUID"};
}

}  // namespace

template <class T>
Json write_properties(const T& object, std::span<const Property<T>> list) {
  Json json = Json::object();
  for (const Property<T>& property : list) put_value(json, property, property.get(object));
  return json;
}

template <class T>
void read_properties(T& object, std::span<const Property<T>> list, const Json& json, const std::string& path,
                     const ReadRules& rules, FormatFaults& faults) {
  PropertyCursor cursor(json);
  for (const Property<T>& property : list) {
    const Json* found = cursor.find(property.key);
    if (!found) {
      // What is not written is not given.
      if (property.quantity == Quantity::text && property.choices.empty()) property.set(object, std::string());
      continue;
    }
    const Value value = value_of(property, *found, path, rules, faults);
    if (value.index() == 0) continue;
    const std::string* text = std::get_if<std::string>(&value);
    if (!property.set(object, value) && text) faults.push_back(not_taken(property, path, *text));
  }
}

void refuse_unknown(const Json& json, const std::string& path, const std::vector<std::string_view>& known,
                    FormatFaults& faults) {
  std::size_t unknown = 0;
  for (const auto& [key, value] : json.items()) {
    if (std::find(known.begin(), known.end(), key) != known.end()) continue;
    // Explains typing mistakes, but not every key of an unrelated file.
    if (++unknown > most_unknown) continue;
    const std::string near = nearest_text(key, {known.begin(), known.end()});
    faults.push_back({joined(path, key),
                      near.empty() ? "is not known; leave it out" : "is not known; “" + near + "” is the nearest"});
  }
  if (unknown > most_unknown) faults.push_back({path, fmt::format("has {} more unknown keys", unknown - most_unknown)});
}

#define PECORRA_JSON_FOR(T)                                                                           \
  template Json write_properties<T>(const T&, std::span<const Property<T>>);                          \
  template void read_properties<T>(T&, std::span<const Property<T>>, const Json&, const std::string&, \
                                   const ReadRules&, FormatFaults&);
#define PECORRA_INSTANTIATE(kind, Type, list, label) PECORRA_JSON_FOR(Type)
PECORRA_STORED_KINDS(PECORRA_INSTANTIATE)
#undef PECORRA_INSTANTIATE
// Parts of stored objects, and what is only read or only written.
PECORRA_JSON_FOR(ConditionRow)
PECORRA_JSON_FOR(Cut)
PECORRA_JSON_FOR(CutResults)
PECORRA_JSON_FOR(CutterValues)
PECORRA_JSON_FOR(ToolPairing)
PECORRA_JSON_FOR(TakenConditions)
#undef PECORRA_JSON_FOR

}  // namespace pecorra
