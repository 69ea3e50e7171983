#include "core/retune/retune.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

#include "core/quantity/units.h"

namespace pecorra {
namespace {

constexpr double unknown = std::numeric_limits<double>::quiet_NaN();

bool same(double a, double b) { return a == b || (std::isnan(a) && std::isnan(b)); }

}  // namespace

std::string in_manner_of(std::string_view word, double value, bool inch, WordKind kind) {
  const std::size_t at = std::min(word.find_first_of("0123456789.#["), word.size());
  const std::string_view number = word.substr(at);
  const bool plain = number.find_first_of("#[") == std::string_view::npos;
  const std::size_t point = plain ? number.find('.') : std::string_view::npos;
  const bool had_point = point != std::string_view::npos;
  const int had = had_point ? static_cast<int>(number.size() - point - 1) : 0;
  const auto at_decimals = [&](int decimals) {
    constexpr double powers[] = {1, 1e1, 1e2, 1e3, 1e4, 1e5, 1e6, 1e7, 1e8, 1e9};
    const double p = decimals < 10 ? powers[decimals] : std::pow(10.0, decimals);
    const bool nearest = kind == WordKind::speed || kind == WordKind::tap_feed;
    return nearest ? std::round(value * p) / p : std::floor(value * p * (1 + 1e-12) + 1e-9) / p;
  };
  constexpr int most = 4;
  int decimals = 0;
  if (kind == WordKind::speed) decimals = had;
  else if (kind == WordKind::feed) decimals = had_point ? std::max(had, inch ? 2 : 1) : 0;
  else if (kind == WordKind::feed_per_turn) decimals = std::max(had, inch ? most : 3);
  else
    for (decimals = had; decimals < most && std::abs(at_decimals(decimals) - value) > 1e-9 * value; ++decimals) {
    }
  while (!(at_decimals(decimals) > 0) && value > 0 && decimals < most) ++decimals;
  std::string digits = fmt::format("{:.{}f}", at_decimals(decimals), decimals);
  // No more decimals than the word had, where they say nothing.
  for (; decimals > had && digits.back() == '0'; --decimals) digits.pop_back();
  if (digits.back() == '.' && !had_point) digits.pop_back();
  if (had_point && digits.find('.') == std::string::npos) digits += '.';
  const std::size_t whole_had = !plain ? 0 : had_point ? point : number.size();
  const std::size_t whole_now = std::min(digits.find('.'), digits.size());
  if (whole_had > 1 && number.front() == '0' && whole_now < whole_had)
    digits.insert(0, whole_had - whole_now, '0');                                                 // S0500
  else if (plain && had_point && whole_had == 0 && digits.starts_with("0.")) digits.erase(0, 1);  // .5
  return std::string(word.substr(0, at)) + digits;
}

namespace {

// What S and F stand in a program at a place.
struct InForce {
  double s = unknown, f = unknown;  // F in the units of the program
};

class Retuner {
  using Setting = RunRecord::Setting;

 public:
  Retuner(const ProgramText& program, const ProgramReading& reading, const std::vector<NewConditions>& conditions,
          Rapid rapid, const ReadProgress& go_on)
      : program_(program), reading_(reading), conditions_(conditions), rapid_(rapid), go_on_(go_on) {
    out_.sections.resize(reading.sections.size());
    for (const auto& [number, tools] : reading.tools_of_subprogram)
      if (tools.size() > 1) out_.kept_subprograms.emplace_back(number, tools);
  }

  Retuned run() {
    const RunRecord& record = reading_.record;
    out_.text.reserve(program_.bytes() + program_.bytes() / 16);
    std::size_t main = 0;
    for (std::size_t step = 0; step < record.size(); ++step) {
      const RunBlock b = record.at(program_, step);
      const Setting& run = record.setting(step);
      if (step % asked_every == 0 && go_on_ &&
          !go_on_(static_cast<double>(b.block) / static_cast<double>(program_.size())))
        break;
      if (b.again) {
        follow(run, b);
        continue;
      }
      std::optional<std::string> line = one(run, b, step);
      if (b.block < record.main_end()) {
        for (; main < b.block; ++main) copy(main);
        put(b.block, line);
        main = b.block + 1;
      } else if (line) {
        in_subprograms_[b.block] = std::move(*line);
      }
    }
    for (; main < program_.size(); ++main) {
      const auto found = in_subprograms_.find(main);
      if (found != in_subprograms_.end()) put(main, found->second);
      else copy(main);
    }
    return std::move(out_);
  }

 private:
  // A program says the same few numbers again and again.
  const std::string& printed(std::string_view word, double value, bool inch, WordKind kind) {
    for (const Printed& p : printed_)
      if (p.value == value && p.kind == kind && p.inch == inch && p.word == word) return p.text;
    Printed& p = printed_[printed_next_++ % printed_.size()];
    p = {std::string(word), in_manner_of(word, value, inch, kind), value, kind, inch};
    return p.text;
  }
  void copy(std::size_t block) { out_.text += program_.line(block), out_.text += program_.end_of_line(block); }
  void put(std::size_t block, const std::optional<std::string>& line) {
    if (!line) return copy(block);
    out_.text += *line;
    out_.text += program_.end_of_line(block);
  }
  const NewConditions* conditions_of(int section) const {
    const int place = place_of(section);
    if (place < 0) return nullptr;
    const NewConditions& c = conditions_[static_cast<std::size_t>(place)];
    return c.n_rpm ? &c : nullptr;
  }
  int place_of(int section) const {
    return section >= 0 && static_cast<std::size_t>(section) < reading_.section_of.size()
               ? reading_.section_of[static_cast<std::size_t>(section)]
               : -1;
  }
  bool is_kept_subprogram(int number) const {
    return std::any_of(out_.kept_subprograms.begin(), out_.kept_subprograms.end(),
                       [number](const auto& k) { return k.first == number; });
  }

  // Of an arc with the part outside, of a thread's any: the centre's feed as a share of the edge's; else 1.
  static double centre_share(const Setting& m, const RunBlock& b, const NewConditions& c) {
    const double r = c.arc_radius_mm.value_or(0), circle = b.radius_mm;
    if (b.turn == 0 || !(r > 0) || !(circle > 0)) return 1;
    // Climbing with a spindle to the right, the part is at the right of the path.
    const bool part_at_right = m.compensation == 40 ? m.spindle != 4 : m.compensation == 41;
    if ((b.turn > 0) != part_at_right) {
      if (!c.cuts_threads) return 1;
      return m.compensation == 40 ? (circle > r ? circle / (circle - r) : 1) : (circle + r) / circle;
    }
    // With compensation in the control the contour is programmed, unless it is too small for that.
    return m.compensation == 40 || circle <= r ? circle / (circle + r) : (circle - r) / circle;
  }

  // What S and F are to be in force at a move; nothing: as they come.
  struct Wanted {
    double s = unknown, f = unknown;
    WordKind kind = WordKind::feed;
    bool retuned = false;
  };
  Wanted wanted(const Setting& run, const RunBlock& b, InForce before) const {
    Wanted w;
    const Setting& m = run;
    const NewConditions* c = is_kept_subprogram(run.subprogram) ? nullptr : conditions_of(b.section);
    if (!c) {
      w.s = before.s;
      w.f = before.f;
      return w;
    }
    w.retuned = true;
    const ProgramSection& section = reading_.sections[static_cast<std::size_t>(place_of(b.section))];
    w.s = m.constant_surface_speed ? before.s : *c->n_rpm;
    if (m.feed_mode == FeedMode::inverse_time) {
      w.f = before.f;
      return w;
    }
    const bool per_turn = m.feed_mode == FeedMode::per_turn;
    const double unit = run.feed_unit_mm();
    const double old = before.f * unit * (per_turn ? section.n_rpm : 1);  // mm/min
    // Where the cutting feed stays as it is printed, so do the others.
    const bool hole = b.move == RunMove::cycle;
    const double main = c->was_vf_mm_min.value_or(hole ? section.hole_mm_min : section.cut_mm_min);
    const double printed = per_turn              ? (section.inch ? 1e-4 * mm_per_inch : 1e-3) * *c->n_rpm
                           : section.whole_feeds ? unit
                           : section.inch        ? 0.01 * unit
                                                 : 0.1;
    const bool stays = main > 0 && c->vf_mm_min - main < printed + 1e-9 && c->vf_mm_min - main > -1e-6;
    const double scale = stays || !(main > 0) ? 1 : c->vf_mm_min / main;
    const bool is_main = !(old > 0) || std::abs(old - main) < 1e-6;
    const auto in_share = [&] { return c->in_proportion ? old * scale : std::min(old * scale, c->vf_mm_min); };
    double mm_min = unknown;
    const RunMove kind = c->cuts_threads && b.is_helix() ? RunMove::cut : b.move;
    switch (kind) {
      case RunMove::tap: {
        const double pitch = c->pitch_mm.value_or(section.n_rpm > 0 ? old / section.n_rpm : 0);
        if (pitch > 0) mm_min = pitch * *c->n_rpm;
        w.kind = WordKind::tap_feed;
        break;
      }
      // What went faster than the rest is not known to be lighter.
      case RunMove::cycle:
      case RunMove::cut: {
        const bool leads = b.switches_compensation || (old > 0 && std::abs(old - section.lead_mm_min) < 1e-6);
        if (leads && !c->in_proportion && c->lead_mm_min > 0) {
          mm_min = c->lead_mm_min;
          break;
        }
        const double share = centre_share(m, b, *c);
        const bool was_so = share != 1 && std::abs(old - main * share) < printed;
        mm_min = is_main || was_so ? c->vf_mm_min * share : in_share();
        break;
      }
      case RunMove::plunge: {
        // Nothing is cut above the stock, nor where the program itself slows down only further on: there a plunge is no
        // slower than it was in relation.
        constexpr double as_recorded = 1e-4;
        const bool through_air = b.in_air || (c->stock_top_mm && b.to[2] >= *c->stock_top_mm - as_recorded);
        mm_min = c->in_proportion || !(c->plunge_mm_min > 0) ? in_share()
                 : through_air                               ? std::max(in_share(), c->plunge_mm_min)
                                                             : c->plunge_mm_min;
        break;
      }
      case RunMove::ramp: mm_min = !c->in_proportion && c->ramp_mm_min > 0 ? c->ramp_mm_min : in_share(); break;
      case RunMove::retract:
        if (b.f_piece >= 0) mm_min = is_main ? c->vf_mm_min : in_share();
        break;
      default: break;
    }
    if (per_turn) {  // stays per revolution
      w.f = b.move == RunMove::tap || !(mm_min > 0) ? before.f : mm_min / *c->n_rpm / unit;
      if (stays) w.f = before.f;
      w.kind = WordKind::feed_per_turn;
      return w;
    }
    if (mm_min > 0) w.f = mm_min / unit;
    return w;
  }

  // What is wanted at the next fed move behind a block.
  const Wanted& ahead(std::size_t from) {
    const RunRecord& record = reading_.record;
    if (ahead_from_ <= from && from < ahead_step_) return ahead_wanted_;
    InForce old = old_;
    ahead_wanted_ = {};
    ahead_says_s_ = false;
    ahead_from_ = from;
    ahead_step_ = record.size();
    ahead_tool_ = record.setting(from).tool;
    for (std::size_t step = from + 1; step < record.size(); ++step) {
      const RunBlock b = record.at(program_, step);
      const Setting& run = record.setting(step);
      ahead_tool_ = run.tool;
      if (b.s) old.s = *b.s, ahead_says_s_ = true;
      if (b.f) old.f = *b.f / unit_of(run);
      // One that keeps its feed makes what is said before it of no effect.
      if (b.keeps && b.f_piece >= 0) break;
      if (!is_fed(b.move) || b.keeps) continue;
      ahead_wanted_ = wanted(run, b, old);
      ahead_step_ = step;
      break;
    }
    return ahead_wanted_;
  }
  static double unit_of(const Setting& run) { return run.feed_mode == FeedMode::inverse_time ? 1 : run.feed_unit_mm(); }

  // A block that has been changed already, or that stands in another file.
  void follow(const Setting& run, const RunBlock& b) {
    if (b.s) old_.s = *b.s;
    if (b.f) old_.f = *b.f / unit_of(run);
    if (b.attached) {
      const double s = b.s.value_or(unknown), f = b.f ? *b.f / unit_of(run) : unknown;
      if (b.s_piece >= 0) running_.s = s, new_.s = b.deletable ? unknown : s;
      if (b.f_piece >= 0) running_.f = f, new_.f = b.deletable ? unknown : f;
      if (b.forgets && b.not_understood) new_ = {};
      return add_time(run, b);
    }
    new_ = {};
    if (const auto said = said_.find(b.block); said != said_.end()) {
      if (!std::isnan(said->second.s)) running_.s = said->second.s;
      if (!std::isnan(said->second.f)) running_.f = said->second.f;
    }
    add_time(run, b);
  }
  void add_time(const Setting& run, const RunBlock& b) {
    const int place = place_of(b.section);
    const FeedMode mode = run.feed_mode;
    if (place < 0 || mode == FeedMode::inverse_time) return;
    out_.sections[static_cast<std::size_t>(place)].minutes +=
        minutes_at(b, running_.f * unit_of(run), running_.s, mode == FeedMode::per_turn, rapid_);
  }

  // The same as before for a move of the same kind, as most are.
  const Wanted& wanted_again(const Setting& run, const RunBlock& b) {
    const bool as_before = &run == last_.run && b.move == last_.move && b.turn == 0 && !b.switches_compensation &&
                           b.move == RunMove::cut && same(old_.s, last_.old.s) && same(old_.f, last_.old.f);
    if (as_before) return last_.wanted;
    last_ = {b.turn == 0 && !b.switches_compensation ? &run : nullptr, b.move, old_, wanted(run, b, old_)};
    return last_.wanted;
  }

  std::optional<std::string> one(const Setting& run, const RunBlock& b, std::size_t step) {
    // A cut that says nothing, behind one that is fed alike.
    if (b.move == RunMove::cut && b.s_piece < 0 && b.f_piece < 0 && !b.keeps && !b.deletable && !b.forgets &&
        !other_work_ && run.depth == 0) {
      const Wanted& w = wanted_again(run, b);
      const bool nothing = (std::isnan(w.s) || same(new_.s, w.s)) && (std::isnan(w.f) || same(new_.f, w.f));
      if (nothing || !(w.retuned || touched_)) {
        add_time(run, b);
        return std::nullopt;
      }
    }
    const auto pieces = program_.pieces(b.block);
    const std::string_view s_word =
        b.s_piece >= 0 ? program_.text(pieces[static_cast<std::size_t>(b.s_piece)]) : std::string_view();
    const std::string_view f_word =
        b.f_piece >= 0 ? program_.text(pieces[static_cast<std::size_t>(b.f_piece)]) : std::string_view();
    if (!s_word.empty() && b.s) s_style_ = s_word;
    if (!f_word.empty() && b.f) f_style_ = f_word;
    if (b.s) old_.s = *b.s;
    if (b.f) old_.f = *b.f / unit_of(run);
    const bool inch = run.inch;
    const int place = place_of(b.section);
    std::string new_s, new_f, add_s, add_f;
    const bool fed = is_fed(b.move);
    if (b.keeps || is_kept_subprogram(run.subprogram)) {
      if (b.s_piece >= 0) new_.s = b.s.value_or(unknown);
      if (b.f_piece >= 0) new_.f = b.f ? *b.f / unit_of(run) : unknown;
    } else {
      Wanted w;
      // Other work with the same cutter begins up in the air, and so does its speed.
      if (std::binary_search(reading_.splits.begin(), reading_.splits.end(), b.block)) other_work_ = true;
      const bool starts = b.starts_spindle || (other_work_ && b.move == RunMove::rapid && run.spindle != 5);
      if (fed) w = wanted(run, b, old_);
      else if (b.s_piece >= 0 || b.f_piece >= 0 || starts) w = ahead(step);
      if (fed || starts) other_work_ = false;
      // What comes before a change while the spindle turns is of the cutter that goes.
      const bool goes = !fed && ahead_tool_ != run.tool && run.spindle != 5 && !b.starts_spindle;
      if ((!w.retuned || goes) && !fed) w.s = old_.s, w.f = old_.f;
      // What keeps its own needs it said only behind something that was changed.
      const bool says = w.retuned || touched_;
      // Speed.
      if (b.s_piece >= 0) {
        const double to = std::isnan(w.s) ? *b.s : w.s;
        if (std::abs(to - *b.s) > 1e-9) new_s = printed(s_word, to, inch, WordKind::speed);
        new_.s = std::isnan(w.s) ? *b.s : new_s.empty() ? *b.s : w.s;
        if (new_s == s_word) new_s.clear();
      } else if (says && (fed || (starts && !ahead_says_s_)) && !std::isnan(w.s) && !same(new_.s, w.s)) {
        // The first that has to be said here; none where it was said before and is known.
        add_s = printed(s_style_.empty() ? "S1" : s_style_, w.s, inch, WordKind::speed);
        new_.s = w.s;
      }
      // Feed.
      if (b.f_piece >= 0) {
        const double had = *b.f / unit_of(run), to = std::isnan(w.f) ? had : w.f;
        if (std::abs(to - had) > 1e-9) new_f = printed(f_word, to, inch, w.kind);
        if (new_f == f_word) new_f.clear();
        new_.f = to;
      } else if (says && fed && !std::isnan(w.f) && !same(new_.f, w.f)) {
        add_f = printed(f_style_.empty() ? (inch ? "F1." : "F1") : f_style_, w.f, inch, w.kind);
        new_.f = w.f;
      }
    }
    if (b.deletable) {
      if (b.s_piece >= 0 || !add_s.empty()) new_.s = unknown;
      if (b.f_piece >= 0 || !add_f.empty()) new_.f = unknown;
    }
    if (run.depth > 0 && (b.s_piece >= 0 || b.f_piece >= 0 || !add_s.empty() || !add_f.empty()))
      said_[b.block] = {b.s_piece >= 0 || !add_s.empty() ? new_.s : unknown,
                        b.f_piece >= 0 || !add_f.empty() ? new_.f : unknown};
    if (!std::isnan(new_.s)) running_.s = new_.s;
    if (!std::isnan(new_.f)) running_.f = new_.f;
    if (b.forgets) new_ = {};
    if (place >= 0)
      out_.sections[static_cast<std::size_t>(place)].changed_words +=
          !new_s.empty() + !new_f.empty() + !add_s.empty() + !add_f.empty();
    add_time(run, b);
    if (new_s.empty() && new_f.empty() && add_s.empty() && add_f.empty()) return std::nullopt;
    touched_ = true;
    return with(pieces, b, new_s, new_f, add_s, add_f);
  }

  std::string with(std::span<const ProgramPiece> pieces, const RunBlock& b, const std::string& new_s,
                   const std::string& new_f, const std::string& add_s, const std::string& add_f) const {
    std::string out;
    bool added = add_s.empty() && add_f.empty();
    // Blanks between words as the block has them.
    std::size_t words = 0, spaced = 0;
    for (const ProgramPiece& p : pieces)
      if (p.kind == PieceKind::word && words++ > 0) spaced += p.blanks > 0;
    const bool blanks = words > 1 ? spaced > 0 : true;
    const auto add = [&] {
      for (const std::string* word : {&add_s, &add_f})
        if (!word->empty()) out += (blanks && !out.empty() ? " " : "") + *word;
      added = true;
    };
    for (std::size_t i = 0; i < pieces.size(); ++i) {
      const ProgramPiece& p = pieces[i];
      if (!added && (p.kind == PieceKind::comment || p.kind == PieceKind::blank) && !words_behind(pieces, i)) add();
      const std::string_view text = program_.text(p);
      out.append(program_.blanks(p));
      const int at = static_cast<int>(i);
      if (at == b.s_piece && !new_s.empty()) out += new_s;
      else if (at == b.f_piece && !new_f.empty()) out += new_f;
      else out += text;
    }
    if (!added) add();
    return out;
  }
  static bool words_behind(std::span<const ProgramPiece> pieces, std::size_t from) {
    return std::any_of(pieces.begin() + static_cast<std::ptrdiff_t>(from), pieces.end(),
                       [](const ProgramPiece& p) { return p.kind == PieceKind::word; });
  }

  const ProgramText& program_;
  const ProgramReading& reading_;
  const std::vector<NewConditions>& conditions_;
  const Rapid rapid_;
  const ReadProgress& go_on_;
  Retuned out_;
  std::map<std::size_t, std::string> in_subprograms_;
  std::map<std::size_t, InForce> said_;  // by their blocks
  struct Printed {
    std::string word, text;
    double value = unknown;
    WordKind kind = WordKind::feed;
    bool inch = false;
  };
  struct Last {
    const Setting* run = nullptr;
    RunMove move = RunMove::none;
    InForce old;
    Wanted wanted;
  };
  Last last_;
  std::array<Printed, 8> printed_;
  std::size_t printed_next_ = 0;
  InForce old_, new_;
  InForce running_;  // as in new_, but known where that is not relied on
  std::string s_style_, f_style_;
  std::size_t ahead_from_ = 0, ahead_step_ = 0;  // steps
  int ahead_tool_ = 0;
  bool touched_ = false;       // something was changed
  bool other_work_ = false;    // a split came, and no move yet
  bool ahead_says_s_ = false;  // an S stands between
  Wanted ahead_wanted_;
};

}  // namespace

Retuned retune(const ProgramText& program, const ProgramReading& reading, const std::vector<NewConditions>& conditions,
               Rapid rapid, const ReadProgress& go_on) {
  return Retuner(program, reading, conditions, rapid, go_on).run();
}

}  // namespace pecorra
