// A library that also lives as a file in a folder that several computers share. Both sides are compared object by
// object with what they last had in common: what only we changed is written to the file, what others changed waits
// until somebody here has looked at it, and what both changed stays as it is on both sides until somebody decides.
#pragma once

#include <QDateTime>
#include <unordered_map>
#include <unordered_set>

#include "formats/json/library_file.h"
#include "shop/change.h"

namespace pecorra {

// Of a file, to be told whether it has been written since.
struct FileMark {
  qint64 bytes = -1;  // -1: not there
  QDateTime written;
  bool operator==(const FileMark&) const = default;
};
FileMark mark_of_file(const QString& file);

// Our side: the library's cutters with assemblies and recipes, and every part of the shop that they could stand on.
LibraryFile shared_side(const ShopState& state, const Library& library);

// An object that the sides say differently. A cutter stands with its assemblies and recipes.
struct SharedLine {
  ObjectKind kind = ObjectKind::cutter;
  Id id;  // in the file
  SharedState state = SharedState::from_file;
  bool here = false, there = false;
  std::uint64_t print = 0;  // of the file's side, where it is there
};

struct SharedReport {
  QString fault;       // in words; empty: the sides were compared, and written where there was something to write
  bool gone = false;   // the file is not there any more
  LibraryFile theirs;  // the file as it stands now
  std::vector<SharedLine> lines;  // what waits: from the file, on both sides, or to be taken out of the file
  int written = 0;                // objects of ours that went into the file
  FileMark mark;
};

// One exchange. `common` is brought up to date. `make`: the file may be made where it is missing. `may_go`: cutters
// that we deleted and that leave the file too. A file that says what is not understood is never written. Blocks: reads,
// locks and writes.
SharedReport exchange_shared(const LibraryFile& ours, const QString& file, SharedPrints& common, bool make = false,
                             const std::unordered_set<Id>& may_go = {});
// The same with what the shop file has kept of `shared`. `ours_stand`: lines that were looked at, of which ours is what
// counts now, taken or not; where the file still says what it said then, ours goes into it.
SharedReport exchange_shared(const QString& shop_file, const SharedLibrary& shared, const LibraryFile& ours,
                             bool make = false, const std::vector<SharedLine>& ours_stand = {});

struct CutterParts {
  const Cutter* cutter = nullptr;
  std::vector<const Assembly*> assemblies;
  std::vector<const Recipe*> recipes;
};
// Cutters of one side with what is kept on them, in an order that does not depend on the side. Points into the file.
class SharedSide {
 public:
  explicit SharedSide(const LibraryFile& file);
  const LibraryFile& file() const { return file_; }
  const CutterParts* find(const Id& cutter) const;
  std::uint64_t print(const CutterParts& parts) const;

 private:
  const LibraryFile& file_;
  InsertNames inserts_;
  std::unordered_map<Id, CutterParts> cutters_;
};

// What a line is about, and how the file's side differs from ours, in words.
QString shared_line_name(const ShopState& state, const SharedSide& there, const SharedLine& line);
QStringList shared_line_changes(const ShopState& state, const Id& library, const SharedSide& there,
                                const SharedLine& line, UnitSystem units);

// The file's side of the lines at these places into the shop, as one change. Numbers stay apart: of two cutters with
// one number the one that has been longer in the file keeps it, which is the same on every computer.
Change take_shared(const ShopState& state, const Library& library, const SharedReport& report,
                   const std::vector<std::size_t>& lines);

}  // namespace pecorra
