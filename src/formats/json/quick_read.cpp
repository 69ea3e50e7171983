#include "formats/json/quick_read.h"

#include <algorithm>
#include <bit>
#include <charconv>
#include <cmath>
#include <cstdint>
#include <cstring>
#include <vector>

#include "core/base/decimal.h"
#include "formats/encoding.h"

namespace pecorra {
namespace {

// Reads JSON as this program writes it, in one forward pass. Every function returns false where the text differs, and
// reading stops there.
class Reading {
 public:
  explicit Reading(std::string_view text) : at_(text.data()), end_(text.data() + text.size()) {}

  char next() {
    while (at_ != end_ && (*at_ == ' ' || *at_ == '\n' || *at_ == '\r' || *at_ == '\t')) ++at_;
    return at_ == end_ ? '\0' : *at_;
  }
  bool mark(char c) { return next() == c && (++at_, true); }
  bool at_end() { return next() == '\0' && at_ == end_; }

  // Valid until the next text is read.
  bool text(std::string_view& out) {
    if (!mark('"')) return false;
    const char* to = at_;
    std::uint64_t beyond_ascii = 0;
    // Eight letters at a time: a byte of `stops` is not zero where one of the two stands.
    for (std::uint64_t eight = 0; end_ - to >= 8; to += 8) {
      std::memcpy(&eight, to, 8);
      beyond_ascii |= eight;
      constexpr std::uint64_t each = 0x0101010101010101, high = 0x80 * each;
      const std::uint64_t quotes = eight ^ (each * '"'), slashes = eight ^ (each * '\\');
      const std::uint64_t stops = (((quotes - each) & ~quotes) | ((slashes - each) & ~slashes)) & high;
      if (stops == 0) continue;
      if constexpr (std::endian::native == std::endian::little) to += std::countr_zero(stops) / 8;
      break;
    }
    for (; to != end_ && *to != '"' && *to != '\\'; ++to) beyond_ascii |= static_cast<unsigned char>(*to);
    if (to == end_) return false;
    if (*to == '\\') return text_with_escapes(out);
    out = {at_, static_cast<std::size_t>(to - at_)};
    if ((beyond_ascii & 0x8080808080808080) != 0 && !is_utf8(out)) return false;
    at_ = to + 1;
    return true;
  }
  bool number(double& out) {
    const char first = next();
    if (first != '-' && (first < '0' || first > '9')) return false;
    if (const char* to = read_decimal(at_, end_, out); to && to != end_ && (*to == ',' || *to == '}' || *to == ']')) {
      at_ = to;
      return true;
    }
    const auto [behind, fault] = std::from_chars(at_, end_, out);
    if (fault != std::errc() || !std::isfinite(out)) return false;
    at_ = behind;
    return true;
  }
  bool flag(bool& out) {
    const std::string_view rest(at_, static_cast<std::size_t>(end_ - at_));
    out = rest.starts_with("true");
    if (!out && !rest.starts_with("false")) return false;
    at_ += out ? 4 : 5;
    return true;
  }
  // Calls member(key) for each of an object, which reads the value.
  template <class Member>
  bool object(Member&& member) {
    if (!mark('{')) return false;
    if (mark('}')) return true;
    do {
      std::string_view key;
      if (!text(key) || key.data() == decoded_.data() || !mark(':') || !member(key)) return false;
    } while (mark(','));
    return mark('}');
  }
  template <class Entry>
  bool array(Entry&& entry) {
    if (!mark('[')) return false;
    if (mark(']')) return true;
    do
      if (!entry()) return false;
    while (mark(','));
    return mark(']');
  }

 private:
  bool text_with_escapes(std::string_view& out) {
    decoded_.clear();
    for (; at_ != end_ && *at_ != '"'; ++at_) {
      if (*at_ != '\\') {
        decoded_ += *at_;
        continue;
      }
      if (++at_ == end_) return false;
      switch (*at_) {
        case '"':
        case '\\':
        case '/': decoded_ += *at_; break;
        case 'b': decoded_ += '\b'; break;
        case 'f': decoded_ += '\f'; break;
        case 'n': decoded_ += '\n'; break;
        case 'r': decoded_ += '\r'; break;
        case 't': decoded_ += '\t'; break;
        case 'u': {  // only control characters are written so
          unsigned code = 0;
          if (end_ - at_ < 5 || std::from_chars(at_ + 1, at_ + 5, code, 16).ptr != at_ + 5 || code >= 0x80)
            return false;
          decoded_ += static_cast<char>(code);
          at_ += 4;
          break;
        }
        default: return false;
      }
    }
    if (at_ == end_) return false;
    ++at_;
    out = decoded_;
    return is_utf8(out);
  }

  const char *at_, *end_;
  std::string decoded_;
};

// The first letters of a key and how long it is: nearly always enough to tell it from others.
struct KeyMark {
  explicit KeyMark(std::string_view key) : size(key.size()) {
    std::memcpy(&head, key.data(), std::min<std::size_t>(key.size(), sizeof head));
  }
  bool operator==(const KeyMark&) const = default;
  std::uint64_t head = 0;
  std::size_t size;
};

template <class T>
const std::vector<KeyMark>& key_marks() {
  static const std::vector<KeyMark> marks = [] {
    std::vector<KeyMark> list;
    for (const Property<T>& p : properties<T>()) list.emplace_back(p.key);
    return list;
  }();
  return marks;
}

// One property from one member; the cursor stays behind the property, since members stand in the order of declarations.
template <class T>
bool read_member(T& target, std::string_view key, Reading& json, std::size_t& cursor) {
  const std::vector<KeyMark>& marks = key_marks<T>();
  const KeyMark wanted(key);
  for (std::size_t tried = 0; tried < marks.size(); ++tried) {
    const std::size_t place = cursor;
    cursor = cursor + 1 == marks.size() ? 0 : cursor + 1;
    if (marks[place] != wanted) continue;
    const Property<T>& property = properties<T>()[place];
    if (property.key != key) continue;
    switch (json.next()) {
      case '"': {
        std::string_view text;
        return json.text(text) && property.set_text(target, text);
      }
      case 't':
      case 'f': {
        bool flag = false;
        return property.quantity == Quantity::flag && json.flag(flag) && property.set(target, flag);
      }
      default: {
        double number = 0;
        if (!json.number(number)) return false;
        if (property.quantity == Quantity::count && (number != std::floor(number) || std::abs(number) > 1e9))
          return false;
        return property.set_number(target, number);
      }
    }
  }
  return false;
}

bool read_texts(std::map<std::string, std::string, std::less<>>& texts, Reading& json) {
  return json.object([&](std::string_view key) {
    const std::string name(key);
    std::string_view text;
    return json.text(text) && (texts.emplace(name, text), true);
  });
}

// [x, y] and, where it is, one more.
bool read_numbers(double (&numbers)[3], std::size_t& count, Reading& json) {
  count = 0;
  return json.array([&] { return count < 3 && json.number(numbers[count++]); });
}

// A member that is id, texts as typed, or a property; false: something else, or not as it is written here.
template <class T>
bool read_plain_member(T& target, std::string_view key, Reading& json, std::size_t& cursor) {
  if (key == "id") {
    std::string_view text;
    const auto id = json.text(text) ? Id::parse(text) : std::nullopt;
    if (id) target.id = *id;
    return id.has_value();
  }
  if constexpr (requires { target.typed; })
    if (key == "typed") return read_texts(target.typed, json);
  if constexpr (requires { target.guesses; }) {
    if (key == "guesses")
      return json.array([&] {
        std::string_view text;
        return json.text(text) && (target.guesses.emplace(text), true);
      });
    if (key == "accepted") return read_texts(target.accepted, json);
    double numbers[3] = {0, 0, 0};
    std::size_t count = 0;
    if (key == "outline")
      return json.array([&] {
        return read_numbers(numbers, count, json) && count >= 2 &&
               (target.outline.push_back({numbers[0], numbers[1], count > 2 ? numbers[2] : 0}), true);
      });
    if (key == "shank_sections")
      return json.array([&] {
        return read_numbers(numbers, count, json) && count == 3 &&
               (target.shank_sections.push_back({numbers[0], numbers[1], numbers[2]}), true);
      });
  }
  return read_member(target, key, json, cursor);
}

template <class T>
bool read_plain(T& target, Reading& json) {
  std::size_t cursor = 0;
  return json.object([&](std::string_view key) { return read_plain_member(target, key, json, cursor); });
}

}  // namespace

template <class T>
bool quick_read(T& into, std::string_view body) {
  // Empty text is not written: where the default is not empty, its absence has to be noticed.
  static const bool texts_start_empty = [] {
    const T fresh;
    for (const Property<T>& p : properties<T>())
      if (p.quantity == Quantity::text && !p.get_text(fresh).empty()) return false;
    return true;
  }();
  if (!texts_start_empty) return false;
  Reading json(body);
  return read_plain(into, json) && json.at_end();
}
template <>
bool quick_read(ConditionTable& table, std::string_view body) {
  Reading json(body);
  std::size_t cursor = 0;
  return json.object([&](std::string_view key) {
    if (key == "rows") return json.array([&] { return read_plain(table.rows.emplace_back(), json); });
    return read_plain_member(table, key, json, cursor);
  }) && json.at_end();
}

#define PECORRA_INSTANTIATE(kind, Type, list, label) template bool quick_read(Type&, std::string_view);
PECORRA_STORED_KINDS(PECORRA_INSTANTIATE)
#undef PECORRA_INSTANTIATE

}  // namespace pecorra
