#include "app/cutters/catalogue.h"

#include <QElapsedTimer>

#include "core/cutter/kinds.h"
#include "shop/number_plan.h"

namespace pecorra {
namespace {

constexpr std::size_t at_once = 300;  // with fewer cutters this is done at once, not when idle
constexpr int slice_ms = 4;

}  // namespace

std::optional<std::vector<std::size_t>> CutterCatalogue::Follower::news(const Collection<Cutter>& cutters) {
  const auto put = version_ == ~std::uint64_t{0} ? std::nullopt : cutters.put_since(version_);
  version_ = cutters.version();
  if (!put) return std::nullopt;
  std::vector<std::size_t> places(put->begin(), put->end());
  std::sort(places.begin(), places.end());
  places.erase(std::unique(places.begin(), places.end()), places.end());
  return places;
}

CutterCatalogue::CutterCatalogue(Shop& shop, QObject* parent) : QObject(parent), shop_(shop) {
  quiet_.setSingleShot(true);
  quiet_.setInterval(20);
  connect(&quiet_, &QTimer::timeout, this, &CutterCatalogue::work);
  connect(&shop_, &Shop::changed, this, &CutterCatalogue::follow);
  follow();
}

CutterIndex& CutterCatalogue::index() {
  const auto& cutters = shop_.state().cutters;
  const auto news = indexed_.news(cutters);
  if (!news) index_.rebuild(cutters.all());
  else
    for (const std::size_t place : *news) index_.update(cutters.all(), place);
  return index_;
}

void CutterCatalogue::set_look(std::size_t place, Look look) {
  --counts_[looks_[place]];
  looks_[place] = look;
  ++counts_[look];
}

void CutterCatalogue::follow() {
  const ShopState& state = shop_.state();
  const std::uint64_t blocks = state.number_blocks.version();
  const auto news = looked_.news(state.cutters);
  if (!news || blocks != blocks_version_) {
    blocks_version_ = blocks;
    looks_.assign(state.cutters.size(), unknown);
    std::fill(std::begin(counts_), std::end(counts_), 0);
    counts_[unknown] = static_cast<int>(looks_.size());
    next_ = 0;
  } else {
    for (const std::size_t place : *news) {
      if (place == looks_.size()) {
        looks_.push_back(unknown);
        ++counts_[unknown];
      }
      set_look(place, unknown);
      next_ = std::min(next_, place);
      if (news->size() < at_once) look(place);
    }
  }
  if (static_cast<std::size_t>(counts_[unknown]) <= at_once)
    for (std::size_t i = next_; i < looks_.size(); ++i) look(i);
  if (is_complete()) emit counted();
  else if (!quiet_.isActive()) quiet_.start();
}

CutterCatalogue::Look CutterCatalogue::look(std::size_t place) {
  if (place >= looks_.size()) return unknown;
  if (looks_[place] != unknown) return static_cast<Look>(looks_[place]);
  const ShopState& state = shop_.state();
  const Cutter& c = state.cutters[place];
  set_look(place, has_error(check_cutter(c)) ? draft : to_look_at(c) || breach_of(state, c) ? odd : fine);
  return static_cast<Look>(looks_[place]);
}

void CutterCatalogue::work() {
  QElapsedTimer timer;
  timer.start();
  while (next_ < looks_.size()) {
    look(next_++);
    if (next_ % 16 == 0 && timer.elapsed() >= slice_ms) break;
  }
  emit counted();
  if (next_ < looks_.size()) quiet_.start(1);
}

}  // namespace pecorra

#include "moc_catalogue.cpp"
