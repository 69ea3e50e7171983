#include "core/library/work_words.h"

#include <algorithm>
#include <array>
#include <initializer_list>

#include "core/transfer/columns.h"

namespace pecorra {

std::optional<OperationKind> work_in_words(std::string_view text) {
  constexpr auto cutter_words = std::to_array<std::string_view>(
      {"mill", "mills", "end", "endmill", "cutter", "drill", "tool", "bit", "nose", "ballnose", "rougher", "insert"});
  bool face = false, slot = false, rough = false, finish = false, pocket = false, wall = false, floor = false,
       chamfer = false, engrave = false, helix = false;
  bool* last = nullptr;
  while (!text.empty()) {
    const auto end = text.find_first_of(" ,;:/-_.()=");
    const std::string word = word_of(text.substr(0, end));
    const auto is = [&](std::initializer_list<std::string_view> words) {
      return std::find(words.begin(), words.end(), word) != words.end();
    };
    bool* here = is({"face", "facing"})                                                       ? &face
                 : is({"slot", "slots", "slotting"})                                          ? &slot
                 : is({"rough", "roughing", "contour", "contouring", "profile", "profiling"}) ? &rough
                 : is({"finish", "finishing", "final"})                                       ? &finish
                 : is({"pocket", "pockets", "pocketing"})                                     ? &pocket
                 : is({"wall", "walls", "side", "sides"})                                     ? &wall
                 : is({"floor", "floors", "bottom"})                                          ? &floor
                 : is({"chamfer", "chamfers", "chamfering", "deburr", "deburring"})           ? &chamfer
                 : is({"engrave", "engraving"})                                               ? &engrave
                 : is({"helix", "helical"})                                                   ? &helix
                                                                                              : nullptr;
    if (last && std::find(cutter_words.begin(), cutter_words.end(), word) != cutter_words.end()) *last = false;
    if (here) *here = true;
    last = here;
    if (end == std::string_view::npos) break;
    text.remove_prefix(end + 1);
  }
  using O = OperationKind;
  if (finish) return floor && !wall ? O::floor_finish : O::side_finish;
  if (face) return O::face;
  if (chamfer) return O::chamfer;
  if (engrave) return O::engrave;
  if (slot) return O::slot;
  if (pocket) return O::pocket_rough;
  if (helix) return O::helix;
  if (rough) return O::side_rough;
  return std::nullopt;
}

}  // namespace pecorra
