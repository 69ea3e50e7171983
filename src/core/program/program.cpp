#include "core/program/program.h"

#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <set>

#include "core/quantity/print.h"

namespace pecorra {
namespace {

using enum Quantity;

constexpr std::array dialect_list{
    field<&Dialect::key>("key", "", "Key", text, ""),
    field<&Dialect::label>("label", "", "Name", text, ""),
    field<&Dialect::before>("before", "", "Start of program", text, ""),
    field<&Dialect::tool_change>("tool_change", "", "Cutter change", text, ""),
    field<&Dialect::after>("after", "", "End of program", text, ""),
    field<&Dialect::length_offset>("length_offset", "", "Length offset", flag, ""),
    field<&Dialect::cycles>("cycles", "", "Drilling cycles", flag, ""),
    field<&Dialect::rigid_tapping>("rigid_tapping", "", "Rigid tapping", text, "{n} is the speed"),
    field<&Dialect::orientated_stop>("orientated_stop", "", "Orientated spindle stop", text, ""),
    field<&Dialect::flood>("flood", "", "Flood on", text, ""),
    field<&Dialect::mist>("mist", "", "Mist on", text, ""),
    field<&Dialect::mist_oil>("mist_oil", "", "Oil mist on", text, ""),
    field<&Dialect::air>("air", "", "Air on", text, ""),
    field<&Dialect::through_liquid>("through_liquid", "", "Liquid through the spindle on", text, ""),
    field<&Dialect::through_air>("through_air", "", "Air through the spindle on", text, ""),
    field<&Dialect::coolant_off>("coolant_off", "", "Coolant off", text, "")};

std::string replaced(std::string text, std::string_view what, const std::string& with) {
  for (std::size_t at = text.find(what); at != std::string::npos; at = text.find(what, at + with.size()))
    text.replace(at, what.size(), with);
  return text;
}

// The number of a word: no trailing zeros, always with a point, as controls read "5" and "5." differently.
std::string word_number(double value, int decimals) {
  std::string text = fmt::format("{:.{}f}", value, decimals);
  text.erase(text.find_last_not_of('0') + 1);
  if (text == "-0.") text = "0.";
  return text;
}

class Writer {
 public:
  Writer(const ProgramHead& head, const Dialect& dialect)
      : head_(head), dialect_(dialect), inch_(head.units == UnitSystem::inch) {}

  std::string run(const std::vector<ProgramOperation>& operations, const std::vector<int>& numbers) {
    lines(replaced(replaced(dialect_.before, "{unit}", inch_ ? "G20" : "G21"), "{name}", comment_text(head_.job)));
    comment(head_.job + "  " + head_.material + "  " + head_.machine);
    if (!head_.hazard.empty()) comment(head_.hazard);
    comment(inch_ ? "LENGTHS IN INCHES" : "LENGTHS IN MM");
    std::set<int> listed;
    for (std::size_t i = 0; i < operations.size(); ++i)
      if (listed.insert(numbers[i]).second) comment(tool_text(*operations[i].operation, numbers[i]));
    for (std::size_t i = 0; i < operations.size(); ++i) operation(operations[i], static_cast<int>(i + 1), numbers[i]);
    if (coolant_ != Coolant::off) line(dialect_.coolant_off);
    if (tool_ > 0) line("M5");
    lines(dialect_.after);
    return std::move(out_);
  }

 private:
  void line(const std::string& text) {
    if (!text.empty()) out_ += text + "\n";
  }
  void lines(const std::string& text) {
    if (!text.empty()) out_ += text + (text.back() == '\n' ? "" : "\n");
  }
  void comment(const std::string& text) { line("(" + comment_text(text) + ")"); }

  std::string tool_text(const Operation& o, int number) const {
    std::string text = fmt::format("T{} {}", number, o.cutter.name);
    if (o.stickout_mm) text += "  STICK-OUT " + shown_with_unit(*o.stickout_mm, length, head_.units);
    return text;
  }
  std::string code(Coolant coolant) const {
    switch (coolant) {
      case Coolant::flood: return dialect_.flood;
      case Coolant::mist: return dialect_.mist;
      case Coolant::mist_oil: return dialect_.mist_oil;
      case Coolant::air: return dialect_.air;
      case Coolant::through_liquid: return dialect_.through_liquid;
      case Coolant::through_air: return dialect_.through_air;
      case Coolant::off: break;
    }
    return {};
  }

  std::string position(double mm) const { return inch_ ? word_number(mm / mm_per_inch, 4) : word_number(mm, 3); }
  // Of a tap: pitch times speed, not rounded to a step.
  std::string exact_feed(double mm_min) const {
    return inch_ ? word_number(mm_min / mm_per_inch, 4) : plain(mm_min, 3);
  }
  std::string feed(double mm_min) const { return inch_ ? word_number(mm_min / mm_per_inch, 2) : plain(mm_min, 1); }

  static double turning_of(const Operation& o) {
    return o.cutter.rotation == Rotation::clockwise ? *o.taken.n_rpm : -*o.taken.n_rpm;
  }
  bool turning_speed_changes(const Operation& o) const { return turning_of(o) != spindle_; }

  void operation(const ProgramOperation& entry, int index, int t) {
    const Operation& o = *entry.operation;
    comment(fmt::format("OP {} {}", entry.number > 0 ? entry.number : index, o.name));
    comment(fmt::format("{}  {}", tool_text(o, t), o.taken.source_text));
    if (t != tool_) {
      if (coolant_ != Coolant::off) line(dialect_.coolant_off);
      if (tool_ > 0) line("M5");
      lines(replaced(replaced(dialect_.tool_change, "{t}", std::to_string(t)), "{name}", comment_text(o.cutter.name)));
      if (!o.cutter.message.empty()) comment(o.cutter.message);
      tool_ = t;
      spindle_ = 0;
      coolant_ = Coolant::off;
    }
    if (o.taken.dial_position && turning_speed_changes(o))
      comment(fmt::format("DIAL POSITION {} = {} RPM", *o.taken.dial_position, plain(*o.taken.n_rpm, 0)));
    const double turning = turning_of(o);
    if (turning != spindle_) {
      line("S" + plain(*o.taken.n_rpm, 0) + (turning > 0 ? " M3" : " M4"));
      spindle_ = turning;
    }
    if (o.taken.coolant != coolant_) {
      line(o.taken.coolant == Coolant::off ? dialect_.coolant_off : code(o.taken.coolant));
      coolant_ = o.taken.coolant;
    }
    forget();
    zero_ = &entry;
    if (!entry.work_offset.empty() && entry.work_offset != work_offset_) {
      line(entry.work_offset);
      work_offset_ = entry.work_offset;
    }
    path_operation_ = &o;
    moves(*entry.path, t);
  }

  void moves(const Toolpath& path, int t) {
    std::size_t event = 0, cycle = 0;
    const CycleCall* called = nullptr;  // the cycle that is on
    const auto end_cycle = [&] {
      if (called) line("G80");
      called = nullptr;
    };
    for (std::size_t i = 0; i < path.moves.size(); ++i) {
      for (; event < path.events.size() && path.events[event].before <= i; ++event) happens(path.events[event], t);
      const bool is_call = dialect_.cycles && cycle < path.cycles.size() && path.cycles[cycle].first == i;
      if (is_call) {
        const CycleCall& call = path.cycles[cycle++];
        drill(call, called && called->same_as(call), *path_operation_);
        called = &call;
        i += call.moves - 1;
        // What happens in it is the cycle's own.
        while (event < path.events.size() &&
               (path.events[event].before <= i ||
                (path.events[event].before == i + 1 && path.events[event].kind == MotionEvent::spindle_turns_again)))
          ++event;
        const Move& last = path.moves[i];
        forget();
        at_x_ = last.x - zero_->zero_x, at_y_ = last.y - zero_->zero_y, at_z_ = last.z - zero_->zero_z;
        continue;
      }
      // The way to the next hole is in its block.
      const bool to_next = called && cycle < path.cycles.size() && path.cycles[cycle].first == i + 1;
      if (to_next && path.moves[i].is_rapid()) continue;
      if (called) end_cycle();
      move(path.moves[i], i == 0, t);
    }
    end_cycle();
  }

  void happens(const MotionEvent& event, int t) {
    switch (event.kind) {
      case MotionEvent::spindle_speed:
        line("S" + plain(event.value, 0));
        spindle_ = std::copysign(event.value, spindle_);
        break;
      case MotionEvent::dwell: line("G4 P" + plain(event.value, 2)); break;
      case MotionEvent::compensate_left: compensation_ = fmt::format(" G41 D{}", t); break;
      case MotionEvent::compensate_right: compensation_ = fmt::format(" G42 D{}", t); break;
      case MotionEvent::compensate_off: compensation_ = " G40"; break;
      case MotionEvent::spindle_reverses: line(spindle_ > 0 ? "M4" : "M3"); break;
      case MotionEvent::spindle_turns_again: line(spindle_ > 0 ? "M3" : "M4"); break;
      case MotionEvent::spindle_stops_orientated: line(dialect_.orientated_stop); break;
    }
  }

  // More than three quarters of a circle, and turns of a helix, as halves: the ends of shorter arcs leave no doubt.
  void move(const Move& given, bool first, int t) {
    const double from_x = at_x_ + zero_->zero_x, from_y = at_y_ + zero_->zero_y, from_z = at_z_ + zero_->zero_z,
                 swept = swept_rad(from_x, from_y, given);
    constexpr double pi = std::numbers::pi;
    if (std::abs(swept) <= 1.5 * pi) return block(given, first, t);
    const int parts = static_cast<int>(std::ceil(std::abs(swept) / pi - 1e-6));
    const double r = std::hypot(from_x - given.centre_x, from_y - given.centre_y),
                 start = std::atan2(from_y - given.centre_y, from_x - given.centre_x);
    for (int i = 1; i <= parts; ++i) {
      Move part = given;
      part.turns = 0;
      part.z = from_z + (given.z - from_z) * i / parts;
      if (i < parts) {
        const double angle = start + swept * i / parts;
        part.x = given.centre_x + r * std::cos(angle);
        part.y = given.centre_y + r * std::sin(angle);
      }
      block(part, first && i == 1, t);
    }
  }

  void block(const Move& given, bool first, int t) {
    Move m = given;
    m.x -= zero_->zero_x, m.y -= zero_->zero_y, m.z -= zero_->zero_z;
    m.centre_x -= zero_->zero_x, m.centre_y -= zero_->zero_y;
    const bool rapid = m.is_rapid();
    std::string text = rapid                        ? mode("G0")
                       : m.shape == MoveShape::line ? mode("G1")
                                                    : mode(m.shape == MoveShape::clockwise ? "G2" : "G3");
    const std::string x = position(m.x), y = position(m.y), z = position(m.z);
    if (m.shape != MoveShape::line) {
      // The centre is written from the rounded start, so that both radii agree on the control.
      text += " X" + x + " Y" + y + " I" + position(m.centre_x - at_x_) + " J" + position(m.centre_y - at_y_);
      if (z != z_) text += " Z" + z;
    } else {
      if (first) {  // in the plane first, then down with the length offset
        line(text + " X" + x + " Y" + y);
        text = dialect_.length_offset ? fmt::format("G43 Z{} H{}", z, t) : "Z" + z;
      } else {
        if (x != x_) text += " X" + x;
        if (y != y_) text += " Y" + y;
        if (z != z_) text += " Z" + z;
      }
    }
    text += compensation_;
    compensation_.clear();
    if (!rapid) {
      const bool taps = m.kind == MoveKind::cycle && process_of(path_operation_->operation) == Process::tapping;
      const std::string f = taps ? exact_feed(m.feed_mm_min) : feed(m.feed_mm_min);
      if (f != feed_) text += " F" + f;
      feed_ = f;
    }
    line(text.substr(text.find_first_not_of(' ') == std::string::npos ? text.size() : text.find_first_not_of(' ')));
    x_ = x, y_ = y, z_ = z;
    at_x_ = m.x, at_y_ = m.y, at_z_ = m.z;
  }

  static const char* code_of(const CycleCall& call) {
    switch (call.kind) {
      case CycleKind::drill: return call.dwell_s > 0 ? "G82" : "G81";
      case CycleKind::peck: return "G83";
      case CycleKind::chip_break: return "G73";
      case CycleKind::feed_out: return call.dwell_s > 0 ? "G89" : "G85";
      case CycleKind::bore: return "G76";
      case CycleKind::back_bore: return "G87";
      case CycleKind::tap: return call.left_hand ? "G74" : "G84";
    }
    return "G81";
  }

  // The position alone where the same cycle is still on.
  void drill(const CycleCall& call, bool again, const Operation& o) {
    std::string text = "X" + position(call.at.x - zero_->zero_x) + " Y" + position(call.at.y - zero_->zero_y);
    // Back boring always ends where it began.
    const bool low = call.kind != CycleKind::back_bore && call.return_z <= call.retract_z;
    const std::string returns = low ? "G99 " : "G98 ";
    if (again) {
      line((low == returns_low_ ? "" : returns) + text);
    } else {
      if (call.kind == CycleKind::tap && !call.floating)
        lines(replaced(dialect_.rigid_tapping, "{n}", plain(*o.taken.n_rpm, 0)));
      text = fmt::format("{}{} {} Z{} R{}", returns, code_of(call), text, position(call.bottom_z - zero_->zero_z),
                         position(call.retract_z - zero_->zero_z));
      const bool pecks = call.kind == CycleKind::peck || call.kind == CycleKind::chip_break;
      if (pecks) text += " Q" + position(call.peck_mm);
      if (call.shift_mm > 0) text += " Q" + position(call.shift_mm);
      if (call.dwell_s > 0) text += " P" + plain(call.dwell_s * 1000, 0);
      text += " F" + (call.kind == CycleKind::tap ? exact_feed(call.feed_mm_min) : feed(call.feed_mm_min));
      line(text);
    }
    returns_low_ = low;
  }

  std::string mode(const std::string& g) {
    if (g == mode_) return {};
    mode_ = g;
    return g;
  }
  void forget() { mode_ = x_ = y_ = z_ = feed_ = ""; }

  const ProgramHead& head_;
  const Dialect& dialect_;
  bool inch_;
  std::string out_;
  int tool_ = 0;
  double spindle_ = 0;  // negative: counter-clockwise
  Coolant coolant_ = Coolant::off;
  std::string mode_, x_, y_, z_, feed_;
  double at_x_ = 0, at_y_ = 0, at_z_ = 0;
  bool returns_low_ = false;
  const ProgramOperation* zero_ = nullptr;
  const Operation* path_operation_ = nullptr;
  std::string work_offset_, compensation_;
};

}  // namespace

template <>
std::span<const Property<Dialect>> properties<Dialect>() {
  return dialect_list;
}

std::string comment_text(const std::string& text) {
  static constexpr std::pair<std::string_view, std::string_view> known[] = {
      {"Ø", "D"},  {"×", "X"},  {"°", " DEG"}, {"″", "IN"}, {"\"", "IN"}, {"–", "-"}, {"ä", "AE"}, {"ö", "OE"},
      {"ü", "UE"}, {"Ä", "AE"}, {"Ö", "OE"},   {"Ü", "UE"}, {"ß", "SS"},  {"é", "E"}, {"è", "E"}};
  std::string out;
  for (std::size_t i = 0; i < text.size();) {
    bool found = false;
    for (const auto& [from, to] : known)
      if (text.compare(i, from.size(), from) == 0) {
        out += to;
        i += from.size();
        found = true;
        break;
      }
    if (found) continue;
    const unsigned char c = static_cast<unsigned char>(text[i++]);
    if (c >= 'a' && c <= 'z') out += static_cast<char>(c - 32);
    else if (c == '(' || c == ')' || c < 32 || c == '%' || c == ';') out += ' ';
    else if (c < 127) out += static_cast<char>(c);
    else if ((c & 0xC0) == 0xC0) out += ' ';  // one blank for a whole character
  }
  return out;
}

std::vector<int> tool_numbers(const std::vector<Operation>& operations) {
  std::vector<int> numbers;
  std::vector<std::pair<Id, int>> taken;
  auto used = [&](int n) {
    return std::any_of(taken.begin(), taken.end(), [n](const auto& p) { return p.second == n; });
  };
  for (const Operation& o : operations) {
    const auto known = std::find_if(taken.begin(), taken.end(), [&](const auto& p) { return p.first == o.cutter.id; });
    int n = known != taken.end() ? known->second : o.tool_number.value_or(o.cutter.number);
    if (known == taken.end()) {
      if (n < 1 || used(n)) {
        n = 1;
        while (used(n)) ++n;
      }
      taken.emplace_back(o.cutter.id, n);
    }
    numbers.push_back(n);
  }
  return numbers;
}

std::string write_program(const ProgramHead& head, const std::vector<ProgramOperation>& operations,
                          const Dialect& dialect) {
  std::vector<Operation> order;  // the numbers follow the order of the operations written
  for (const ProgramOperation& entry : operations) order.push_back(*entry.operation);
  return Writer(head, dialect).run(operations, tool_numbers(order));
}

}  // namespace pecorra
