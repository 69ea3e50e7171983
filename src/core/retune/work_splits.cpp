#include "core/retune/work_splits.h"

#include <algorithm>

#include "core/library/work_words.h"

namespace pecorra {
namespace {

constexpr std::size_t most_splits = 16;

}  // namespace

void WorkSplits::comment(std::string_view inside, const RunBlock& b, bool in_main) {
  if (b.again || !in_main) return;
  if (now_.fed) {
    close();
    now_.begin = b.block;
  }
  if (const auto work = work_in_words(inside)) now_.named = work;
}

void WorkSplits::add(const RunBlock& b, bool in_main) {
  if (b.again) return;
  if (now_.fed && in_main && (b.section != now_.section || b.move == RunMove::rapid)) {
    close();
    now_.begin = b.block;
  }
  now_.section = b.section;
  if (!is_fed(b.move)) return;
  now_.fed = true;
  if (b.move == RunMove::cycle) now_.family = Family::holes;
  else if (b.move == RunMove::tap) now_.family = Family::taps;
  else if (b.move == RunMove::cut && b.length_mm > 0) now_.family = Family::cuts;
}

void WorkSplits::close() {
  if (now_.fed) {
    const bool same_section = before_ && before_->section == now_.section;
    if (same_section) {
      const bool other_family =
          now_.family != before_->family && now_.family != Family::none && before_->family != Family::none;
      const bool other_name = now_.named && now_.named != before_->named;
      if (other_family || other_name) {
        auto& list = at_[now_.section];
        if (list.size() <= most_splits) list.push_back(now_.begin);
      } else {
        // One piece of work, called as before.
        if (!now_.named) now_.named = before_->named;
        if (now_.family == Family::none) now_.family = before_->family;
      }
    }
    before_ = now_;
  }
  now_ = {};
}

std::vector<std::size_t> WorkSplits::found() {
  close();
  std::vector<std::size_t> out;
  for (const auto& [section, list] : at_)
    if (list.size() <= most_splits) out.insert(out.end(), list.begin(), list.end());
  std::sort(out.begin(), out.end());
  out.erase(std::unique(out.begin(), out.end()), out.end());
  return out;
}

}  // namespace pecorra
