#include "core/retune/run_record.h"

#include <limits>

namespace pecorra {
namespace {

// Behind the three bits of the move.
enum Flag : std::uint16_t {
  deletable = 1 << 3,
  starts_spindle = 1 << 4,
  keeps = 1 << 5,
  forgets = 1 << 6,
  again = 1 << 7,
  attached = 1 << 8,
  switches = 1 << 9,
  helix = 1 << 10,
  left = 1 << 11,
  right = 1 << 12,
  not_understood = 1 << 13,
  stands_aside = 1 << 14,
  in_air = 1 << 15
};
static_assert(run_move_count <= 8);

bool is_plain(const ProgramText& program, const RunBlock& b, int piece) {
  if (piece < 0) return true;
  if (piece > std::numeric_limits<std::int16_t>::max()) return false;
  return program.text(program.pieces(b.block)[static_cast<std::size_t>(piece)]).find('#') == std::string_view::npos;
}

}  // namespace

void RunRecord::add(const ProgramText& program, const ProgramRun& run, const RunBlock& b) {
  const ModalState& m = run.modal();
  const Setting now{
      b.section, run.tool(),    run.depth(), run.subprogram(), m.feed_mode, m.inch, m.constant_surface_speed,
      m.spindle, m.compensation};
  if (settings_.empty() || !(settings_.back() == now)) settings_.push_back(now);
  main_end_ = run.main_end();
  Step s;
  s.block = static_cast<std::uint32_t>(b.block);
  s.setting = static_cast<std::uint32_t>(settings_.size() - 1);
  s.length = static_cast<float>(b.length_mm);
  s.extra = static_cast<float>(b.turn != 0 ? b.radius_mm : b.to[2]);
  const bool plain =
      b.attached ? b.s_piece < 0 && b.f_piece < 0 : is_plain(program, b, b.s_piece) && is_plain(program, b, b.f_piece);
  if (plain) s.s_piece = static_cast<std::int16_t>(b.s_piece), s.f_piece = static_cast<std::int16_t>(b.f_piece);
  else aside_[steps_.size()] = {b.s_piece, b.f_piece, b.s, b.f};
  s.flags = static_cast<std::uint16_t>(
      static_cast<unsigned>(b.move) | (b.deletable ? deletable : 0) | (b.starts_spindle ? starts_spindle : 0) |
      (b.keeps ? keeps : 0) | (b.forgets ? forgets : 0) | (b.again ? again : 0) | (b.attached ? attached : 0) |
      (b.switches_compensation ? switches : 0) | (b.is_helix() ? helix : 0) | (b.turn > 0 ? left : 0) |
      (b.turn < 0 ? right : 0) | (b.not_understood ? not_understood : 0) | (plain ? 0 : stands_aside));
  steps_.push_back(s);
}

void RunRecord::mark_in_air(std::size_t step) { steps_[step].flags |= in_air; }

RunBlock RunRecord::at(const ProgramText& program, std::size_t step) const {
  const Step& s = steps_[step];
  const Setting& set = settings_[s.setting];
  RunBlock b;
  b.block = s.block;
  b.section = set.section;
  b.move = static_cast<RunMove>(s.flags & 7);
  b.s_piece = s.s_piece, b.f_piece = s.f_piece;
  b.deletable = s.flags & deletable, b.starts_spindle = s.flags & starts_spindle;
  b.keeps = s.flags & keeps, b.forgets = s.flags & forgets;
  b.again = s.flags & again, b.attached = s.flags & attached;
  b.switches_compensation = s.flags & switches;
  b.winds = s.flags & helix;
  b.in_air = s.flags & in_air;
  b.length_mm = s.length;
  b.turn = s.flags & left ? 1 : s.flags & right ? -1 : 0;
  if (b.turn != 0) b.radius_mm = s.extra;
  else b.to[2] = s.extra;
  if (s.flags & not_understood) b.not_understood = "as it was read";
  if (s.flags & stands_aside) {
    const Aside& aside = aside_.at(step);
    b.s_piece = aside.s_piece, b.f_piece = aside.f_piece;
    b.s = aside.s, b.f = aside.f;
    return b;
  }
  if (s.s_piece < 0 && s.f_piece < 0) return b;
  const auto pieces = program.pieces(s.block);
  if (s.s_piece >= 0) b.s = program.number(pieces[static_cast<std::size_t>(s.s_piece)]);
  if (s.f_piece >= 0) b.f = program.number(pieces[static_cast<std::size_t>(s.f_piece)]);
  if (b.f && set.feed_mode != FeedMode::inverse_time) *b.f *= set.feed_unit_mm();
  return b;
}

}  // namespace pecorra
