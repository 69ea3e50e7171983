// What a program does, block by block in the order in which a control runs it: sections of one cutter, kinds of move,
// which S and F are speeds and feeds. Lengths in mm, feeds in mm/min or mm per revolution.
#pragma once

#include <array>
#include <cstdint>
#include <map>
#include <memory>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "core/iso/modal_state.h"
#include "core/iso/program_text.h"

namespace pecorra {

// `ramp` is down and sideways, `retract` straight up at a feed; a tap's cycle is `tap`.
enum class RunMove : std::uint8_t { none, rapid, plunge, ramp, cut, retract, cycle, tap };
inline constexpr std::size_t run_move_count = 8;
inline bool is_fed(RunMove move) { return move > RunMove::rapid; }

// One block as it is run.
struct RunBlock {
  std::size_t block = 0;
  int section = -1;  // -1: before the first cutter
  RunMove move = RunMove::none;
  int s_piece = -1, f_piece = -1;  // its speed and its feed among the block's pieces; -1: none
  std::optional<double> s, f;      // what those say, F in mm; nothing where it is not known
  bool deletable = false, starts_spindle = false;
  bool keeps = false;     // its S and F stay as they are
  bool forgets = false;   // what S and F are in force behind it is not known
  bool again = false;     // of a subprogram, not for the first time, or in a file of its own
  bool attached = false;  // of a subprogram in a file of its own; `block` is then the one that calls it
  double length_mm = 0;
  std::array<double, 3> from{}, to{};  // not a number: not known
  double centre_x = 0, centre_y = 0;   // of an arc in XY
  double radius_mm = 0;
  int turn = 0;                          // of it: 1 counter-clockwise, -1 clockwise; 0: a line
  bool switches_compensation = false;    // G40 to G42 in a block that moves sideways
  const char* not_understood = nullptr;  // why, to stand behind a colon
  bool winds = false;
  bool in_air = false;  // a plunge through air: known when all is read, and so in the RunRecord alone
  // Around and along Z; one that goes down is a ramp, one that goes up a cut.
  bool is_helix() const { return winds && is_fed(move); }
};

class ProgramRun {
 public:
  // `splits`: blocks at which another piece of work begins though nothing in the program says so, rising.
  explicit ProgramRun(const ProgramText& program, std::vector<std::size_t> splits = {});
  // The next block; false behind the last. What is called without end stops.
  bool step(RunBlock& out);

  const ModalState& modal() const { return modal_; }
  int tool() const { return tool_; }
  double feed_unit_mm() const { return modal_.inch ? 25.4 : 1.0; }
  int depth() const { return static_cast<int>(stack_.size()); }  // of subprogram calls
  int subprogram() const { return stack_.empty() ? 0 : stack_.back().number; }
  // First block behind the main program.
  std::size_t main_end() const { return layout_->main_end; }
  bool has_subprogram(int number) const { return layout_->subprograms.contains(number); }

 private:
  struct Layout {
    std::map<int, std::size_t> subprograms;  // where each begins
    std::vector<std::size_t> splits;
    std::size_t main_end = 0;
    bool changes_by_m6 = false;
  };
  struct Frame {
    std::size_t back = 0;
    int number = 0;
    std::size_t called_by = 0;  // block of the program's own file
    std::size_t end = 0;        // of the file that it is in
    std::size_t begin = 0;
    int more = 0;  // times that it is still to be run
  };
  void read_words(RunBlock& out, std::size_t block);
  void move(RunBlock& out, std::size_t block);
  void new_section() { ++section_, fed_ = false; }
  std::size_t end_of_file(std::size_t block) const;
  void return_from_subprogram();

  const ProgramText* program_;
  std::shared_ptr<const Layout> layout_;
  std::vector<bool> seen_;
  ModalState modal_;
  std::map<int, double> variables_;  // those that are constant so far
  std::vector<Frame> stack_;
  std::size_t next_ = 0, steps_ = 0;
  int section_ = -1, tool_ = 0;
  bool fed_ = false, over_ = false, absolute_centres_ = false;
  std::array<double, 3> at_;                    // not a number: not known
  std::vector<std::optional<double>> numbers_;  // of the block's words
  double cycle_r_ = 0, cycle_z_ = 0;
  std::optional<double> section_s_;
};

// Subprograms that it calls by a number, and that stand neither in it nor attached to it.
std::vector<int> missing_subprograms(const ProgramText& program);

// The text of a comment without its brackets.
std::string_view comment_inside(std::string_view comment);

}  // namespace pecorra
