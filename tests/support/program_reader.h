// A reader of ISO 6983 programs for the tests: shares no code with the writer. It knows words, modes, units and cycles,
// and gives back what the machine would do.
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
  double i = 0, j = 0;
  double feed = 0;
  double radius_start = 0, radius_end = 0;  // of arcs
  double bottom = 0, clear = 0, peck = 0;   // of holes
  int cycle = 0;
  bool returns_low = false;
  int tool = 0;
  double speed = 0;
  bool turning = false, coolant = false, reversed = false;
};

struct Reading {
  std::vector<Step> steps;
  std::vector<std::string> comments;
  bool inch = false;
  bool ended = false;
  int blocks = 0;
};

inline Reading read_program(const std::string& text) {
  Reading out;
  std::map<char, double> modal;
  double x = 0, y = 0, z = 0, feed = 0, speed = 0, bottom = 0, clear = 0, peck = 0;
  int motion = 0, cycle = 0, tool = 0, waiting_tool = 0;
  bool turning = false, coolant = false, absolute = false, per_minute = false, returns_low = false;
  bool s_reversed = false;
  std::size_t at = 0;
  while (at < text.size()) {
    std::size_t end = text.find('\n', at);
    if (end == std::string::npos) end = text.size();
    std::string line = text.substr(at, end - at);
    at = end + 1;
    ++out.blocks;
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
      std::size_t used = 0;
      const double value = std::stod(code.substr(k + 1), &used);
      k += 1 + used;
      if (letter == 'G') gs.push_back(static_cast<int>(value));
      else if (letter == 'M') ms.push_back(static_cast<int>(value));
      else if (!words.emplace(letter, value).second) throw std::runtime_error("word twice: " + line);
    }
    for (const int g : gs) {
      if (g >= 0 && g <= 3) motion = g, cycle = 0;
      else if (g == 20) out.inch = true;
      else if (g == 21) out.inch = false;
      else if (g == 90) absolute = true;
      else if (g == 94) per_minute = true;
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
      if (m == 7 || m == 8) coolant = true;
      if (m == 9) coolant = false;
      if (m == 6 || m == 0) {
        if (turning) throw std::runtime_error("cutter changed while the spindle turns: " + line);
        if (m == 6) tool = waiting_tool;
      }
      if (m == 30 || m == 2) out.ended = true;
    }
    take('F', feed);
    const bool moves = words.count('X') || words.count('Y') || words.count('Z');
    if (!moves) continue;
    if (!absolute || !per_minute) throw std::runtime_error("moves before G90 and G94: " + line);
    Step s;
    const double x0 = x, y0 = y;
    take('X', x);
    take('Y', y);
    if (cycle) {
      take('Z', bottom);
      take('R', clear);
      if (words.count('Q')) peck = words['Q'] * unit;
      if (cycle != 83 && cycle != 73) peck = 0;
      s.cycle = cycle;
      s.returns_low = returns_low;
      s.kind = 'd';
      s.bottom = bottom;
      s.clear = clear;
      s.peck = peck;
    } else {
      take('Z', z);
      s.kind = motion == 0 ? 'r' : motion == 1 ? 'l' : motion == 2 ? 'c' : 'a';
      if (motion >= 2) {
        s.i = words.count('I') ? words['I'] * unit : 0;
        s.j = words.count('J') ? words['J'] * unit : 0;
        s.radius_start = std::hypot(s.i, s.j);
        s.radius_end = std::hypot(x - x0 - s.i, y - y0 - s.j);
      }
    }
    if (s.kind != 'r' && (!turning || feed <= 0))
      throw std::runtime_error("cuts without turning or without feed: " + line);
    s.x = x, s.y = y, s.z = z;
    s.feed = s.kind == 'r' ? 0 : feed;
    s.tool = tool, s.speed = speed, s.turning = turning, s.coolant = coolant, s.reversed = s_reversed;
    out.steps.push_back(s);
  }
  return out;
}

}  // namespace test
