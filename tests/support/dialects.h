// Dialects for tests of the core: cycles, a changer, nothing that moves the machine by itself.
#pragma once

#include "core/program/program.h"

namespace test {

inline pecorra::Dialect without_cycles(pecorra::Dialect d = {}) {
  for (std::string* code :
       {&d.cycle_drill, &d.cycle_dwell, &d.cycle_peck, &d.cycle_chip_break, &d.cycle_feed_out, &d.cycle_feed_out_dwell,
        &d.cycle_bore, &d.cycle_back_bore, &d.cycle_tap, &d.cycle_tap_left})
    code->clear();
  return d;
}

inline pecorra::Dialect plain_dialect() {
  pecorra::Dialect d;
  d.program_letter = "O";
  d.before = "%\n{program} ({name})\n{unit} G90 G17 G40 G49 G80 G94\n";
  d.tool_change = "T{t} M6\n";
  d.length_offset = "G43 Z{z} H{h}";
  d.after = "M30\n%\n";
  d.greatest_arc_deg = 180;
  d.rigid_tapping = "M29 S{n}";
  d.flood = "M8", d.mist = "M7", d.coolant_off = "M9";
  d.cycle_drill = "G81", d.cycle_dwell = "G82", d.cycle_peck = "G83", d.cycle_chip_break = "G73";
  d.cycle_feed_out = "G85", d.cycle_feed_out_dwell = "G89", d.cycle_bore = "G76", d.cycle_back_bore = "G87";
  d.cycle_tap = "G84", d.cycle_tap_left = "G74";
  return d;
}

// With the cutter's own number as its T.
inline pecorra::ProgramOperation entry(const pecorra::Operation& o, const pecorra::Toolpath& path) {
  pecorra::ProgramOperation e{&o, &path};
  e.tool.t = o.cutter.number;
  e.tool.number = o.cutter.number;
  return e;
}

}  // namespace test
