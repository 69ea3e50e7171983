#include "core/retune/program_run.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <limits>
#include <numbers>

namespace pecorra {
namespace {

constexpr double unknown_place = std::numeric_limits<double>::quiet_NaN();
constexpr std::size_t deepest_call = 8;

// Codes, times ten, that are known to be no feed move besides those that a modal state knows.
constexpr std::array other_codes{40,  50,  51,  70,  80,  90,  100, 110, 150, 160, 220, 230, 270, 280, 300,
                                 310, 360, 370, 380, 381, 382, 383, 384, 385, 400, 410, 420, 430, 431, 434,
                                 440, 490, 500, 501, 510, 511, 520, 530, 541, 600, 610, 611, 620, 630, 640,
                                 650, 660, 670, 680, 681, 682, 690, 901, 911, 921, 922, 923};
bool is_known_code(int tenths) {
  if (tenths % 10 == 0) {
    const int g = tenths / 10;
    if (g <= 3 || (g >= 17 && g <= 21) || (g >= 40 && g <= 42) || (g >= 53 && g <= 59) || (g >= 90 && g <= 99) ||
        g == 73 || g == 74 || g == 76 || (g >= 80 && g <= 89))
      return true;
  }
  return std::find(other_codes.begin(), other_codes.end(), tenths) != other_codes.end();
}

bool is_probing(int tenths) {
  return tenths == 310 || tenths == 360 || tenths == 370 || (tenths >= 380 && tenths <= 385);
}

// "OP 3 RIM", as Pecorra begins its operations.
bool begins_operation(std::string_view inside) {
  return inside.starts_with("OP ") && inside.size() > 3 && inside[3] >= '0' && inside[3] <= '9';
}

// The T that a comment of a change by hand names.
std::optional<int> tool_in(std::string_view text) {
  for (std::size_t i = 0; i + 1 < text.size(); ++i) {
    if ((text[i] != 'T' && text[i] != 't') || (i > 0 && std::isalnum(static_cast<unsigned char>(text[i - 1]))))
      continue;
    int t = 0;
    const auto [end, fault] = std::from_chars(text.data() + i + 1, text.data() + text.size(), t);
    if (fault == std::errc()) return t;
  }
  return std::nullopt;
}

std::optional<int> whole(const std::optional<double>& v) {
  if (!v || !(std::abs(*v) < 1e8)) return std::nullopt;
  return static_cast<int>(std::lround(*v));
}

}  // namespace

std::vector<int> missing_subprograms(const ProgramText& program) {
  std::set<int> here, called;
  for (const ProgramText::Attached& file : program.attached()) here.insert(file.number);
  for (const std::uint32_t b : program.blocks_with_m_or_o()) {
    const auto pieces = program.pieces(b);
    const auto value_of = [&](char letter) -> std::optional<int> {
      for (const ProgramPiece& p : pieces)
        if (p.kind == PieceKind::word && p.letter == letter) return whole(program.number(p));
      return std::nullopt;
    };
    for (const ProgramPiece& p : pieces) {
      if (p.kind != PieceKind::word || (p.letter != 'M' && p.letter != 'O')) continue;
      const auto value = whole(program.number(p));
      if (p.letter == 'O' && value) here.insert(*value);
      if (p.letter == 'M' && value == 98)
        if (const auto number = value_of('P'); number && *number > 0) called.insert(*number);
    }
  }
  std::vector<int> out;
  for (const int number : called)
    if (!here.contains(number) && !(number > 9999 && here.contains(number % 10000))) out.push_back(number);
  return out;
}

std::string_view comment_inside(std::string_view comment) {
  if (comment.size() >= 2 && comment.front() == '(') return comment.substr(1, comment.size() - 2);
  return comment.starts_with(';') ? comment.substr(1) : comment;
}

ProgramRun::ProgramRun(const ProgramText& program, std::vector<std::size_t> splits)
    : program_(&program), seen_(program.size(), false) {
  at_.fill(unknown_place);
  auto layout = std::make_shared<Layout>();
  layout->splits = std::move(splits);
  bool main_over = false, any_word = false;
  std::size_t looked = 0;  // for a first word up to here
  for (const std::uint32_t b : program.blocks_with_m_or_o()) {
    if (b >= program.size()) break;
    for (; !any_word && looked < b; ++looked)
      for (const ProgramPiece& p : program.pieces(looked))
        any_word = any_word || (p.kind == PieceKind::word && p.letter != 'M' && p.letter != 'O' && p.letter != 'N');
    bool ends = false;
    for (const ProgramPiece& p : program.pieces(b)) {
      if (p.kind != PieceKind::word) continue;
      if (p.letter != 'M' && p.letter != 'O') {
        any_word = any_word || p.letter != 'N';
        continue;
      }
      const auto value = whole(program.number(p));
      if (!value) continue;
      if (p.letter == 'M' && *value == 6) layout->changes_by_m6 = true;
      if (p.letter == 'M' && (*value == 30 || *value == 2 || *value == 99)) ends = true;
      if (p.letter == 'O' && any_word) {
        layout->subprograms.try_emplace(*value, b);
        if (!main_over) layout->main_end = b, main_over = true;
      }
    }
    if (ends && !main_over) layout->main_end = b + 1, main_over = true;
  }
  if (!main_over) layout->main_end = program.size();
  for (const ProgramText::Attached& file : program.attached()) layout->subprograms.try_emplace(file.number, file.first);
  layout_ = std::move(layout);
}

std::size_t ProgramRun::end_of_file(std::size_t block) const {
  if (block < program_->size()) return program_->size();
  for (const ProgramText::Attached& file : program_->attached())
    if (file.first > block) return file.first;
  return program_->size_with_attached();
}

void ProgramRun::return_from_subprogram() {
  Frame& frame = stack_.back();
  if (frame.more > 0 && steps_ < 4 * program_->size_with_attached()) {
    --frame.more;
    next_ = frame.begin;
    return;
  }
  // Very many times: where that leads is not followed.
  if (frame.more > 0) at_.fill(unknown_place);
  next_ = frame.back;
  stack_.pop_back();
}

bool ProgramRun::step(RunBlock& out) {
  const std::size_t all = program_->size_with_attached();
  const std::size_t last = stack_.empty() ? layout_->main_end : stack_.back().end;
  if (over_ || next_ >= last || steps_ > 8 * all + 1000) {
    if (stack_.empty() || over_ || steps_ > 8 * all + 1000) return false;
    return_from_subprogram();  // one that runs into the end of its file
    return step(out);
  }
  ++steps_;
  out = {};
  const std::size_t block = next_++;
  out.attached = block >= program_->size();
  out.block = out.attached ? stack_.back().called_by : block;
  out.again = out.attached || seen_[block];
  if (!out.attached) seen_[block] = true;
  if (fed_ && !layout_->splits.empty() && std::binary_search(layout_->splits.begin(), layout_->splits.end(), block))
    new_section();
  read_words(out, block);
  if (out.attached) out.keeps = true;
  out.section = section_;
  return true;
}

void ProgramRun::read_words(RunBlock& out, std::size_t block) {
  const auto pieces = program_->pieces(block);
  const bool had_cycle = modal_.cycle != 0;
  bool other_s = false, other_f = false, call = false, returns = false, macro = false, by_hand = false;
  std::optional<double> p_word, l_word;
  std::string_view remark;
  numbers_.assign(pieces.size(), std::nullopt);
  for (std::size_t i = 0; i < pieces.size(); ++i)
    if (pieces[i].kind == PieceKind::word) numbers_[i] = program_->number(pieces[i]);
  const auto value_of = [&](std::size_t place) -> std::optional<double> {
    if (numbers_[place]) return numbers_[place];
    const ProgramPiece& piece = pieces[place];
    // A variable that was set to a number.
    const std::string_view text = program_->text(piece);
    const std::size_t mark = text.find('#');
    int number = 0;
    if (mark == std::string_view::npos || mark > 2) return std::nullopt;
    const auto [end, fault] = std::from_chars(text.data() + mark + 1, text.data() + text.size(), number);
    if (fault != std::errc() || end != text.data() + text.size()) return std::nullopt;
    const auto known = variables_.find(number);
    if (known == variables_.end()) return std::nullopt;
    return text.substr(0, mark).find('-') != std::string_view::npos ? -known->second : known->second;
  };
  for (std::size_t i = 0; i < pieces.size(); ++i) {
    const ProgramPiece& piece = pieces[i];
    switch (piece.kind) {
      case PieceKind::skip: out.deletable = true; continue;
      case PieceKind::comment: {
        const std::string_view inside = comment_inside(program_->text(piece));
        if (begins_operation(inside) && (fed_ || section_ < 0)) new_section();
        remark = inside;
        continue;
      }
      case PieceKind::unknown:
        out.not_understood = "a bracket without its pair, or a byte that no program has";
        out.keeps = true;
        continue;
      case PieceKind::statement:
        out.not_understood = "a word without a number";
        out.keeps = out.forgets = true;
        continue;
      case PieceKind::assignment: {
        const std::string_view text = program_->text(piece);
        int number = 0;
        const auto [end, fault] = std::from_chars(text.data() + 1, text.data() + text.size(), number);
        const std::size_t equals = text.find('=');
        if (fault == std::errc() && equals != std::string_view::npos) {
          const auto value = word_value(text.substr(equals + 1));
          if (value && stack_.empty() && !out.deletable) variables_[number] = *value;
          else variables_.erase(number);
        } else {
          variables_.clear();
        }
        continue;
      }
      default: break;
    }
    if (piece.kind != PieceKind::word) continue;
    const char letter = piece.letter;
    if (letter != 'G' && letter != 'M' && letter != 'S' && letter != 'F' && letter != 'P' && letter != 'L') continue;
    const std::optional<double> value = value_of(i);
    if (piece.letter == 'S' && program_->text(piece).find('=') == std::string_view::npos)
      out.s_piece = static_cast<int>(i), out.s = value;
    if (piece.letter == 'F') out.f_piece = static_cast<int>(i), out.f = value;
    if (piece.letter == 'P') p_word = value;
    if (piece.letter == 'L') l_word = value;
    if (piece.letter != 'G' && piece.letter != 'M') continue;
    const auto code =
        value && std::abs(*value) < 1e6 ? std::optional(static_cast<int>(std::lround(*value * 10))) : std::nullopt;
    if (piece.letter == 'G') {
      if (!code || !is_known_code(*code)) {
        out.not_understood = "unknown code";
        out.keeps = true;
        continue;
      }
      if (is_probing(*code)) other_f = true;
      switch (*code) {
        case 40:
        case 100: other_s = other_f = true; break;  // dwell, settings
        case 500:
        case 920: other_s = true; break;  // greatest speed
        case 650:
        case 660: macro = true; break;
        case 901: absolute_centres_ = true; break;
        case 911: absolute_centres_ = false; break;
        default: break;
      }
    }
    if (piece.letter == 'M' && code) {
      switch (*code / 10) {
        case 0:
        case 1: by_hand = true; break;
        case 3:
        case 4: out.starts_spindle = true; break;
        case 10:
        case 11: other_f = true; break;  // clamps
        case 19: other_s = true; break;  // orientated
        case 98: call = true; break;
        case 99: returns = true; break;
        default: break;
      }
    }
  }
  if (macro) other_s = other_f = true, out.forgets = true, out.not_understood = "macro call";
  if (other_s) out.s_piece = -1, out.s.reset();
  if (other_f) out.f_piece = -1, out.f.reset();
  if ((out.s_piece >= 0 && !out.s) || (out.f_piece >= 0 && !out.f)) {
    out.not_understood = "speed or feed computed by the control";
    out.keeps = true;
  }

  const std::optional<double> s_before = modal_.s, f_before = modal_.f;
  const int compensation_before = modal_.compensation;
  modal_.apply(*program_, block);
  modal_.s = out.s ? out.s : s_before;
  modal_.f = out.f ? out.f : f_before;
  if (had_cycle && modal_.motion >= 0 && modal_.cycle == 0) cycle_r_ = cycle_z_ = unknown_place;
  // Another cutter.
  bool change = false;
  for (std::size_t i = 0; i < pieces.size(); ++i) {
    const ProgramPiece& piece = pieces[i];
    if (piece.kind != PieceKind::word) continue;
    if (piece.letter == 'M' && whole(numbers_[i]) == 6) change = true;
    if (piece.letter == 'T' && !layout_->changes_by_m6) change = true, modal_.t = modal_.waiting_t;
  }
  if (!change && by_hand && !layout_->changes_by_m6)
    if (const auto t = tool_in(remark)) change = true, modal_.t = *t;
  if (change) {
    if (fed_ || section_ < 0 || tool_ != modal_.t) {
      if (fed_ || section_ < 0) new_section();
      section_s_.reset();
    }
    tool_ = modal_.t;
  }
  // With the same cutter another speed is another piece of work.
  if (out.s && !out.keeps && !change && fed_ && section_s_ && *section_s_ != *out.s) new_section();
  if (out.s && !out.keeps) section_s_ = out.s;
  if (out.f) *out.f *= modal_.feed_mode == FeedMode::inverse_time ? 1 : feed_unit_mm();

  if (!macro) move(out, block);
  out.switches_compensation = modal_.compensation != compensation_before && out.move == RunMove::cut;
  if (is_fed(out.move)) {
    if (section_ < 0) new_section();
    fed_ = true;
  }
  if (call) {
    const auto number = whole(p_word);
    // P21000: twice O1000.
    int name = number.value_or(0);
    if (name > 9999 && !has_subprogram(name)) name %= 10000;
    const auto sub = layout_->subprograms.find(name);
    if (sub == layout_->subprograms.end()) {
      out.not_understood = "the subprogram it calls is not in this file or its folder";
      out.forgets = true;
      at_.fill(unknown_place);
    } else if (stack_.size() >= deepest_call ||
               std::any_of(stack_.begin(), stack_.end(), [&](const Frame& f) { return f.number == name; })) {
      out.not_understood = "calls itself, or calls nested too deep";
      out.forgets = true;
    } else {
      // P21000 or P1000 L2: twice.
      const int times = name != number.value_or(0) ? *number / 10000 : whole(l_word).value_or(1);
      stack_.push_back({next_, name, out.block, end_of_file(sub->second), sub->second, std::max(times, 1) - 1});
      next_ = sub->second;
    }
  } else if ((returns || modal_.ended) && !stack_.empty()) {
    return_from_subprogram();
    out.forgets = true;
    if (modal_.ended) over_ = true;
  } else if (returns || modal_.ended) {
    over_ = true;
  }
}

void ProgramRun::move(RunBlock& out, std::size_t block) {
  const double unit = feed_unit_mm();
  bool any = false, to_reference = false, no_move = false, probes = false, sideways = false, vertical = false;
  std::array<double, 3> to = at_;
  double i = 0, j = 0, r = unknown_place;
  bool has_i = false, has_j = false;
  const auto pieces = program_->pieces(block);
  for (std::size_t place = 0; place < pieces.size(); ++place) {
    const ProgramPiece& piece = pieces[place];
    if (piece.kind != PieceKind::word) continue;
    const auto number = numbers_[place];
    if (piece.letter == 'G' && number) {
      const int code = static_cast<int>(std::lround(std::clamp(*number, 0.0, 1e6) * 10));
      probes = probes || is_probing(code);
      switch (code) {
        case 280:
        case 300:
        case 530:
        case 270: to_reference = true; break;
        case 40:
        case 100:
        case 520:
        case 920:
        case 921:
        case 922:
        case 923:
        case 680:
        case 681:
        case 501:
        case 511: no_move = true; break;
        default: break;
      }
    }
    const double mm = number ? *number * unit : unknown_place;
    const auto axis = [&](std::size_t a, bool cycle_axis) {
      any = true;
      if (a == 2) vertical = true;
      else sideways = true;
      if (cycle_axis) return;
      to[a] = modal_.absolute ? mm : at_[a] + mm;
    };
    switch (piece.letter) {
      case 'X': axis(0, false); break;
      case 'Y': axis(1, false); break;
      case 'Z':
        axis(2, modal_.cycle != 0);
        if (modal_.cycle != 0) cycle_z_ = mm;
        break;
      case 'A':
      case 'B':
      case 'C':
      case 'U':
      case 'V':
      case 'W': any = sideways = true; break;
      case 'I': i = mm, has_i = true; break;
      case 'J': j = mm, has_j = true; break;
      case 'R': r = mm; break;
      default: break;
    }
  }
  if (absolute_centres_) {
    if (has_i) i -= at_[0];
    if (has_j) j -= at_[1];
  }
  if (!any || no_move) {
    // A full circle names only its centre.
    if (no_move || modal_.cycle != 0 || modal_.motion < 2 || (i == 0 && j == 0)) return;
    any = sideways = true;
  }
  if (to_reference) {
    for (std::size_t a = 0; a < 3; ++a) at_[a] = unknown_place;
    return;
  }
  if (probes) {
    at_.fill(unknown_place);
    return;
  }
  if (modal_.cycle != 0) {
    if (!std::isnan(r)) cycle_r_ = modal_.absolute ? r : at_[2] + r;
    const double bottom = modal_.absolute ? cycle_z_ : cycle_r_ + cycle_z_;
    out.move = modal_.cycle == 84 || modal_.cycle == 74 ? RunMove::tap : RunMove::cycle;
    out.length_mm = std::isnan(bottom) || std::isnan(cycle_r_) ? 0 : std::abs(cycle_r_ - bottom);
    out.from = at_;
    at_[0] = to[0], at_[1] = to[1];
    out.to = {to[0], to[1], bottom};
    return;
  }
  if (modal_.motion < 0) {
    out.not_understood = "a move before any of G0 to G3";
    at_ = to;
    return;
  }
  const double dx = to[0] - at_[0], dy = to[1] - at_[1], dz = to[2] - at_[2];
  const double known_dx = std::isnan(dx) ? 0 : dx, known_dy = std::isnan(dy) ? 0 : dy;
  const double plain_xy = std::sqrt(known_dx * known_dx + known_dy * known_dy);
  double xy = plain_xy;
  if (modal_.motion >= 2 && modal_.plane == Plane::xy) {
    const double radius = !std::isnan(r) ? std::abs(r) : std::hypot(i, j);
    double angle = std::numbers::pi * 2;
    if (!std::isnan(r)) {
      angle = radius > 0 ? 2 * std::asin(std::clamp(plain_xy / 2 / radius, 0.0, 1.0)) : 0;
      if (r < 0) angle = 2 * std::numbers::pi - angle;
    } else if (plain_xy > 1e-6) {
      const double from = std::atan2(-j, -i), end = std::atan2(dy - j, dx - i);
      angle = modal_.motion == 3 ? end - from : from - end;
      if (angle <= 1e-9) angle += 2 * std::numbers::pi;
    }
    if (std::isfinite(radius) && std::isfinite(angle)) {
      xy = radius * angle;
      out.turn = modal_.motion == 3 ? 1 : -1;
      if (!std::isnan(r)) {
        // Left of the chord for the shorter way counter-clockwise.
        const double side = (r > 0 ? 1 : -1) * out.turn;
        const double off = std::sqrt(std::max(0.0, radius * radius - plain_xy * plain_xy / 4));
        const double scale = plain_xy > 0 ? side * off / plain_xy : 0;
        i = dx / 2 - dy * scale, j = dy / 2 + dx * scale;
      }
      out.centre_x = at_[0] + i, out.centre_y = at_[1] + j;
      out.radius_mm = radius;
    }
  }
  out.from = at_;
  out.to = to;
  out.winds = out.turn != 0 && dz != 0;
  out.length_mm = std::isnan(dz) || dz == 0 ? xy : std::sqrt(xy * xy + dz * dz);
  const bool down = vertical && (std::isnan(dz) || dz < -1e-9), up = vertical && dz > 1e-9;
  const bool beside = sideways && (xy > 1e-9 || std::isnan(dx) || std::isnan(dy) || modal_.motion >= 2);
  if (modal_.motion == 0) out.move = RunMove::rapid;
  else if (down) out.move = beside ? RunMove::ramp : RunMove::plunge;
  else if (up && !beside) out.move = RunMove::retract;
  else out.move = RunMove::cut;
  at_ = to;
}

}  // namespace pecorra
