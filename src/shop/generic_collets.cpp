#include "shop/generic_collets.h"

#include <fmt/format.h>
#include <cmath>

#include "core/quantity/print.h"

namespace pecorra {

const std::vector<Collet>& generic_collets() {
  static const std::vector<Collet> collets = [] {
    struct Size {
      double size, smallest, largest;  // bores
    };
    // ISO 15488, from memory.
    constexpr Size sizes[] = {{11, 1, 7}, {16, 1, 10}, {20, 1, 13}, {25, 1, 16}, {32, 2, 20}, {40, 3, 26}};
    std::vector<Collet> list;
    for (const Size& s : sizes)
      for (double bore = s.smallest; bore <= s.largest + 1e-9; bore = bore < 2.5 ? bore + 0.5 : std::floor(bore) + 1) {
        Collet c;
        c.holder_size_mm = s.size;
        c.clamp_to_mm = bore;
        c.clamp_from_mm = collet_from_mm(bore);
        c.name = fmt::format("Collet {}, {} to {}", plain(s.size), plain(*c.clamp_to_mm), plain(*c.clamp_from_mm));
        c.source = "ISO 15488, from memory";
        list.push_back(std::move(c));
      }
    return list;
  }();
  return collets;
}

}  // namespace pecorra
