// A finding of the core about a value, as data; shop/words makes the sentence.
#pragma once

#include <string>
#include <utility>
#include <variant>
#include <vector>

namespace pecorra {

enum class Severity { note, warning, error };

// Named figures of a message or a trail step; the name ends in the unit.
using Detail = std::variant<double, std::string>;
using Details = std::vector<std::pair<std::string, Detail>>;

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
