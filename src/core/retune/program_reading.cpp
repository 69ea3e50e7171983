#include "core/retune/program_reading.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <deque>
#include <limits>
#include <numeric>
#include <utility>

#include "core/library/work_words.h"
#include "core/retune/work_splits.h"

namespace pecorra {
namespace {

std::optional<int> number_behind(std::string_view text, std::string_view words) {
  if (!text.starts_with(words)) return std::nullopt;
  int n = 0;
  const auto [end, fault] = std::from_chars(text.data() + words.size(), text.data() + text.size(), n);
  return fault == std::errc() ? std::optional(n) : std::nullopt;
}

// The fastest that goes with the feed of the longest part: what is beyond three times that is fed through the air.
double main_feed(const std::vector<std::pair<double, double>>& feeds) {
  const double most = std::max_element(feeds.begin(), feeds.end(), [](const auto& a, const auto& b) {
                        return a.second < b.second;
                      })->first;
  double fastest = most;
  for (const auto& [feed, length] : feeds)
    if (feed <= 3 * most + 1e-9) fastest = std::max(fastest, feed);
  return fastest;
}

}  // namespace

double minutes_at(const RunBlock& b, double feed, double n_rpm, bool per_turn, Rapid rapid) {
  if (b.move == RunMove::none || !(b.length_mm > 0)) return 0;
  if (b.move == RunMove::rapid) return rapid.mm_min > 0 ? b.length_mm / rapid.mm_min : 0;
  const double per_minute = per_turn ? feed * n_rpm : feed;
  if (!(per_minute > 0)) return 0;
  const double once = b.length_mm / per_minute;
  if (b.move == RunMove::tap) return 2 * once;
  return b.move == RunMove::cycle && rapid.mm_min > 0 ? once + b.length_mm / rapid.mm_min : once;
}

std::uint32_t ProgramSection::fed() const {
  return std::accumulate(moves.begin() + static_cast<std::size_t>(RunMove::plunge), moves.end(), 0u);
}

namespace {

// A section while it is read.
struct Reading {
  ProgramSection s;
  CutEvidence evidence;
  std::map<double, double> cycles;                        // how many by feed
  std::vector<std::pair<double, std::uint32_t>> entries;  // cuts next to an approach, by feed
  bool begun = false, entered = false, feed_elsewhere = false;
  double last_cut_mm_min = 0;  // 0: the last move was no cut, or counts already

  // A plunge that a slower one goes on from, and where it ends.
  struct Slowed {
    std::size_t step = 0;
    double z = 0, then_mm_min = 0;
    bool first = false;  // plunge of its section
  };
  std::vector<Slowed> slowed;
  Slowed last_plunge;             // the last move, where that was one
  double last_plunge_mm_min = 0;  // 0: it was none
  double highest_cut = -std::numeric_limits<double>::infinity();

  void add_plunge(const RunBlock& b, std::size_t step, double feed) {
    if (b.move == RunMove::cut && !(b.to[2] <= highest_cut)) highest_cut = b.to[2];
    const bool plunge = b.move == RunMove::plunge && !b.keeps && feed > 0;
    if (plunge && feed < last_plunge_mm_min) {
      last_plunge.then_mm_min = feed;
      slowed.push_back(last_plunge);
    }
    last_plunge = {step, b.to[2], 0, s.moves[static_cast<std::size_t>(RunMove::plunge)] == 1};
    last_plunge_mm_min = plunge ? feed : 0;
  }
  // Down to where it never cuts sideways, it was air. What only drills may slow down in the hole.
  void find_air(RunRecord& record) {
    for (const Slowed& p : slowed) {
      if (!std::isfinite(highest_cut) || !(p.z > highest_cut + 1e-4)) continue;
      record.mark_in_air(p.step);
      ++s.air_plunges;
      if (p.first) s.plunge_mm_min = p.then_mm_min;
    }
  }

  void add_entry(double feed) {
    const auto known = std::find_if(entries.begin(), entries.end(), [&](const auto& e) { return e.first == feed; });
    if (known != entries.end()) ++known->second;
    else if (entries.size() < 64) entries.emplace_back(feed, 1);
  }
  void add_lead(const RunBlock& b, double feed) {
    if (b.move == RunMove::cut) {
      const bool counts = !entered || b.switches_compensation;
      if (counts) add_entry(feed);
      s.leads += b.switches_compensation;
      last_cut_mm_min = counts ? 0 : feed;
      entered = true;
      return;
    }
    if (last_cut_mm_min > 0 && (b.move == RunMove::rapid || b.move == RunMove::retract)) add_entry(last_cut_mm_min);
    last_cut_mm_min = 0;
    entered = false;
  }
  // Another feed than the cuts' at half of all ends of passes, and at little of their length.
  void find_lead_feed() {
    std::uint32_t all = 0;
    std::pair<double, std::uint32_t> most{0, 0};
    for (const auto& e : entries) {
      all += e.second;
      if (std::abs(e.first - s.cut_mm_min) > 1e-6 && e.second > most.second) most = e;
    }
    double length = 0, of_it = 0;
    for (const auto& [feed, cut] : s.cuts) {
      length += cut;
      if (feed == most.first) of_it = cut;
    }
    if (most.second * 2 < all || of_it * 2 > length || most.second == 0) return;
    s.lead_mm_min = most.first;
    s.leads = std::max(s.leads, most.second);
  }
};

ProgramReading read_once(const ProgramText& program, Rapid rapid, std::vector<std::size_t> splits,
                         const ReadProgress& go_on, WorkSplits* find_splits) {
  ProgramReading out;
  std::deque<Reading> sections;
  std::map<int, std::string> of_tool;  // comments that name a T
  std::vector<std::string> comments;
  std::optional<int> operation;
  ProgramRun run(program, splits);
  out.splits = std::move(splits);
  RunBlock b;
  std::size_t steps = 0;
  while (run.step(b)) {
    if (++steps % asked_every == 0 && go_on &&
        !go_on(static_cast<double>(b.block) / static_cast<double>(program.size())))
      return out;
    const bool in_main = run.depth() == 0;
    out.record.add(program, run, b);
    if (b.not_understood && !b.again) out.not_understood.push_back({b.block, b.not_understood});
    if (!b.again)
      for (const ProgramPiece& p : program.pieces(b.block)) {
        if (p.kind != PieceKind::comment) continue;
        const std::string_view inside = comment_inside(program.text(p));
        if (inside.find("REVISION ") == 0 && inside.find(" UTC") != std::string_view::npos) out.own = true;
        if (const auto n = number_behind(inside, "OP ")) operation = n;
        if (const auto t = number_behind(inside, "T")) of_tool.try_emplace(*t, inside);
        if (comments.size() == 6) comments.erase(comments.begin());  // what stands nearest counts
        comments.emplace_back(inside);
        if (find_splits) find_splits->comment(inside, b, in_main);
      }
    if (b.section < 0) continue;
    if (sections.size() <= static_cast<std::size_t>(b.section))
      sections.resize(static_cast<std::size_t>(b.section) + 1);
    Reading& reading = sections[static_cast<std::size_t>(b.section)];
    ProgramSection& s = reading.s;
    if (!std::exchange(reading.begun, true)) s.first = b.block;
    const bool fresh = s.fed() + s.fed_elsewhere == 0;
    if (fresh) s.tool = run.tool();
    const ModalState& m = run.modal();
    const double n = m.s.value_or(0), unit = m.feed_mode == FeedMode::inverse_time ? 1 : run.feed_unit_mm();
    const double f = m.f.value_or(0) * unit;
    if (b.move != RunMove::none && m.feed_mode != FeedMode::inverse_time)
      s.minutes += minutes_at(b, f, n, m.feed_mode == FeedMode::per_turn, rapid);
    if (is_fed(b.move)) {
      if (fresh) {
        s.comments.swap(comments);
        s.operation = operation;
        operation.reset();
      }
      comments.clear();
      if (s.n_rpm == 0) s.n_rpm = n;
    }
    if (b.attached && is_fed(b.move)) {
      ++s.fed_elsewhere;
      if (b.s_piece >= 0 || b.f_piece >= 0) out.attached.try_emplace(run.subprogram(), b.block);
      if (b.f_piece >= 0 || reading.feed_elsewhere) ++s.feeds_elsewhere;
    }
    if (b.f_piece >= 0) reading.feed_elsewhere = b.attached;
    if (b.again) continue;
    if (in_main) s.last = b.block;
    if (run.subprogram() != 0) {
      std::vector<int>& tools = out.tools_of_subprogram[run.subprogram()];
      out.subprogram_block.try_emplace(run.subprogram(), b.block);
      if (std::find(tools.begin(), tools.end(), run.tool()) == tools.end()) tools.push_back(run.tool());
    }
    for (const ProgramPiece& p : program.pieces(b.block))
      if (p.kind == PieceKind::word && p.letter == 'M')
        if (const auto code = program.number(p)) {
          if (*code == 8 && !s.flood) s.flood = b.block;
          if (*code == 7 && !s.mist) s.mist = b.block;
        }
    if (b.move == RunMove::none) continue;
    reading.evidence.add(b);
    const double per_minute = m.feed_mode == FeedMode::per_turn ? f * n : f;
    if (find_splits) find_splits->add(b, in_main);
    if (is_fed(b.move)) {
      if (!s.no_spindle && (m.spindle == 5 || m.s.value_or(0) <= 0)) s.no_spindle = b.block;
      if (!s.no_feed && !b.keeps && m.f.value_or(0) <= 0) s.no_feed = b.block;
    }
    ++s.moves[static_cast<std::size_t>(b.move)];
    s.helices += b.is_helix();
    s.arcs += b.turn != 0 && b.move == RunMove::cut;
    s.per_turn = s.per_turn || m.feed_mode == FeedMode::per_turn;
    s.inverse_time = s.inverse_time || m.feed_mode == FeedMode::inverse_time;
    s.surface_speed = s.surface_speed || m.constant_surface_speed;
    s.inch = m.inch;
    if (b.f_piece >= 0 && !s.whole_feeds &&
        program.text(program.pieces(b.block)[static_cast<std::size_t>(b.f_piece)]).find('.') == std::string_view::npos)
      s.whole_feeds = true;
    reading.add_lead(b, per_minute);
    reading.add_plunge(b, out.record.size() - 1, s.inverse_time ? 0 : per_minute);
    // What keeps its feed says nothing about the others.
    if (b.move == RunMove::rapid || b.keeps) continue;
    if (b.move == RunMove::plunge && s.plunge_mm_min == 0) s.plunge_mm_min = per_minute;
    if (b.is_helix() && s.helix_mm_min == 0) s.helix_mm_min = per_minute;
    if (b.move == RunMove::cycle && s.cycle == 0) s.cycle = m.cycle;
    if (b.move == RunMove::cycle) reading.cycles[per_minute] += 1;
    if (b.move == RunMove::tap && s.tap_mm_min == 0) s.tap_mm_min = per_minute;
    if (b.move == RunMove::cut && per_minute > 0) {
      const auto known =
          std::find_if(s.cuts.begin(), s.cuts.end(), [&](const auto& c) { return c.first == per_minute; });
      if (known != s.cuts.end()) known->second += b.length_mm;
      else if (s.cuts.size() < 64) s.cuts.emplace_back(per_minute, b.length_mm);
    }
  }
  for (Reading& reading : sections) {
    ProgramSection& s = reading.s;
    out.section_of.push_back(-1);
    if (s.fed() + s.fed_elsewhere == 0) continue;
    s.rapid_at_depth = reading.evidence.rapid_at_depth();
    s.cut_sizes = reading.evidence.found();
    for (auto c = s.comments.rbegin(); c != s.comments.rend() && !s.named; ++c)
      if ((s.named = work_in_words(*c))) s.named_by = *c;
    if (const auto said = of_tool.find(s.tool); said != of_tool.end()) s.comments.push_back(said->second);
    if (!reading.cycles.empty()) s.hole_mm_min = main_feed({reading.cycles.begin(), reading.cycles.end()});
    s.cut_mm_min = !s.cuts.empty()      ? main_feed(s.cuts)
                   : s.hole_mm_min > 0  ? s.hole_mm_min
                   : s.tap_mm_min > 0   ? s.tap_mm_min
                   : s.helix_mm_min > 0 ? s.helix_mm_min
                                        : s.plunge_mm_min;
    reading.find_lead_feed();
    reading.find_air(out.record);
    out.section_of.back() = static_cast<int>(out.sections.size());
    out.sections.push_back(std::move(s));
  }
  return out;
}

}  // namespace

ProgramReading read_program(const ProgramText& program, Rapid rapid, const ReadProgress& go_on) {
  WorkSplits other_work;
  ProgramReading out = read_once(program, rapid, {}, go_on, &other_work);
  const std::vector<std::size_t> splits = other_work.found();
  // What Pecorra wrote says itself where its operations begin.
  if (splits.empty() || out.own) return out;
  return read_once(program, rapid, splits, go_on, nullptr);
}

}  // namespace pecorra
