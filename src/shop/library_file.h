// Cutters from and to files: JSON, CSV, XLSX, MTConnect, and outlines as DXF and SVG. What a file brings is looked at
// line by line before anything is changed, and taken as one change.
#pragma once

#include <QStringList>
#include <functional>

#include "core/library/cutter_rows.h"
#include "formats/json/library_file.h"
#include "shop/change.h"

namespace pecorra {

// Told how far it is, 0 to 1, on the thread that works; false: it is to stop.
using Progress = std::function<bool(double)>;

// What a file holds, read without a shop.
struct IncomingCutters {
  QString fault;         // of the file as a whole; empty: it stands
  bool stopped = false;  // by the progress
  std::vector<SheetLine<Cutter>> lines;
  std::vector<Id> known_as;             // of each line: what its assemblies and recipes in `parts` call it
  std::vector<CutterLineExtra> extras;  // of each line, or none
  LibraryFile parts;                    // what came with the cutters; its list of cutters is empty
  FormatFaults part_faults;
  std::vector<std::string> unknown;  // columns that are left out
  std::optional<Sheet> sheet;        // of CSV and XLSX, to be read again with other columns
  CutterSheetForm form;
};
// Inserts, holders by name: what a file may name without holding it. Copies, for a thread of its own.
struct KnownNames {
  std::map<std::string, Id, std::less<>> inserts;
};
KnownNames known_names(const ShopState& state);

// By the file's ending: .json, .csv, .txt, .tsv, .xlsx, .xml, and .pdf for a stock-taking sheet. `units`: of bare
// numbers where the file says nothing; `remembered`: how a sheet of this shape was read before. Blocks: not on the
// interface thread.
IncomingCutters read_cutter_file(
    const QString& file, UnitSystem units, const KnownNames& names,
    const std::function<std::optional<CutterSheetForm>(const CutterSheetForm&)>& remembered = {},
    const Progress& progress = {});
// Again, with other columns.
void read_again(IncomingCutters& incoming, const CutterSheetForm& form, UnitSystem units, const KnownNames& names,
                const Progress& progress = {});

struct CutterPreview {
  std::vector<SheetLine<Cutter>> lines;
  // What becomes of holder and stick-out where the file says them, by line.
  struct Held {
    Id holder;
    std::optional<double> stickout_mm;
    bool changes = false;  // of a cutter that is here
    std::string text;      // "ER32, stick-out 42 mm", or what is wrong with it
  };
  std::vector<Held> held;  // as many as lines, or none
  int counts[5] = {};      // by MergeState
};
// Lines against the shop. New cutters go into `library` with their number, or a free one of their block where it is
// taken or none is stated. Places stay as in `incoming`, whose lines go over into the preview.
CutterPreview preview_cutters(const ShopState& state, const Library& library, IncomingCutters& incoming,
                              const Progress& progress = {});
// The picked lines, with what belongs to them, as one change; the library with it where the shop does not have it.
// `renumber`: what is proven elsewhere is not proven here.
Change take_cutters(const ShopState& state, const Library& library, const IncomingCutters& incoming,
                    const CutterPreview& preview, const QString& from);

enum class CutterFormat { json, csv, xlsx, mtconnect, dxf, svg };
template <>
std::span<const Choice> choices_of<CutterFormat>();
std::optional<CutterFormat> format_of_file(const QString& file);

// The cutters with all that belongs to them, as they stand in files.
LibraryFile library_file(const ShopState& state, const Library* library, const std::vector<const Cutter*>& cutters);
struct Written {
  QString fault;         // empty: it is written
  QStringList left_out;  // what the format cannot carry of these, in words
};
// Blocks; `state` may be a copy.
Written write_cutter_file(const ShopState& state, const Library* library, const std::vector<const Cutter*>& cutters,
                          CutterFormat format, const QString& file, UnitSystem units);

// What there is, to be counted and written down: the cutters as they are given, then empty lines. The last column holds
// their UUIDs. It reads back as it is.
Sheet stock_sheet(const ShopState& state, const std::vector<const Cutter*>& cutters, UnitSystem units,
                  std::size_t empty_lines);

}  // namespace pecorra
