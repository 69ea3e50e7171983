#include "core/program/program.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <set>
#include <utility>

#include "core/iso/block_writer.h"
#include "core/quantity/print.h"

namespace pecorra {
namespace {

using enum Quantity;
using std::numbers::pi;
using PointStyle = BlockWriter::Point;

// The text with what stands in braces filled in.
using Filling = std::initializer_list<std::pair<std::string_view, std::string_view>>;
std::string filled(const std::string& text, Filling values) {
  std::string out = text;
  for (const auto& [name, value] : values) {
    const std::string field = "{" + std::string(name) + "}";
    for (std::size_t at = out.find(field); at != std::string::npos; at = out.find(field, at + value.size()))
      out.replace(at, field.size(), value);
  }
  return out;
}

BlockStyle style_of(const Dialect& d) {
  BlockStyle style;
  style.blanks = d.blanks;
  style.leading_zero = d.leading_zero;
  style.two_digit_codes = d.two_digit_codes;
  style.upper_case = d.upper_case;
  style.line_end = d.line_end == LineEnd::crlf ? "\r\n" : "\n";
  style.block_letter = d.block_letter;
  style.block_first = d.block_first;
  style.block_step = d.block_step;
  style.block_last = d.block_last;
  style.comment_open = d.comment_open;
  style.comment_close = d.comment_close;
  style.longest_comment = d.longest_comment;
  return style;
}

// A place in steps of the last decimal.
struct StepPlace {
  std::int64_t x = 0, y = 0, z = 0;
};

class Writer {
 public:
  Writer(const ProgramHead& head, const Dialect& dialect)
      : head_(head),
        dialect_(dialect),
        inch_(head.units == UnitSystem::inch),
        decimals_(inch_ ? dialect.decimals_inch : dialect.decimals_mm),
        feed_decimals_(inch_ ? dialect.feed_decimals_inch : dialect.feed_decimals_mm),
        position_point_(static_cast<PointStyle>(dialect.position_point)),
        feed_point_(static_cast<PointStyle>(dialect.feed_point)),
        out_(style_of(dialect)) {}

  WrittenProgram run(const std::vector<ProgramOperation>& operations) {
    head(operations);
    for (std::size_t i = 0; i < operations.size(); ++i) {
      origin_.operation = static_cast<std::int32_t>(i);
      operation(operations, i);
      origin_.move = -1;
      settle();
    }
    origin_ = {};
    if (!operations.empty()) {
      stop_all();
      retract();
      check_breakage(operations.back().tool, true);
    }
    lines(filled(dialect_.after, {{"program", name_}}));
    settle();
    WrittenProgram written{out_.take(), std::move(origins_), {}};
    for (std::size_t i = 0; i < operations.size(); ++i)
      written.numbers.push_back(operations[i].number > 0 ? operations[i].number : static_cast<int>(i + 1));
    return written;
  }

 private:
  // Blocks written since belong to what is being written now.
  void settle() { origins_.resize(out_.blocks(), origin_); }
  void line(const std::string& text) {
    out_.word(text);
    out_.end();
  }
  void lines(const std::string& text) { out_.lines(text); }
  void comment(const std::string& text) { out_.comment(text); }

  void head(const std::vector<ProgramOperation>& operations) {
    name_ = program_name(dialect_, head_.number);
    // The name stands within a comment: as long as that may be.
    std::string name = comment_text(head_.job, dialect_.upper_case);
    if (dialect_.longest_comment > 0)
      name.resize(std::min(name.size(), static_cast<std::size_t>(dialect_.longest_comment)));
    const std::string before = filled(
        dialect_.before, {{"program", name_}, {"unit", inch_ ? dialect_.inch : dialect_.metric}, {"name", name}});
    // Tape mark, number and name come first, then what the operator reads, then the codes.
    std::size_t cut = 0;
    while (cut < before.size()) {
      const std::string_view rest = std::string_view(before).substr(cut);
      const bool is_head = rest.starts_with("%") || (!name_.empty() && rest.starts_with(name_)) ||
                           rest.starts_with(dialect_.comment_open);
      if (!is_head) break;
      cut = std::min(before.find('\n', cut), before.size() - 1) + 1;
    }
    out_.lines(std::string_view(before).substr(0, cut), false);
    if (!head_.shop.empty()) comment(head_.shop + "  " + head_.job);
    else comment(head_.job);
    if (!head_.setup.empty()) comment(head_.setup);
    if (!head_.revision.empty()) comment(head_.revision);
    comment(head_.material + "  " + head_.machine);
    if (!head_.hazard.empty()) comment(head_.hazard);
    comment(inch_ ? "LENGTHS IN INCHES" : "LENGTHS IN MM");
    std::set<int> listed;
    for (const ProgramOperation& o : operations)
      if (listed.insert(o.tool.t).second) comment(tool_text(*o.operation, o.tool));
    lines(before.substr(cut));
    settle();
  }

  std::string length_text(double mm) const { return shown_with_unit(mm, length, head_.units); }
  std::string tool_text(const Operation& o, const ProgramTool& tool) const {
    std::string text = fmt::format("T{} {}", tool.t, o.cutter.name);
    if (o.generic_cutter)
      text += "  GENERIC, NOT IN ANY LIBRARY" +
              (o.cutter.tool_material ? "  " + std::string(label_of(*o.cutter.tool_material)) : std::string());
    else if (tool.number > 0 && tool.number != tool.t) text += fmt::format("  NO {}", tool.number);
    if (const auto d = o.cutter.diameter_mm; d && o.cutter.name.find(plain(*d, 3)) == std::string::npos)
      text += "  Ø" + length_text(*d);
    if (const auto out = tool.stickout_mm ? tool.stickout_mm : o.stickout_mm)
      text += "  STICK-OUT " + length_text(*out) + (tool.measured ? " MEASURED" : "");
    if (!tool.holder.empty()) text += "  " + tool.holder;
    return text;
  }

  // What it does and where: its name, else the kind, the cutter's size and the features.
  std::string work_text(const Operation& o) const {
    std::string text = o.name;
    if (text.empty()) {
      text = std::string(label_of(o.path));
      if (o.cutter.diameter_mm) text += " " + length_text(*o.cutter.diameter_mm);
    }
    constexpr std::size_t most = 3;
    for (std::size_t i = 0; i < std::min(most, o.features.size()); ++i)
      if (const std::string key = comment_text(o.features[i].key, true);
          comment_text(text, true).find(key) == std::string::npos)
        text += (i == 0 ? "  " : ", ") + o.features[i].key;
    if (o.features.size() > most) text += fmt::format(" AND {} MORE", o.features.size() - most);
    return text;
  }

  // Of lengths in the program's unit.
  std::int64_t steps(double mm) const { return in_steps(inch_ ? mm / mm_per_inch : mm, decimals_); }
  double one_step() const { return std::pow(10, -decimals_); }
  std::string position(double mm) const {
    std::string text;
    BlockWriter::append_number(text, steps(mm), decimals_, position_point_, dialect_.leading_zero);
    return text;
  }
  void position(std::string_view letter, std::int64_t at) { out_.word(letter, at, decimals_, position_point_); }

  // Nothing turns and nothing flows.
  void stop_all() {
    if (coolant_ != Coolant::off) lines(dialect_.coolant_off);
    coolant_ = Coolant::off;
    if (spindle_ != 0) lines(dialect_.spindle_off);
    spindle_ = 0;
  }
  void retract() {
    lines(filled(dialect_.safe_retract, {{"plane", position(safe_z_)}}));
    forget();
  }
  // `behind`: its last cut; else before its first.
  void check_breakage(const ProgramTool& tool, bool behind) {
    const BreakageWhen when = dialect_.breakage_when;
    if (!tool.checks_breakage || t_ != tool.t || when == (behind ? BreakageWhen::before : BreakageWhen::after)) return;
    lines(filled(dialect_.check_breakage, {{"t", std::to_string(tool.t)},
                                           {"h", std::to_string(tool.t + dialect_.length_offset_add)},
                                           {"tolerance", position(tool.breakage_tolerance_mm)}}));
  }

  static double turning_of(const ProgramOperation& entry) {
    const double n = entry.path->start_rpm > 0 ? entry.path->start_rpm : *entry.operation->taken.n_rpm;
    return entry.operation->cutter.rotation == Rotation::clockwise ? n : -n;
  }
  // Of the values that were taken, whichever has this speed.
  std::optional<int> dial_position(double rpm) const {
    const Operation& o = *operation_;
    for (const TakenConditions* t : {&o.taken, &o.taken_slot, &o.taken_finish, &o.taken_floor})
      if (t->dial_position && t->n_rpm && std::abs(*t->n_rpm - rpm) < 0.5) return t->dial_position;
    return o.taken.dial_position;
  }
  void turn(double rpm) {
    if (rpm == spindle_) return;
    const auto dial = dial_position(std::abs(rpm));
    // Somebody turns the dial while nothing else turns.
    if (dial) {
      if (spindle_ != 0) lines(dialect_.spindle_off);
      comment(filled(dialect_.dial, {{"position", std::to_string(*dial)}, {"n", plain(std::abs(rpm), 0)}}));
      line("M0");
    }
    lines(filled(dialect_.spindle_on, {{"n", plain(std::abs(rpm), 0)},
                                       {"position", dial ? std::to_string(*dial) : plain(std::abs(rpm), 0)},
                                       {"m", rpm > 0 ? dialect_.clockwise : dialect_.counter_clockwise}}));
    spindle_ = rpm;
  }

  void operation(const std::vector<ProgramOperation>& all, std::size_t i) {
    const ProgramOperation& entry = all[i];
    const Operation& o = *entry.operation;
    const ProgramOperation* before = i > 0 ? &all[i - 1] : nullptr;
    const bool clamped_anew = before && before->setup.index != entry.setup.index, changes = entry.tool.t != t_;
    setup_ = &entry.setup;
    operation_ = &o;
    if (clamped_anew) {
      stop_all();
      retract();
      if (!entry.setup.name.empty()) comment("SETUP " + entry.setup.name);
      lines(dialect_.setup_stop);
    }
    comment(fmt::format("OP {} {}", entry.number > 0 ? entry.number : static_cast<int>(i + 1), work_text(o)));
    if (!o.comment.empty()) comment(o.comment);
    for (const std::string& warning : entry.warnings) comment("WARNING: " + warning);
    comment(tool_text(o, entry.tool));
    const char* mark = o.taken.proven ? "  PROVEN" : o.taken.guess ? "  GUESS" : "";
    comment(head_.material + "  " +
            (o.taken.source_text.empty() ? std::string(label_of(o.taken.source)) : o.taken.source_text) + mark);
    // What follows may move: the zero point has to be right, and the retract plane is this operation's.
    if (!before) safe_z_ = entry.path->safe_z - setup_->zero_z;
    const bool of_plane = dialect_.safe_retract.find("{plane}") != std::string::npos;
    if (of_plane) work_offset();
    if (changes || o.stop != ProgramStop::none) stop_all();
    if (!before || changes || o.stop != ProgramStop::none) {
      if (!clamped_anew) retract();
      if (before && changes) check_breakage(before->tool, true);
    }
    safe_z_ = entry.path->safe_z - setup_->zero_z;
    const bool starts_anew = !dialect_.operation_start.empty();
    if (starts_anew && before) {
      // All that the machine may have forgotten is said again.
      retract();
      lines(dialect_.operation_start);
      work_offset_.clear();
      coolant_ = Coolant::off;
      if (!o.taken.dial_position) spindle_ = 0;
      plane_ = Plane::xy;
    }
    if (o.stop == ProgramStop::optional) lines(dialect_.optional_stop.empty() ? "M1" : dialect_.optional_stop);
    if (o.stop == ProgramStop::always) lines("M0");
    if (changes) change(all, i);
    work_offset();
    turn(turning_of(entry));
    if (o.taken.coolant != coolant_) coolant(o.taken.coolant);
    forget();
    moves(*entry.path, changes || clamped_anew || o.stop != ProgramStop::none || !before || starts_anew);
  }

  void change(const std::vector<ProgramOperation>& all, std::size_t i) {
    const ProgramOperation& entry = all[i];
    const Operation& o = *entry.operation;
    const ProgramTool& tool = entry.tool;
    // The one that comes after this one; at the end the first again, so that the next part finds it.
    int next = all.front().tool.t;
    for (std::size_t k = i + 1; k < all.size(); ++k)
      if (all[k].tool.t != tool.t) {
        next = all[k].tool.t;
        break;
      }
    lines(filled(dialect_.tool_change, {{"t", std::to_string(tool.t)},
                                        {"next", std::to_string(next)},
                                        {"name", comment_text(o.cutter.name, dialect_.upper_case)}}));
    if (next != tool.t) lines(filled(dialect_.preselect, {{"next", std::to_string(next)}}));
    t_ = tool.t;
    if (!o.cutter.message.empty()) comment(o.cutter.message);
    const std::string t = std::to_string(tool.t), h = std::to_string(tool.t + dialect_.length_offset_add),
                      d = std::to_string(tool.t + dialect_.radius_offset_add);
    const bool first = std::none_of(all.begin(), all.begin() + static_cast<std::ptrdiff_t>(i),
                                    [&](const ProgramOperation& p) { return p.tool.t == tool.t; });
    const bool measures = first || dialect_.measure_when == MeasureWhen::every_change;
    if (measures && tool.measures_length)
      lines(filled(dialect_.measure_length, {{"t", t}, {"h", h}, {"tolerance", position(tool.length_tolerance_mm)}}));
    if (measures && tool.measures_radius)
      lines(filled(dialect_.measure_radius, {{"t", t}, {"d", d}, {"tolerance", position(tool.radius_tolerance_mm)}}));
    check_breakage(tool, false);
  }

  void coolant(Coolant wanted) {
    if (coolant_ != Coolant::off) lines(dialect_.coolant_off);
    coolant_ = wanted;
    if (wanted == Coolant::off) return;
    const std::string& code = dialect_.code_of(wanted);
    if (!code.empty()) return lines(code);
    comment(std::string(label_of(wanted)) + " BY HAND");
    coolant_ = Coolant::off;
  }

  void work_offset() {
    if (dialect_.first_work_offset.empty()) return;
    const std::string& wanted = setup_->work_offset.empty() ? dialect_.first_work_offset : setup_->work_offset;
    if (wanted == work_offset_) return;
    line(wanted);
    work_offset_ = wanted;
  }

  // `anew`: from where a safe retract left the spindle.
  void moves(const Toolpath& path, bool anew) {
    std::size_t event = 0, cycle = 0;
    const CycleCall* called = nullptr;  // the cycle that is on
    const auto end_cycle = [&] {
      if (called && !dialect_.cycle_off.empty()) line(dialect_.cycle_off);
      if (called && dialect_.hole_feed_per_turn) line(dialect_.per_minute);
      called = nullptr;
    };
    for (std::size_t i = 0; i < path.moves.size(); ++i) {
      settle();
      origin_.move = static_cast<std::int32_t>(i);
      for (; event < path.events.size() && path.events[event].before <= i; ++event) happens(path.events[event]);
      const bool at_call = cycle < path.cycles.size() && path.cycles[cycle].first == i;
      if (at_call && called_by_control(path.cycles[cycle])) {
        const CycleCall& call = path.cycles[cycle++];
        hole(call, called);
        called = &call;
        i += call.moves - 1;
        // What happens in it is the cycle's own.
        while (event < path.events.size() &&
               (path.events[event].before <= i ||
                (path.events[event].before == i + 1 && path.events[event].kind == MotionEvent::spindle_turns_again)))
          ++event;
        const Move& last = path.moves[i];
        forget();
        at_ = place_of(last);
        at_mm_ = {last.x, last.y, last.z};
        continue;
      }
      if (at_call) ++cycle;
      // The way to the next hole is in its block.
      const bool to_next = called && cycle < path.cycles.size() && path.cycles[cycle].first == i + 1 &&
                           called_by_control(path.cycles[cycle]);
      if (to_next && path.moves[i].is_rapid()) continue;
      end_cycle();
      move(path.moves[i], i == 0 ? (anew ? First::down : First::over) : First::no);
    }
    end_cycle();
  }

  bool called_by_control(const CycleCall& call) const {
    return !call.written_out() && !dialect_.code_of(call.kind, call.dwell_s > 0, call.left_hand).empty();
  }

  void happens(const MotionEvent& event) {
    const auto d = [&] { return std::to_string(t_ + dialect_.radius_offset_add); };
    switch (event.kind) {
      case MotionEvent::spindle_speed:
        if (operation_->taken.dial_position) {
          turn(std::copysign(event.value, spindle_));
          break;
        }
        out_.word("S", in_steps(event.value, 0), 0, PointStyle::where_needed);
        out_.end();
        spindle_ = std::copysign(event.value, spindle_);
        break;
      case MotionEvent::dwell:
        line(filled(dialect_.dwell, {{"s", plain(event.value, 2)}, {"ms", plain(event.value * 1000, 0)}}));
        break;
      case MotionEvent::compensate_left: compensation_ = filled(dialect_.compensation_left, {{"d", d()}}); break;
      case MotionEvent::compensate_right: compensation_ = filled(dialect_.compensation_right, {{"d", d()}}); break;
      case MotionEvent::compensate_off: compensation_ = dialect_.compensation_off; break;
      case MotionEvent::spindle_reverses: line(spindle_ > 0 ? dialect_.counter_clockwise : dialect_.clockwise); break;
      case MotionEvent::spindle_turns_again:
        line(spindle_ > 0 ? dialect_.clockwise : dialect_.counter_clockwise);
        break;
      case MotionEvent::spindle_stops_orientated: line(dialect_.orientated_stop); break;
    }
  }

  enum class First { no, over, down };

  struct Mm {
    double x = 0, y = 0, z = 0;
  };

  static std::array<double, 3> in_plane(Plane plane, double x, double y, double z) {
    return plane == Plane::xy ? std::array{x, y, z} : plane == Plane::zx ? std::array{z, x, y} : std::array{y, z, x};
  }
  static void put_in_plane(Move& m, double a, double b, double c) {
    if (m.plane == Plane::xy) m.x = a, m.y = b, m.z = c;
    else if (m.plane == Plane::zx) m.z = a, m.x = b, m.y = c;
    else m.y = a, m.z = b, m.x = c;
  }

  // In as many blocks as the control needs for it.
  void move(const Move& given, First first) {
    const Mm from = at_mm_;
    at_mm_ = {given.x, given.y, given.z};
    if (given.shape == MoveShape::line) return block(given, first);
    const auto [a0, b0, c0] = in_plane(given.plane, from.x, from.y, from.z);
    const auto [a1, b1, c1] = in_plane(given.plane, given.x, given.y, given.z);
    const double r = std::hypot(a0 - given.centre_x, b0 - given.centre_y),
                 start = std::atan2(b0 - given.centre_y, a0 - given.centre_x);
    double swept = std::atan2(b1 - given.centre_y, a1 - given.centre_x) - start;
    const bool left = given.shape == MoveShape::counter_clockwise;
    if (left && swept <= 1e-9) swept += 2 * pi;
    if (!left && swept >= -1e-9) swept -= 2 * pi;
    swept += (left ? 2 : -2) * pi * given.turns;
    const bool rises = std::abs(c1 - c0) > 1e-9;
    const bool as_lines = dialect_.arcs == ArcForm::none || (rises && !dialect_.helices) ||
                          (given.plane != Plane::xy && !dialect_.other_planes);
    // By its radius, an arc of half a circle and more could be two.
    const double most = as_lines ? 2 * std::acos(std::max(0.0, 1 - dialect_.chord_mm / std::max(r, dialect_.chord_mm)))
                        : dialect_.arcs == ArcForm::radius ? std::min(dialect_.greatest_arc_deg, 170.0) * pi / 180
                                                           : dialect_.greatest_arc_deg * pi / 180;
    const int parts = std::max(1, static_cast<int>(std::ceil(std::abs(swept) / most - 1e-6)));
    for (int i = 1; i <= parts; ++i) {
      Move part = given;
      part.turns = 0;
      if (as_lines) part.shape = MoveShape::line;
      if (i < parts) {
        const double angle = start + swept * i / parts;
        put_in_plane(part, given.centre_x + r * std::cos(angle), given.centre_y + r * std::sin(angle),
                     c0 + (c1 - c0) * i / parts);
      }
      block(part, i == 1 ? first : First::no, std::abs(swept) / parts);
    }
  }

  StepPlace place_of(const Move& m) const {
    return {steps(m.x - setup_->zero_x), steps(m.y - setup_->zero_y), steps(m.z - setup_->zero_z)};
  }

  void motion(int g) {
    if (g == motion_) return;
    motion_ = g;
    out_.code('G', g);
  }

  // `swept`: of an arc.
  void block(const Move& m, First first, double swept = 0) {
    const StepPlace to = place_of(m);
    const bool rapid = m.is_rapid();
    if (first != First::no) return approach(m, to, first);
    const bool same_place = to.x == at_.x && to.y == at_.y && to.z == at_.z;
    // An arc too small for the decimals; a full circle is not.
    const bool line = m.shape == MoveShape::line || (same_place && swept < pi);
    if (line && same_place && compensation_.empty()) {
      // Nothing to move; its feed is said with the next.
      known_ = true;
      return;
    }
    if (!line && m.plane != plane_) {
      out_.code('G', m.plane == Plane::xy ? 17 : m.plane == Plane::zx ? 18 : 19);
      plane_ = m.plane;
    }
    motion(rapid ? 0 : line ? 1 : m.shape == MoveShape::clockwise ? 2 : 3);
    if (!known_ || !line || to.x != at_.x) position("X", to.x);
    if (!known_ || !line || to.y != at_.y) position("Y", to.y);
    if (!known_ || to.z != at_.z || (!line && m.plane != Plane::xy)) position("Z", to.z);
    if (!line) centre(m, to, swept);
    if (!compensation_.empty()) {
      out_.word(compensation_);
      compensation_.clear();
    }
    if (!rapid) feed(m);
    out_.end();
    known_ = true;
    at_ = to;
  }

  // To where a path begins: over there first and then down; where no length offset brings the tip down from the
  // machine's own height, up first.
  void approach(const Move& m, const StepPlace& to, First first) {
    motion(0);
    const bool offset = !dialect_.length_offset.empty();
    if (first == First::down && !offset) {
      position("Z", to.z);
      out_.end();
    }
    position("X", to.x);
    position("Y", to.y);
    out_.end();
    if (offset)
      lines(filled(dialect_.length_offset,
                   {{"z", position(m.z - setup_->zero_z)}, {"h", std::to_string(t_ + dialect_.length_offset_add)}}));
    else if (first == First::over) {
      position("Z", to.z);
      out_.end();
    }
    known_ = true;
    at_ = to;
  }

  // The centre is said from the rounded start, and lies so that both radii agree as well as the decimals allow.
  void centre(const Move& m, const StepPlace& to, double swept) {
    const auto [zero_a, zero_b, unused] = in_plane(m.plane, setup_->zero_x, setup_->zero_y, setup_->zero_z);
    const std::array<std::int64_t, 3> from3{at_.x, at_.y, at_.z}, to3{to.x, to.y, to.z};
    const std::size_t a = m.plane == Plane::xy ? 0 : m.plane == Plane::zx ? 2 : 1, b = (a + 1) % 3;
    const double exact_a = (m.centre_x - zero_a) / (inch_ ? mm_per_inch : 1) / one_step(),
                 exact_b = (m.centre_y - zero_b) / (inch_ ? mm_per_inch : 1) / one_step();
    if (dialect_.arcs == ArcForm::radius) {
      const double r = (std::hypot(static_cast<double>(from3[a]) - exact_a, static_cast<double>(from3[b]) - exact_b) +
                        std::hypot(static_cast<double>(to3[a]) - exact_a, static_cast<double>(to3[b]) - exact_b)) /
                       2;
      // Never shorter than half the chord.
      const double chord = std::hypot(static_cast<double>(to3[a] - from3[a]), static_cast<double>(to3[b] - from3[b]));
      const auto rounded =
          std::max(static_cast<std::int64_t>(std::llround(r)), static_cast<std::int64_t>(std::ceil(chord / 2 - 1e-9)));
      return position("R", swept > pi ? -rounded : rounded);
    }
    std::int64_t best_a = std::llround(exact_a), best_b = std::llround(exact_b);
    const auto mismatch = [&](std::int64_t ca, std::int64_t cb) {
      return std::abs(std::hypot(static_cast<double>(from3[a] - ca), static_cast<double>(from3[b] - cb)) -
                      std::hypot(static_cast<double>(to3[a] - ca), static_cast<double>(to3[b] - cb)));
    };
    double best = mismatch(best_a, best_b);
    if (best > 0.5) {
      const std::int64_t near_a = best_a, near_b = best_b;
      for (int i = -1; i <= 1; ++i)
        for (int k = -1; k <= 1; ++k) {
          const double here =
              mismatch(near_a + i, near_b + k) +
              0.2 * std::hypot(static_cast<double>(near_a + i) - exact_a, static_cast<double>(near_b + k) - exact_b);
          if (here < best) best = here, best_a = near_a + i, best_b = near_b + k;
        }
    }
    const bool absolute = dialect_.arcs == ArcForm::absolute;
    static constexpr std::string_view letters[] = {"I", "J", "K"};
    // In the order of the axes.
    const std::int64_t said_a = absolute ? best_a : best_a - from3[a], said_b = absolute ? best_b : best_b - from3[b];
    position(letters[std::min(a, b)], a < b ? said_a : said_b);
    position(letters[std::max(a, b)], a < b ? said_b : said_a);
  }

  // Exactly: pitch times speed of a tap, which no rounding may put out of step; the feed of one revolution.
  enum class Exactly { no, per_minute, per_turn };
  void feed_word(double mm_min, Exactly exactly = Exactly::no) {
    const int decimals = exactly == Exactly::no ? feed_decimals_ : exactly == Exactly::per_turn && inch_ ? 6 : 4;
    const std::int64_t steps = in_steps(inch_ ? mm_min / mm_per_inch : mm_min, decimals);
    if (steps == feed_ && decimals == decimals_of_feed_) return;
    feed_ = steps;
    decimals_of_feed_ = decimals;
    out_.word("F", steps, decimals, feed_point_);
  }
  void feed(const Move& m) {
    const bool taps = m.kind == MoveKind::cycle && process_of(operation_->operation) == Process::tapping;
    feed_word(m.feed_mm_min, taps ? Exactly::per_minute : Exactly::no);
  }

  // The place alone where the same cycle is still on.
  void hole(const CycleCall& call, const CycleCall* called) {
    // Back boring always ends where it began.
    const bool low =
        call.kind != CycleKind::back_bore && call.return_z <= call.retract_z && !dialect_.return_low.empty();
    const std::string& returns = low ? dialect_.return_low : dialect_.return_high;
    const auto place = [&] {
      position("X", steps(call.at.x - setup_->zero_x));
      position("Y", steps(call.at.y - setup_->zero_y));
    };
    if (called && called->same_as(call) && dialect_.repeat_on_positions) {
      if (low != returns_low_) out_.word(returns);
      place();
      out_.end();
      returns_low_ = low;
      return;
    }
    if (call.kind == CycleKind::tap && !(called && called->same_as(call)))
      lines(filled(call.floating ? dialect_.floating_tapping : dialect_.rigid_tapping,
                   {{"n", plain(*operation_->taken.n_rpm, 0)}}));
    if (dialect_.hole_feed_per_turn && !called) line(dialect_.per_turn);
    out_.word(returns);
    out_.word(dialect_.code_of(call.kind, call.dwell_s > 0, call.left_hand));
    place();
    position("Z", steps(call.bottom_z - setup_->zero_z));
    position("R", steps(call.retract_z - setup_->zero_z));
    if (call.kind == CycleKind::peck || call.kind == CycleKind::chip_break)
      position(dialect_.peck_word, steps(call.peck_mm));
    if (call.first_peck_mm > 0) position(dialect_.first_peck_word, steps(call.first_peck_mm));
    if (call.shift_mm > 0) position("Q", steps(call.shift_mm));
    if (call.dwell_s > 0) {
      if (dialect_.dwell_in_ms)
        out_.word(dialect_.dwell_word, in_steps(call.dwell_s * 1000, 0), 0, PointStyle::where_needed);
      else out_.word(dialect_.dwell_word, in_steps(call.dwell_s, 2), 2, position_point_);
    }
    feed_ = -1;
    const double n = *operation_->taken.n_rpm;
    if (dialect_.hole_feed_per_turn && n > 0) feed_word(call.feed_mm_min / n, Exactly::per_turn);
    else feed_word(call.feed_mm_min, call.kind == CycleKind::tap ? Exactly::per_minute : Exactly::no);
    feed_ = -1;
    out_.end();
    motion_ = -1;
    returns_low_ = low;
  }

  void forget() {
    motion_ = -1;
    feed_ = -1;
    known_ = false;
  }

  const ProgramHead& head_;
  const Dialect& dialect_;
  bool inch_;
  int decimals_, feed_decimals_;
  PointStyle position_point_, feed_point_;
  BlockWriter out_;
  std::vector<BlockOrigin> origins_;
  BlockOrigin origin_;
  std::string name_;
  int t_ = 0;
  double spindle_ = 0;  // negative: counter-clockwise
  Coolant coolant_ = Coolant::off;
  Plane plane_ = Plane::xy;
  int motion_ = -1, decimals_of_feed_ = 0;
  std::int64_t feed_ = -1;
  bool known_ = false;  // where the axes are
  StepPlace at_;
  Mm at_mm_;
  double safe_z_ = 0;
  bool returns_low_ = false;
  const ProgramSetup* setup_ = nullptr;
  const Operation* operation_ = nullptr;
  std::string work_offset_, compensation_;
};

}  // namespace

std::string program_name(const Dialect& dialect, int number) {
  if (dialect.program_letter.empty()) return {};
  const int span = dialect.program_last - dialect.program_first + 1;
  int within = number < dialect.program_first || span < 1 ? dialect.program_first : number;
  if (within > dialect.program_last && span > 0)
    within = dialect.program_first + (number - dialect.program_first) % span;
  return fmt::format("{}{:0{}}", dialect.program_letter, within, dialect.program_digits);
}

WrittenProgram write_program(const ProgramHead& head, const std::vector<ProgramOperation>& operations,
                             const Dialect& dialect) {
  return Writer(head, dialect).run(operations);
}

}  // namespace pecorra
