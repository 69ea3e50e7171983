// The edits of a job's setups as changes.
#pragma once

#include "shop/change.h"

namespace pecorra {

class Resolver;

// Another one like the last, with the next work offset and a name of its own.
Change added_setup(const Job& job);
// Its operations go to the first that stays; empty for the last one.
Change without_setup(const Job& job, std::size_t setup);
// Sets one property, as typed.
Change edited_setup(const ShopState& state, const Resolver& resolver, const Job& job, std::size_t setup,
                    const Property<Setup>& property, const Value& value, const std::string& typed, UnitSystem units);

// Where the zero point stands on the block of stock: a corner, the middle of an edge or the centre, at the top or the
// bottom. `x`, `y`: -1 low, 0 middle, 1 high.
struct ZeroAt {
  int x = 0, y = 0;
  bool top = true;
};
Change with_zero_at(const Job& job, std::size_t setup, const ZeroAt& at);
// The block of this size: around the middle of the geometry, its top where it is; from the corner at the front left
// and the zero point where there is no geometry. "120 × 80 × 20", with units where wanted. Fails with the reason.
tl::expected<Change, QString> with_stock_size(const Job& job, std::size_t setup, const QString& size, UnitSystem units);
// A line as the outline of a clamp, or no longer.
Change clamp_clicked(const Job& job, std::size_t setup, const std::string& line);
Change with_clamp_top(const Job& job, std::size_t setup, std::size_t clamp, double top_mm, UnitSystem units);

}  // namespace pecorra
