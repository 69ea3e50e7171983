// Programs made elsewhere from their files: read, worked out and written. All of it takes its time and belongs off the
// interface thread.
#pragma once

#include <QFileInfo>
#include <QString>
#include <functional>
#include <memory>
#include <tl/expected.hpp>

#include "core/retune/program_moves.h"
#include "core/retune/retuned_program.h"
#include "shop/retune_plan.h"

namespace pecorra {

inline constexpr qint64 longest_program = qint64(1) << 30;  // bytes

// A program as it is in its file.
struct ForeignProgram {
  QString file;
  std::string print;  // of its bytes
  std::shared_ptr<const ProgramText> text;
};
// With the subprograms that it calls from files beside it, which are named by their number: O1000.NC, 1000.nc. The
// fault says what is wrong with the file, and what would be right.
tl::expected<ForeignProgram, QString> read_program_file(const QString& file);
void attach_subprograms(ProgramText& text, const QFileInfo& program);
std::string bytes_print(std::string_view bytes);

// What it becomes. The state is a copy that costs nothing.
struct RetunedFile {
  RetunedProgram program;
  ForeignProgram read;
  std::shared_ptr<const ProgramReading> reading;
  std::vector<RetunedSection> sections;  // of the reading's
  Retuned done;
  std::vector<std::uint32_t> starts;          // of the lines in done.text
  std::vector<std::uint32_t> changed_lines;   // rising
  std::shared_ptr<const ProgramMoves> moves;  // null where they are not asked for
  std::string print;                          // of what its sections run at
  double minutes_was = 0, minutes = 0;
  std::size_t changed_words() const;
  // What is not understood, and subprograms that keep their S and F because several cutters use them.
  struct LeftAlone {
    std::size_t block = 0;
    std::string text, why;
  };
  std::vector<LeftAlone> left_alone() const;
  bool has_open_cutters() const;  // no cutter was found for some section that is not left out
  // A line as it becomes, without its end.
  std::string_view line(std::size_t block) const;
};
// What is wanted besides the text: `lines` and `changed_lines`, and the moves for a picture.
enum class RetuneParts { text, lines, all };
// Stopped: nothing. `again`: it is not read anew where the file is the same.
std::shared_ptr<const RetunedFile> retune_file(const ShopState& state, const RetunedProgram& program,
                                               ForeignProgram read, const ReadProgress& go_on = {},
                                               const std::shared_ptr<const RetunedFile>& again = {},
                                               RetuneParts parts = RetuneParts::all);
RetuneRequest request_of(const RetunedProgram& program);

// A new one for this file: what is stated for the latest of its kind on that machine is remembered.
RetunedProgram new_program(const ShopState& state, const ForeignProgram& read, const Id& material, const Id& machine,
                           double pace);
// That of this file, or of its earlier version; null: none is kept.
const RetunedProgram* program_for(const ShopState& state, const QString& file);

// How a program that is kept stands, for lists. Reads its file.
enum class ProgramHealth { missing, no_context, open_cutters, moved, unwritten, ready };
struct ProgramSummary {
  ProgramHealth health = ProgramHealth::missing;
  int sections = 0;
  double minutes = 0;
  bool new_version = false;  // the file is another than was read last
};
ProgramSummary summary_of(const ShopState& state, const RetunedProgram& program, const ReadProgress& go_on = {});

// What is there is put aside first, and comes back where writing fails. Returns the fault, or nothing.
QString put_text(const std::string& text, const QString& out, QString& aside);
// Beside the program, or over it, which then is renamed first. Fails where the program's file has changed since it was
// read. Returns the fault, or nothing; `aside`: what the file that was there is called now.
QString write_retuned(const RetunedFile& retuned, const QString& out, QString& aside);

}  // namespace pecorra
