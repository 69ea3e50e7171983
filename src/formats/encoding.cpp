#include "formats/encoding.h"

#include <cstdint>
#include <cstring>

namespace pecorra {
namespace {

void append_utf8(std::string& out, unsigned code) {
  if (code < 0x80) out += static_cast<char>(code);
  else if (code < 0x800) out += static_cast<char>(0xc0 | code >> 6), out += static_cast<char>(0x80 | (code & 0x3f));
  else if (code < 0x10000)
    out += static_cast<char>(0xe0 | code >> 12), out += static_cast<char>(0x80 | (code >> 6 & 0x3f)),
        out += static_cast<char>(0x80 | (code & 0x3f));
  else
    out += static_cast<char>(0xf0 | code >> 18), out += static_cast<char>(0x80 | (code >> 12 & 0x3f)),
        out += static_cast<char>(0x80 | (code >> 6 & 0x3f)), out += static_cast<char>(0x80 | (code & 0x3f));
}

}  // namespace

bool is_utf8(std::string_view text) {
  for (std::size_t i = 0; i < text.size();) {
    const auto at = [&](std::size_t k) { return i + k < text.size() ? static_cast<unsigned char>(text[i + k]) : 0u; };
    const unsigned c = at(0);
    if (c < 0x80) {
      // Plain letters, eight at a time.
      std::uint64_t eight = 0;
      while (i + 8 <= text.size() && (std::memcpy(&eight, text.data() + i, 8), (eight & 0x8080808080808080u) == 0))
        i += 8;
      while (i < text.size() && static_cast<unsigned char>(text[i]) < 0x80) ++i;
      continue;
    }
    const std::size_t more = c >= 0xc2 && c < 0xe0 ? 1 : (c >> 4) == 14 ? 2 : c >= 0xf0 && c < 0xf5 ? 3 : 0;
    if (more == 0) return false;
    for (std::size_t k = 1; k <= more; ++k)
      if ((at(k) >> 6) != 2) return false;
    if ((c == 0xe0 && at(1) < 0xa0) || (c == 0xed && at(1) >= 0xa0) || (c == 0xf0 && at(1) < 0x90) ||
        (c == 0xf4 && at(1) >= 0x90))
      return false;
    i += more + 1;
  }
  return true;
}

// 0x80 to 0x9f are not as in Latin-1.
std::string from_windows(std::string_view text) {
  static constexpr unsigned middle[32] = {0x20ac, 0x81,   0x201a, 0x192,  0x201e, 0x2026, 0x2020, 0x2021,
                                          0x2c6,  0x2030, 0x160,  0x2039, 0x152,  0x8d,   0x17d,  0x8f,
                                          0x90,   0x2018, 0x2019, 0x201c, 0x201d, 0x2022, 0x2013, 0x2014,
                                          0x2dc,  0x2122, 0x161,  0x203a, 0x153,  0x9d,   0x17e,  0x178};
  std::string out;
  for (const char c : text) {
    const auto u = static_cast<unsigned char>(c);
    append_utf8(out, u >= 0x80 && u < 0xa0 ? middle[u - 0x80] : u);
  }
  return out;
}

std::optional<std::string> from_utf16(std::string_view text, bool big_endian) {
  const auto unit = [&](std::size_t i) {
    const auto a = static_cast<unsigned char>(text[i]), b = static_cast<unsigned char>(text[i + 1]);
    return static_cast<unsigned>(big_endian ? a << 8 | b : b << 8 | a);
  };
  if (text.size() % 2 != 0) return std::nullopt;
  std::string out;
  out.reserve(text.size() / 2);
  for (std::size_t i = 0; i < text.size(); i += 2) {
    unsigned code = unit(i);
    if (code >= 0xd800 && code < 0xe000) {
      if (code >= 0xdc00 || i + 4 > text.size()) return std::nullopt;
      const unsigned low = unit(i + 2);
      if (low < 0xdc00 || low >= 0xe000) return std::nullopt;
      code = 0x10000 + ((code - 0xd800) << 10) + (low - 0xdc00);
      i += 2;
    }
    append_utf8(out, code);
  }
  return out;
}

std::string as_utf8(std::string_view text) { return is_utf8(text) ? std::string(text) : from_windows(text); }

std::string xml_text(std::string_view text) {
  std::string out;
  for (const char c : text)
    if (static_cast<unsigned char>(c) >= 0x20 || c == '\t' || c == '\n') out += c;
  return out;
}

}  // namespace pecorra
