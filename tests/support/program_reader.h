// A reader of ISO 6983 programs for the tests: shares no code with the writer. It knows words, modes, units, planes,
// arcs by centre and radius, and cycles, and gives back what the machine would do.
#pragma once

#include <cctype>
#include <cmath>
#include <map>
#include <stdexcept>
#include <string>
#include <vector>

namespace test {

struct Step {
  char kind = 'r';  // r rapid, l line, c clockwise, a counter-clockwise arc, d drilled hole
  double x = 0, y = 0, z = 0;
  double i = 0, j = 0;  // from the start to the centre, in the order of the plane's axes
  int plane = 17;
  double feed = 0;
  double radius_start = 0, radius_end = 0;                 // of arcs
  double bottom = 0, clear = 0, peck = 0, first_peck = 0;  // of holes
  int cycle = 0;
  bool returns_low = false;
  int tool = 0;
  double speed = 0;
  bool turning = false, coolant = false, reversed = false;
  int offset = 0;  // work offset
  int line = 0;
};

struct Reading {
  std::vector<Step> steps;
  std::vector<std::string> comments;
  std::vector<std::string> calls;  // blocks that call a subprogram
  bool inch = false;
  bool ended = false;
  int blocks = 0;
  int retracts = 0;  // to a height of the machine
};

// How a control reads what differs between them.
struct Control {
  bool absolute_centres = false;
};

inline Reading read_program(const std::string& text, const Control& control = {}) {
  Reading out;
  double x = 0, y = 0, z = 0, feed = 0, speed = 0, bottom = 0, clear = 0, peck = 0, first_peck = 0;
  int motion = 0, cycle = 0, tool = 0, waiting_tool = 0, plane = 17, offset = 0;
  bool turning = false, coolant = false, absolute = false, per_minute = false, per_turn = false, returns_low = false;
  bool s_reversed = false;
  std::size_t at = 0;
  while (at < text.size()) {
    std::size_t end = text.find('\n', at);
    if (end == std::string::npos) end = text.size();
    std::string line = text.substr(at, end - at);
    at = end + 1;
    ++out.blocks;
    if (!line.empty() && line.back() == '\r') line.pop_back();
    for (const char c : line)
      if (static_cast<unsigned char>(c) > 126 || std::islower(static_cast<unsigned char>(c)))
        throw std::runtime_error("not upper-case ASCII: " + line);
    // Comments.
    std::string code;
    for (std::size_t k = 0; k < line.size();) {
      if (line[k] == '(') {
        const std::size_t close = line.find(')', k);
        if (close == std::string::npos) throw std::runtime_error("comment without end: " + line);
        out.comments.push_back(line.substr(k + 1, close - k - 1));
        k = close + 1;
      } else if (line[k] == ')') {
        throw std::runtime_error("bracket without beginning: " + line);
      } else {
        code += line[k++];
      }
    }
    if (code.empty() || code == "%") continue;
    std::map<char, double> words;
    std::vector<int> gs, ms;
    for (std::size_t k = 0; k < code.size();) {
      if (code[k] == ' ') {
        ++k;
        continue;
      }
      const char letter = code[k];
      if (!std::isupper(static_cast<unsigned char>(letter))) throw std::runtime_error("no word: " + line);
      // By hand: the library would take 0X1 for a hexadecimal number.
      const std::size_t from = ++k;
      if (k < code.size() && (code[k] == '-' || code[k] == '+')) ++k;
      while (k < code.size() && (std::isdigit(static_cast<unsigned char>(code[k])) || code[k] == '.')) ++k;
      const double value = std::stod(code.substr(from, k - from));
      if (letter == 'G') gs.push_back(static_cast<int>(value));
      else if (letter == 'M') ms.push_back(static_cast<int>(value));
      else if (!words.emplace(letter, value).second) throw std::runtime_error("word twice: " + line);
    }
    bool of_machine = false;
    for (const int g : gs) {
      if (g >= 0 && g <= 3) motion = g, cycle = 0;
      else if (g >= 17 && g <= 19) plane = g;
      else if (g == 20) out.inch = true;
      else if (g == 21) out.inch = false;
      else if (g == 28 || g == 53) of_machine = true;
      else if (g >= 54 && g <= 59) offset = g;
      else if (g == 90) absolute = true;
      else if (g == 91) absolute = false;
      else if (g == 94) per_minute = true, per_turn = false;
      else if (g == 95) per_turn = true;
      else if (g == 73 || g == 74 || g == 76 || (g >= 81 && g <= 89)) cycle = g;
      else if (g == 98 || g == 99) returns_low = g == 99;
      else if (g == 80) cycle = 0;
    }
    const double unit = out.inch ? 25.4 : 1;
    auto take = [&](char letter, double& value) {
      if (const auto found = words.find(letter); found != words.end()) value = found->second * unit;
    };
    if (const auto found = words.find('S'); found != words.end()) speed = found->second;
    if (const auto found = words.find('T'); found != words.end()) waiting_tool = static_cast<int>(found->second);
    for (const int m : ms) {
      if (m == 3 || m == 4) turning = true, s_reversed = m == 4;
      if (m == 5) turning = false;
      if (m == 7 || m == 8 || m == 50 || m == 51) coolant = true;
      if (m == 9) coolant = false;
      if (m == 98) out.calls.push_back(line);
      if (m == 6 || m == 0) {
        if (turning) throw std::runtime_error("cutter changed while the spindle turns: " + line);
        if (m == 6) tool = waiting_tool;
      }
      if (m == 30 || m == 2) out.ended = true;
    }
    if (!out.calls.empty() && out.calls.back() == line) continue;
    if (words.count('F')) feed = words['F'] * unit * (per_turn ? speed : 1);
    const bool moves = words.count('X') || words.count('Y') || words.count('Z');
    if (!moves) continue;
    if (of_machine) {
      ++out.retracts;
      z = 1e6;  // far above everything
      continue;
    }
    if (!absolute || !(per_minute || per_turn)) throw std::runtime_error("moves before G90 and G94: " + line);
    Step s;
    const double x0 = x, y0 = y, z0 = z;
    take('X', x);
    take('Y', y);
    if (cycle) {
      take('Z', bottom);
      take('R', clear);
      if (words.count('Q')) {
        peck = words['Q'] * unit;
        first_peck = words.count('I') ? words['I'] * unit : peck;
      }
      if (cycle != 83 && cycle != 73) peck = 0;
      s.cycle = cycle;
      s.returns_low = returns_low;
      s.kind = 'd';
      s.bottom = bottom;
      s.clear = clear;
      s.peck = peck;
      s.first_peck = first_peck;
    } else {
      take('Z', z);
      s.kind = motion == 0 ? 'r' : motion == 1 ? 'l' : motion == 2 ? 'c' : 'a';
      if (motion >= 2) {
        const double start[] = {x0, y0, z0}, ends[] = {x, y, z};
        const int a = plane == 17 ? 0 : plane == 18 ? 2 : 1, b = (a + 1) % 3;
        const char letters[] = {'I', 'J', 'K'};
        const auto centre = [&](int axis) {
          const auto found = words.find(letters[axis]);
          const double said = found == words.end() ? 0 : found->second * unit;
          return control.absolute_centres ? said - start[axis] : said;
        };
        if (words.count('R')) {
          // The shorter arc of the two; a negative radius means the longer. The centre of a short one that turns left
          // lies at the left of the chord.
          const double r = words['R'] * unit, dx = ends[a] - start[a], dy = ends[b] - start[b],
                       chord = std::hypot(dx, dy);
          if (chord <= 0) throw std::runtime_error("a circle by its radius: " + line);
          const double h = std::sqrt(std::max(0.0, r * r - chord * chord / 4)) * ((motion == 3) == (r > 0) ? 1 : -1);
          s.i = dx / 2 - dy / chord * h;
          s.j = dy / 2 + dx / chord * h;
        } else {
          s.i = centre(a);
          s.j = centre(b);
        }
        s.plane = plane;
        s.radius_start = std::hypot(s.i, s.j);
        s.radius_end = std::hypot(ends[a] - start[a] - s.i, ends[b] - start[b] - s.j);
      }
    }
    if (s.kind != 'r' && (!turning || feed <= 0))
      throw std::runtime_error("cuts without turning or without feed: " + line);
    s.x = x, s.y = y, s.z = z;
    s.feed = s.kind == 'r' ? 0 : feed;
    s.tool = tool, s.speed = speed, s.turning = turning, s.coolant = coolant, s.reversed = s_reversed;
    s.offset = offset;
    s.line = out.blocks;
    out.steps.push_back(s);
  }
  return out;
}

}  // namespace test
