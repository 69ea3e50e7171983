// Whether one of some messages says this: by its code and, where asked for, of which property and how severe.
#pragma once

#include <algorithm>
#include <optional>
#include <string_view>
#include <vector>

#include "core/base/message.h"

namespace test {

inline bool says(const std::vector<pecorra::Message>& messages, std::string_view code, std::string_view property = {},
                 std::optional<pecorra::Severity> severity = std::nullopt) {
  return std::any_of(messages.begin(), messages.end(), [&](const pecorra::Message& m) {
    return m.code == code && (property.empty() || m.property == property) && (!severity || m.severity == *severity);
  });
}
inline bool says(const std::vector<pecorra::Message>& messages, std::string_view code, pecorra::Severity severity) {
  return says(messages, code, {}, severity);
}

}  // namespace test
