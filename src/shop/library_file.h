// Cutters from and to files: JSON, CSV, XLSX, MTConnect; outlines as DXF and SVG. What a file contains is reviewed line
// by line before anything changes, and taken as one change.
#pragma once

#include <QStringList>
#include <functional>

#include "core/library/cutter_rows.h"
#include "formats/json/library_file.h"
#include "shop/change.h"

namespace pecorra {

// Called with the share done, 0 to 1, on the working thread; false stops the work.
using Progress = std::function<bool(double)>;

// The content of a file, read without a shop.
struct IncomingCutters {
  QString fault;         // of the file as a whole; empty: it could be read
  bool stopped = false;  // by the progress
  std::vector<SheetLine<Cutter>> lines;
  std::vector<Id> known_as;             // of each line: its id in the assemblies and recipes of `parts`
  std::vector<CutterLineExtra> extras;  // of each line, or none
  LibraryFile parts;                    // what came with the cutters; its list of cutters is empty
  FormatFaults part_faults;
  std::vector<std::string> unknown;  // columns not imported
  std::optional<Sheet> sheet;        // of CSV and XLSX, to read again with other columns
  CutterSheetForm form;
};
// Inserts and holders by name, which a file can refer to without containing them. Copies, for another thread.
struct KnownNames {
  std::map<std::string, Id, std::less<>> inserts;
};
KnownNames known_names(const ShopState& state);

// By extension: .json, .csv, .txt, .tsv, .xlsx, .xml, and .pdf for a stock-taking sheet. `units`: of bare numbers if
// the file does not say; `remembered`: how a sheet of this layout was read before. Blocks: not on the interface thread.
IncomingCutters read_cutter_file(
    const QString& file, UnitSystem units, const KnownNames& names,
    const std::function<std::optional<CutterSheetForm>(const CutterSheetForm&)>& remembered = {},
    const Progress& progress = {});
// Again, with other columns.
void read_again(IncomingCutters& incoming, const CutterSheetForm& form, UnitSystem units, const KnownNames& names,
                const Progress& progress = {});

struct CutterPreview {
  std::vector<SheetLine<Cutter>> lines;
  // What becomes of holder and stick-out, by line, if the file states them.
  struct Held {
    Id holder;
    std::optional<double> stickout_mm;
    bool changes = false;  // of a cutter that is here
    std::string text;      // "ER32, stick-out 42 mm", or what is wrong with it
  };
  std::vector<Held> held;  // as many as lines, or none
  int counts[5] = {};      // by MergeState
};
// Compares the lines with the shop. New cutters go into `library` with their number, or with a free one of their block
// if it is taken or not stated. Indices are those of `incoming`, whose lines are moved into the preview.
CutterPreview preview_cutters(const ShopState& state, const Library& library, IncomingCutters& incoming,
                              const Progress& progress = {});
// The picked lines with what belongs to them as one change, including the library if the shop does not have it.
// `renumber`: what was proven elsewhere is not proven here.
Change take_cutters(const ShopState& state, const Library& library, const IncomingCutters& incoming,
                    const CutterPreview& preview, const QString& from);

enum class CutterFormat { json, csv, xlsx, mtconnect, dxf, svg };
template <>
std::span<const Choice> choices_of<CutterFormat>();
std::optional<CutterFormat> format_of_file(const QString& file);

// The cutters with all that belongs to them, as written to files.
LibraryFile library_file(const ShopState& state, const Library* library, const std::vector<const Cutter*>& cutters);
struct Written {
  QString fault;         // empty: written
  QStringList left_out;  // what the format cannot carry of these, in words
};
// Blocks; `state` may be a copy.
Written write_cutter_file(const ShopState& state, const Library* library, const std::vector<const Cutter*>& cutters,
                          CutterFormat format, const QString& file, UnitSystem units);

// The stock-taking sheet: the cutters in the given order, then empty lines. The last column holds their UUIDs. It can
// be imported as it is.
Sheet stock_sheet(const ShopState& state, const std::vector<const Cutter*>& cutters, UnitSystem units,
                  std::size_t empty_lines);

}  // namespace pecorra
