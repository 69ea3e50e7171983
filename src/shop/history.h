// The history of one cutter, and where it is used.
#pragma once

#include <QString>

#include "shop/shop.h"

namespace pecorra {

// A change of the cutter, and the cutter after it.
struct PastState {
  std::int64_t seq = 0;
  QString when, who, label;
  QStringList changes;  // "Flute length 26 → 30 mm"
  Cutter after;         // only the id if it was deleted
  bool deleted = false;
};
// Newest first. Reads the disk.
tl::expected<std::vector<PastState>, StoreFault> past_of(const QString& file, const Cutter& now, UnitSystem units);

struct CutterUse {
  Id job;
  int operation = -1;
  QString text;
};
// Every operation of every job that uses the cutter.
std::vector<CutterUse> uses_of(const ShopState& state, const Id& cutter);

}  // namespace pecorra
