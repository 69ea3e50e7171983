#include "core/transfer/columns.h"

#include <algorithm>
#include <array>

namespace pecorra {

std::string trimmed(std::string_view text) {
  const auto blank = [](char c) { return c == ' ' || c == '\t' || c == '\r' || c == '\n'; };
  while (!text.empty() && blank(text.front())) text.remove_prefix(1);
  while (!text.empty() && blank(text.back())) text.remove_suffix(1);
  // A no-break space, as spreadsheets use them.
  while (text.starts_with("\xc2\xa0")) text.remove_prefix(2);
  while (text.ends_with("\xc2\xa0")) text.remove_suffix(2);
  return std::string(text);
}

std::string word_of(std::string_view text) {
  std::string out;
  for (std::size_t i = 0; i < text.size(); ++i) {
    const char c = text[i];
    if (c >= 'A' && c <= 'Z') out += static_cast<char>(c + 32);
    else if ((c >= 'a' && c <= 'z') || (c >= '0' && c <= '9')) out += c;
    else if (text.substr(i).starts_with("Ø") || text.substr(i).starts_with("ø")) out += 'd', ++i;
    else if (text.substr(i).starts_with("×")) out += 'x', ++i;
    else if (static_cast<unsigned char>(c) >= 0x80) out += c;  // other letters stay
  }
  return out;
}

Heading heading_of(std::string_view text) {
  Heading heading;
  std::string words(text);
  for (const auto& [open, close] : {std::pair{'(', ')'}, {'[', ']'}}) {
    const auto from = words.find(open), to = words.rfind(close);
    if (from == std::string::npos || to == std::string::npos || to < from) continue;
    const std::string inside = trimmed(std::string_view(words).substr(from + 1, to - from - 1));
    // Brackets that hold no unit belong to the words.
    if (!system_of(inside) && inside != "rpm" && inside != "HB" && inside != "°" && inside != "1/min") continue;
    heading.unit = inside;
    words.erase(from, to - from + 1);
    break;
  }
  // "vc m/min", "DC mm": a unit as the last word.
  if (heading.unit.empty()) {
    const std::string whole = trimmed(words);
    if (const auto blank = whole.rfind(' ');
        blank != std::string::npos && system_of(std::string_view(whole).substr(blank + 1))) {
      heading.unit = whole.substr(blank + 1);
      words = whole.substr(0, blank);
    }
  }
  heading.word = word_of(words);
  return heading;
}

std::string bare_unit(std::string_view cell) {
  const std::string text = trimmed(cell);
  const bool bracketed =
      text.size() > 2 && ((text.front() == '(' && text.back() == ')') || (text.front() == '[' && text.back() == ']'));
  return bracketed ? text.substr(1, text.size() - 2) : text;
}

bool is_unit_line(const std::vector<std::string>& cells) {
  static constexpr std::array others{"-", "rpm", "1/min", "HB", "×D", "xD", "°", "deg", "pcs", "#"};
  bool any = false;
  for (const std::string& cell : cells) {
    const std::string text = bare_unit(cell);
    if (text.empty() || std::find(others.begin(), others.end(), text) != others.end()) continue;
    if (!system_of(text)) return false;
    any = true;
  }
  return any;
}

std::optional<UnitSystem> system_of(std::string_view unit) {
  const std::string u = trimmed(unit);
  static constexpr std::array inch{"in",  "inch",   "inches",   "\"",     "″",    "in/min", "ipm",
                                   "IPM", "ft/min", "sfm",      "SFM",    "fpm",  "ipt",    "IPT",
                                   "ipr", "IPR",    "in/tooth", "in/rev", "thou", "mil"};
  static constexpr std::array metric{"mm",   "m/min", "mm/min", "mm/tooth", "mm/z", "mm/rev",
                                     "mm/U", "mm/s",  "m",      "cm",       "µm",   "um"};
  for (const char* known : inch)
    if (u == known) return UnitSystem::inch;
  for (const char* known : metric)
    if (u == known) return UnitSystem::metric;
  return std::nullopt;
}

}  // namespace pecorra
