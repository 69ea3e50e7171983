#include "core/retune/program_reading.h"

#include <algorithm>
#include <charconv>
#include <numeric>

namespace pecorra {
namespace {

constexpr std::size_t asked_every = 4096;

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

ProgramReading read_program(const ProgramText& program, Rapid rapid, const ReadProgress& go_on) {
  ProgramReading out;
  std::map<int, ProgramSection> sections;
  std::map<int, std::map<double, double>> cycles;
  std::map<int, CutEvidence> evidence;
  std::map<int, std::string> of_tool;  // comments that name a T
  std::vector<std::string> comments;
  std::optional<int> operation;
  ProgramRun run(program);
  RunBlock b;
  std::size_t steps = 0;
  while (run.step(b)) {
    if (++steps % asked_every == 0 && go_on &&
        !go_on(static_cast<double>(b.block) / static_cast<double>(program.size())))
      return out;
    if (b.not_understood && !b.again) out.not_understood.push_back({b.block, b.not_understood});
    for (const ProgramPiece& p : program.pieces(b.block)) {
      if (p.kind != PieceKind::comment) continue;
      const std::string_view inside = comment_inside(program.text(p));
      if (inside.find("REVISION ") == 0 && inside.find(" UTC") != std::string_view::npos) out.own = true;
      if (const auto n = number_behind(inside, "OP ")) operation = n;
      if (const auto t = number_behind(inside, "T")) of_tool.try_emplace(*t, inside);
      if (comments.size() == 6) comments.erase(comments.begin());  // what stands nearest counts
      comments.emplace_back(inside);
    }
    if (b.section < 0) continue;
    const auto [entry, fresh] = sections.try_emplace(b.section);
    ProgramSection& s = entry->second;
    if (fresh) s.first = b.block;
    if (s.fed() == 0) s.tool = run.tool();
    if (b.again) continue;
    if (run.depth() == 0) s.last = b.block;
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
    evidence[b.section].add(b);
    if (is_fed(b.move)) {
      const ModalState& in_force = run.modal();
      if (!s.no_spindle && (in_force.spindle == 5 || in_force.s.value_or(0) <= 0)) s.no_spindle = b.block;
      if (!s.no_feed && !b.keeps && in_force.f.value_or(0) <= 0) s.no_feed = b.block;
      if (s.fed() == 0) {
        s.comments = std::move(comments);
        s.operation = operation;
        operation.reset();
      }
      comments.clear();
    }
    ++s.moves[static_cast<std::size_t>(b.move)];
    const ModalState& m = run.modal();
    const double n = m.s.value_or(0), unit = m.feed_mode == FeedMode::inverse_time ? 1 : run.feed_unit_mm();
    const double f = m.f.value_or(0) * unit;
    if (s.n_rpm == 0 && is_fed(b.move)) s.n_rpm = n;
    s.per_turn = s.per_turn || m.feed_mode == FeedMode::per_turn;
    s.inverse_time = s.inverse_time || m.feed_mode == FeedMode::inverse_time;
    s.surface_speed = s.surface_speed || m.constant_surface_speed;
    s.inch = m.inch;
    if (b.f_piece >= 0 &&
        program.text(program.pieces(b.block)[static_cast<std::size_t>(b.f_piece)]).find('.') == std::string_view::npos)
      s.whole_feeds = true;
    if (m.feed_mode != FeedMode::inverse_time)
      s.minutes += minutes_at(b, f, n, m.feed_mode == FeedMode::per_turn, rapid);
    // What keeps its feed says nothing about the others.
    if (b.move == RunMove::rapid || b.keeps) continue;
    const double per_minute = m.feed_mode == FeedMode::per_turn ? f * n : f;
    if (b.move == RunMove::plunge && s.plunge_mm_min == 0) s.plunge_mm_min = per_minute;
    if (b.move == RunMove::cycle && s.cycle == 0) s.cycle = m.cycle;
    if (b.move == RunMove::cycle) cycles[b.section][per_minute] += 1;
    if (b.move == RunMove::tap && s.tap_mm_min == 0) s.tap_mm_min = per_minute;
    if (b.move == RunMove::cut && per_minute > 0) {
      const auto known =
          std::find_if(s.cuts.begin(), s.cuts.end(), [&](const auto& c) { return c.first == per_minute; });
      if (known != s.cuts.end()) known->second += b.length_mm;
      else if (s.cuts.size() < 64) s.cuts.emplace_back(per_minute, b.length_mm);
    }
  }
  for (auto& [number, s] : sections) {
    out.section_of.resize(std::max(out.section_of.size(), static_cast<std::size_t>(number) + 1), -1);
    if (s.fed() == 0) continue;
    s.rapid_at_depth = evidence[number].rapid_at_depth();
    s.cut_sizes = evidence[number].found();
    if (const auto said = of_tool.find(s.tool); said != of_tool.end()) s.comments.push_back(said->second);
    if (const auto found = cycles.find(number); found != cycles.end())
      s.hole_mm_min = main_feed({found->second.begin(), found->second.end()});
    s.cut_mm_min = !s.cuts.empty()     ? main_feed(s.cuts)
                   : s.hole_mm_min > 0 ? s.hole_mm_min
                   : s.tap_mm_min > 0  ? s.tap_mm_min
                                       : s.plunge_mm_min;
    out.section_of[static_cast<std::size_t>(number)] = static_cast<int>(out.sections.size());
    out.sections.push_back(std::move(s));
  }
  return out;
}

}  // namespace pecorra
