// Texts folded for searching: lower case, including Latin-1.
#pragma once

#include <string>
#include <string_view>

namespace pecorra {

inline void append_folded(std::string& out, std::string_view text) {
  for (std::size_t i = 0; i < text.size(); ++i) {
    const char c = text[i];
    if (c >= 'A' && c <= 'Z') {
      out += static_cast<char>(c + 32);
    } else if (c == '\xc3' && i + 1 < text.size() && static_cast<unsigned char>(text[i + 1]) < 0x9f &&
               text[i + 1] != '\x97') {
      out += c;
      out += static_cast<char>(text[++i] + 0x20);  // À to Þ without ×
    } else {
      out += c;
    }
  }
}

inline std::string folded(std::string_view text) {
  std::string out;
  out.reserve(text.size());
  append_folded(out, text);
  return out;
}

}  // namespace pecorra
