// Programs of a folder, retuned into another one: all at once, or each as it arrives. Reads and writes the disk; off
// the interface thread.
#pragma once

#include <QStringList>
#include <vector>

#include "shop/retune_file.h"

namespace pecorra {

// Endings that programs have, as a file dialog takes them: "*.nc".
const QStringList& program_endings();
// Whole names, sorted: files with such an ending, and those named O and digits.
QStringList programs_in(const QString& folder);
// Why programs of the one cannot be written to the other: it is none, or the same. Otherwise nothing.
QString fault_of_folders(const QString& from, const QString& to);

// What became of one of them.
struct FolderLine {
  QString file, out, aside;  // `aside`: what the file that was there is called now
  QString fault;             // why it was not written
  std::shared_ptr<const RetunedFile> made;
  bool is_written() const { return fault.isEmpty() && made; }
};
// What is asked of all of them. A program that the shop keeps has its own material, machine and pairings.
struct FolderWish {
  QString to;  // empty: nothing is written
  Id material, machine;
  double pace = 100;
  std::vector<ToolPairing> tools;  // stated for all; else those that are remembered
  bool whole_only = false;         // one with a T that has no cutter is not written
  bool in_proportion = false, arc_centres = false;
  std::optional<double> stock_top_mm;
};
FolderLine retune_into(const ShopState& state, const QString& file, const FolderWish& wish,
                       const ReadProgress& go_on = {});

// Which programs of a watched folder are due: those that are newer than what was written of them, or that changed while
// they were watched; never before they have stayed the same between two looks.
class FolderWatch {
 public:
  FolderWatch(QString from, QString to) : from_(std::move(from)), to_(std::move(to)) {}
  QStringList due();
  // Not again before it changes.
  void done(const QString& file);
  const QString& from() const { return from_; }
  const QString& to() const { return to_; }

 private:
  struct Seen {
    qint64 size = -1, time = -1;
    bool done = false, changed = false;
    bool operator==(const Seen&) const = default;
  };
  static Seen now(const QString& file);
  QString from_, to_;
  std::map<QString, Seen> seen_;
};

}  // namespace pecorra
