// What texts are encoded in: everything inside is UTF-8.
#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace pecorra {

// Strict UTF-8: no surrogates, no overlong forms.
bool is_utf8(std::string_view text);
// Windows-1252, which has the letters of Latin-1.
std::string from_windows(std::string_view text);
// UTF-16 without a byte-order mark; nothing if it has an unpaired surrogate.
std::optional<std::string> from_utf16(std::string_view text, bool big_endian);
// Unchanged if it is valid UTF-8, else read as Windows-1252.
std::string as_utf8(std::string_view text);
// Without the control characters that XML cannot hold.
std::string xml_text(std::string_view text);

}  // namespace pecorra
