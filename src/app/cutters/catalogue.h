// Derived data about every cutter: its search words, and whether it needs attention. Updated change by change; slow
// parts for very many cutters are done when idle.
#pragma once

#include <QObject>
#include <QTimer>

#include "core/library/cutter_find.h"
#include "shop/shop.h"

namespace pecorra {

class CutterCatalogue : public QObject {
  Q_OBJECT
 public:
  explicit CutterCatalogue(Shop& shop, QObject* parent = nullptr);

  // As the shop is now; cheap when nothing changed.
  CutterIndex& index();
  enum Look : std::uint8_t { unknown, fine, odd, draft };
  // Of one cutter, calculated on demand: whether it needs attention (draft, warnings, guesses, a number outside its
  // block).
  Look look(std::size_t place);
  int drafts() const { return counts_[draft]; }
  int odd_ones() const { return counts_[odd]; }
  bool is_complete() const { return counts_[unknown] == 0; }

  // Places put since the last time this reader asked; nothing: everything may be different.
  class Follower {
   public:
    std::optional<std::vector<std::size_t>> news(const Collection<Cutter>& cutters);

   private:
    std::uint64_t version_ = ~std::uint64_t{0};
  };

 signals:
  void counted();

 private:
  void follow();
  void work();
  void set_look(std::size_t place, Look look);

  Shop& shop_;
  CutterIndex index_;
  Follower indexed_, looked_;
  std::uint64_t blocks_version_ = 0;
  std::vector<std::uint8_t> looks_;
  int counts_[4] = {};
  std::size_t next_ = 0;
  QTimer quiet_;
};

}  // namespace pecorra
