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

// Tells whether a file has been written since.
struct FileMark {
  qint64 bytes = -1;  // -1: not there
  QDateTime written;
  bool operator==(const FileMark&) const = default;
};
FileMark mark_of_file(const QString& file);

// Our side: the library's cutters with assemblies and recipes, and every part of the shop they could refer to.
LibraryFile shared_side(const ShopState& state, const Library& library);

// An object that differs between the sides. A cutter includes its assemblies and recipes.
struct SharedLine {
  ObjectKind kind = ObjectKind::cutter;
  Id id;  // in the file
  SharedState state = SharedState::from_file;
  bool here = false, there = false;
  std::uint64_t print = 0;  // of the file's side, if it has one
};

struct SharedReport {
  QString fault;                  // in words; empty: compared, and written if needed
  bool gone = false;              // the file has disappeared
  LibraryFile theirs;             // the file as it stands now
  std::vector<SharedLine> lines;  // waiting: from the file, changed on both sides, or to be removed from the file
  int written = 0;                // our objects written to the file
  FileMark mark;
};

// One exchange. Updates `common`. `make`: create the file if it is missing. `may_go`: cutters we deleted that may be
// removed from the file too. A file with content that is not understood is never written. Blocks: reads, locks and
// writes.
SharedReport exchange_shared(const LibraryFile& ours, const QString& file, SharedPrints& common, bool make = false,
                             const std::unordered_set<Id>& may_go = {});
// The same with what the shop has kept of `shared`. `ours_stand`: reviewed lines for which our side now counts; it is
// written unless the file has changed since.
SharedReport exchange_shared(const QString& shop_file, const SharedLibrary& shared, const LibraryFile& ours,
                             bool make = false, const std::vector<SharedLine>& ours_stand = {});

struct CutterParts {
  const Cutter* cutter = nullptr;
  std::vector<const Assembly*> assemblies;
  std::vector<const Recipe*> recipes;
};
// The cutters of one side with their assemblies and recipes, in an order that is the same on both sides. Points into
// the file.
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

// The object of a line, and how the file's side differs from ours, in words.
QString shared_line_name(const ShopState& state, const SharedSide& there, const SharedLine& line);
QStringList shared_line_changes(const ShopState& state, const Id& library, const SharedSide& there,
                                const SharedLine& line, UnitSystem units);

// Takes the file's side of these lines into the shop, as one change. If two cutters have the same number, the one that
// has been in the file longer keeps it, which is the same on every computer.
Change take_shared(const ShopState& state, const Library& library, const SharedReport& report,
                   const std::vector<std::size_t>& lines);

}  // namespace pecorra
