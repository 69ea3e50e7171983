#include "core/feature/lettering.h"

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <numbers>

namespace pecorra {
namespace {

// Strokes as places x y of one digit each, separated by blanks. The baseline is at y = 2, capitals reach y = 8, small
// letters y = 6.
struct Glyph {
  std::uint32_t letter;
  std::string_view strokes;
};
constexpr Glyph glyphs[] = {{' ', ""},
                            {'!', "0804 0302"},
                            {'"', "0806 2826"},
                            {'#', "1218 3238 0444 0646"},
                            {'\'', "0806"},
                            {'(', "18070312"},
                            {')', "08171302"},
                            {'*', "1634 1436 2723"},
                            {'+', "0545 2723"},
                            {',', "1301"},
                            {'-', "0535"},
                            {'.', "0203"},
                            {'/', "0248"},
                            {'0', "182837332212030718"},
                            {'1', "062822"},
                            {'2', "07183847460242"},
                            {'3', "0718384746354443321203 2535"},
                            {'4', "32380444"},
                            {'5', "480805354443321203"},
                            {'6', "4738180703123243443505"},
                            {'7', "084812"},
                            {'8', "153546473818070615 1504031232434435"},
                            {'9', "0312324347381807061545"},
                            {':', "0203 0506"},
                            {'=', "0444 0646"},
                            {'?', "07183847462524 2322"},
                            {'A', "022842 1535"},
                            {'B', "02083847463505 3544433202"},
                            {'C', "4738180703123243"},
                            {'D', "02083847433202"},
                            {'E', "48080242 0535"},
                            {'F', "480802 0535"},
                            {'G', "47381807031232434525"},
                            {'H', "0802 4842 0545"},
                            {'I', "0802"},
                            {'J', "4843321203"},
                            {'K', "0802 480542"},
                            {'L', "080242"},
                            {'M', "0208254842"},
                            {'N', "02084248"},
                            {'O', "183847433212030718"},
                            {'P', "02083847463505"},
                            {'Q', "183847433212030718 2442"},
                            {'R', "02083847463505 2542"},
                            {'S', "473818070615354443321203"},
                            {'T', "0848 2822"},
                            {'U', "080312324348"},
                            {'V', "082248"},
                            {'W', "0812253248"},
                            {'X', "0842 0248"},
                            {'Y', "082548 2522"},
                            {'Z', "08480242"},
                            {'_', "0242"},
                            {'a', "4536160503123243 4642"},
                            {'b', "0802 0516364543321203"},
                            {'c', "4536160503123243"},
                            {'d', "4842 4536160503123243"},
                            {'e', "04444536160503123243"},
                            {'f', "38281712 0636"},
                            {'g', "4536160503123243 4641301001"},
                            {'h', "0802 0516364542"},
                            {'i', "0602 0807"},
                            {'j', "161100 1817"},
                            {'k', "0802 360432"},
                            {'l', "080312"},
                            {'m', "0602 05162522 25364542"},
                            {'n', "0602 0516364542"},
                            {'o', "163645433212030516"},
                            {'p', "0600 0516364543321203"},
                            {'q', "4640 4536160503123243"},
                            {'r', "0602 05163645"},
                            {'s', "45361605143443321203"},
                            {'t', "18132232 0636"},
                            {'u', "0603123243 4642"},
                            {'v', "062246"},
                            {'w', "0612243246"},
                            {'x', "0642 0246"},
                            {'y', "0622 4610"},
                            {'z', "06460242"},
                            {0xB0, "1827160718"},                // °
                            {0xB1, "0646 2824 0242"},            // ±
                            {0xD7, "0347 0743"},                 // ×
                            {0xD8, "183847433212030718 0248"}};  // Ø
constexpr double cap_units = 6, baseline = 2, gap_units = 2, blank_units = 2;

// The next letter of UTF-8; what is no UTF-8 counts as one letter a byte.
std::uint32_t next_letter(std::string_view text, std::size_t& at) {
  const auto byte = [&](std::size_t i) { return static_cast<std::uint32_t>(static_cast<unsigned char>(text[i])); };
  const std::uint32_t first = byte(at);
  const std::size_t length = first < 0x80 ? 1 : first >= 0xF0 ? 4 : first >= 0xE0 ? 3 : first >= 0xC0 ? 2 : 1;
  if (length == 1 || at + length > text.size()) return byte(at++);
  std::uint32_t letter = first & (0xFFu >> (length + 1));
  for (std::size_t i = 1; i < length; ++i) letter = (letter << 6) | (byte(at + i) & 0x3F);
  at += length;
  return letter;
}

const Glyph* glyph_of(std::uint32_t letter) {
  const auto found =
      std::find_if(std::begin(glyphs), std::end(glyphs), [&](const Glyph& g) { return g.letter == letter; });
  return found == std::end(glyphs) ? nullptr : found;
}

}  // namespace

Lettering lettering(std::string_view text, Point2 at, double height_mm, double angle_deg) {
  Lettering out;
  const double unit = height_mm / cap_units, turn = angle_deg * std::numbers::pi / 180;
  const double along_x = std::cos(turn), along_y = std::sin(turn);
  double begin = 0;  // of the letter, in units
  for (std::size_t i = 0; i < text.size();) {
    const std::size_t before = i;
    const Glyph* glyph = glyph_of(next_letter(text, i));
    if (!glyph) {
      if (const std::string_view letter = text.substr(before, i - before);
          out.unknown.find(letter) == std::string::npos)
        out.unknown += letter;
      continue;
    }
    double width = glyph->strokes.empty() ? blank_units : 0;
    Contour stroke;
    const auto finish = [&] {
      if (stroke.vertices.size() > 1) out.lines.push_back(std::move(stroke));
      stroke = {};
    };
    for (std::size_t k = 0; k < glyph->strokes.size();) {
      if (glyph->strokes[k] == ' ') {
        finish();
        ++k;
        continue;
      }
      const double x = glyph->strokes[k] - '0', y = glyph->strokes[k + 1] - '0' - baseline;
      width = std::max(width, x);
      const double a = (begin + x) * unit, b = y * unit;
      stroke.vertices.push_back({at.x + a * along_x - b * along_y, at.y + a * along_y + b * along_x, 0});
      k += 2;
    }
    finish();
    out.width_mm = (begin + width) * unit;
    begin += width + gap_units;
  }
  return out;
}

}  // namespace pecorra
