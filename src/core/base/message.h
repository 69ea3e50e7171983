// A finding of the core about a value, as data; shop/words makes the sentence.
#pragma once

#include <string>
#include <string_view>
#include <utility>
#include <variant>
#include <vector>

namespace pecorra {

enum class Severity { note, warning, error };

// Named figures of a message or a trail step; the name ends in the unit.
using Detail = std::variant<double, std::string>;
using Details = std::vector<std::pair<std::string, Detail>>;

// One key for each code with its figures, to find again what was made of them; not for people or files.
inline void write_key(std::string& key, std::string_view code, const Details& values) {
  key = code;
  for (const auto& [name, value] : values) {
    (key += '\0') += name;
    if (const double* number = std::get_if<double>(&value))
      (key += '\1').append(reinterpret_cast<const char*>(number), sizeof *number);
    else (key += '\2') += std::get<std::string>(value);
  }
}

struct Message {
  Severity severity = Severity::note;
  std::string code;      // stable, e.g. "flutes_longer_than_overall"
  std::string property;  // key of the property it is about, may be empty
  Details values;

  bool operator==(const Message&) const = default;
};

inline bool has_error(const std::vector<Message>& messages) {
  for (const Message& message : messages)
    if (message.severity == Severity::error) return true;
  return false;
}

}  // namespace pecorra
