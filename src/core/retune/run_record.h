// What a program does, remembered while it is read, so that it is retuned without being run a second time. 24 bytes a
// block; lengths are rounded to what a float holds.
#pragma once

#include <cstdint>
#include <map>
#include <optional>
#include <vector>

#include "core/retune/program_run.h"

namespace pecorra {

class RunRecord {
 public:
  // What holds for many blocks.
  struct Setting {
    int section = -1, tool = 0, depth = 0, subprogram = 0;
    FeedMode feed_mode = FeedMode::per_minute;
    bool inch = false, constant_surface_speed = false;
    int spindle = 5, compensation = 40;
    double feed_unit_mm() const { return inch ? 25.4 : 1.0; }
    bool operator==(const Setting&) const = default;
  };
  void add(const ProgramText& program, const ProgramRun& run, const RunBlock& b);
  // A plunge that turned out to be through air.
  void mark_in_air(std::size_t step);

  std::size_t size() const { return steps_.size(); }
  std::size_t block(std::size_t step) const { return steps_[step].block; }
  const Setting& setting(std::size_t step) const { return settings_[steps_[step].setting]; }
  // As it was run, but for where it is: of an arc its radius, of a plunge its end's height.
  RunBlock at(const ProgramText& program, std::size_t step) const;
  std::size_t main_end() const { return main_end_; }

 private:
  struct Step {
    std::uint32_t block = 0, setting = 0;
    float length = 0, extra = 0;
    std::int16_t s_piece = -1, f_piece = -1;
    std::uint16_t flags = 0;
  };
  std::vector<Step> steps_;
  std::vector<Setting> settings_;
  // Of steps whose S and F do not stand in the block as numbers, or stand behind more pieces than a step can count.
  struct Aside {
    int s_piece = -1, f_piece = -1;
    std::optional<double> s, f;
  };
  std::map<std::size_t, Aside> aside_;
  std::size_t main_end_ = 0;
};

}  // namespace pecorra
