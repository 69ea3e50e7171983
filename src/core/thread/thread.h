// Screw threads by designation: `M8`, `M10x1`, `1/4-20 UNC`, `#10-32`, `G1/2`, `Rc 3/8`, `1/2 NPT`. Lengths in mm.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <tl/expected.hpp>
#include <vector>

namespace pecorra {

enum class ThreadFamily { metric, metric_fine, unc, unf, unef, un, g, r, npt };

struct Thread {
  ThreadFamily family = ThreadFamily::metric;
  std::string designation;  // as standards write it: "M8", "M10×1", "1/4-20 UNC", "G1/2"
  double major_mm = 0;      // of the nut's root or bolt's crest; gauge diameter of taper threads
  double pitch_mm = 0;
  double threads_per_inch = 0;  // 0 for metric threads
  double flank_angle_deg = 60;  // included
  double tapping_drill_mm = 0;  // for cutting taps
  bool tapped_taper = false;    // 1:16
  std::string tolerance_class;  // as typed: "6H", "2B"; empty: none is stated
  // Of a metric thread: how far its class moves the nut's diameters out, and how much wider its minor diameter may be
  // (ISO 965-1); of 6H where no class is stated.
  double deviation_mm = 0, minor_tolerance_mm = 0;

  // Basic minor diameter: 5/8 of the 60° triangle below the major (ISO 68-1, ASME B1.1), 0.640327·P for the 55° forms
  // (ISO 228-1, ISO 7-1) on each side.
  double minor_mm() const;
  // For forming taps the hole is about half a pitch below the major (common practice, no source), wider by what the
  // class moves it out.
  double forming_drill_mm() const;
  bool is_of_bolt() const {
    return !tolerance_class.empty() && tolerance_class.find_first_of("efghA") != std::string::npos;
  }
};

struct ThreadFault {
  std::string text;  // what is wrong and what would be right
};

// Coarse pitches need not be written. A class may follow: `M10-6G`, `M8 6H`, `1/4-20 UNC-3B`; the tapping drill is then
// the usual one as far as the class permits it, else the widest that it does. Blanks, `x`, `×` and capitals do not
// matter, but for a class (6g is of bolts). Refuses sizes that no standard has in its list, and pitches that do not fit
// the size; says which do.
tl::expected<Thread, ThreadFault> parse_thread(std::string_view designation);

// Coarse metric sizes in rising order (ISO 261 choice 1 to 3), for lists and checks.
const std::vector<Thread>& coarse_metric_threads();

}  // namespace pecorra
