// What holds in a program after a block of it: the functions that stay in force until others of their group come.
#pragma once

#include <optional>

#include "core/iso/program_text.h"
#include "core/motion/motion.h"

namespace pecorra {

enum class FeedMode : std::uint8_t { inverse_time, per_minute, per_turn };  // G93, G94, G95

struct ModalState {
  int motion = -1;  // G0 to G3; negative: none yet
  int cycle = 0;    // G73, G74, G76, G81 to G89; 0: none
  Plane plane = Plane::xy;
  bool inch = false, absolute = true, returns_low = false, constant_surface_speed = false;
  FeedMode feed_mode = FeedMode::per_minute;
  int work_offset = 0;       // 54 …; 0: none called
  int compensation = 40;     // 40, 41, 42
  int waiting_t = 0, t = 0;  // called, and in the spindle
  int spindle = 5;           // 3, 4, 5
  std::optional<double> s, f;
  bool coolant = false;
  bool ended = false;  // M2, M30

  // Takes a block's words. What deletable blocks say counts: they are usually not deleted.
  void apply(const ProgramText& program, std::size_t block);
};

}  // namespace pecorra
