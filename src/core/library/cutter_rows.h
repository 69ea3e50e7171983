// Reads and writes lists of cutters as sheets. Headings are our names, symbols or trade words; units are in the
// heading, in a line of their own, in a column, or in the cell.
#pragma once

#include <functional>

#include "core/library/trade_words.h"
#include "core/transfer/merge.h"
#include "core/transfer/sheet.h"

namespace pecorra {

// What a cell can say of a cutter: its properties, and what else it has, as text that is read back exactly (outline,
// shank sections, guesses, accepted warnings, what was typed). Of an id (library, insert) the name is written.
std::span<const Property<Cutter>> cutter_cells();

// Columns that are not cutter properties: UUID, holder of its usual assembly, and two alternative spellings.
enum class CutterColumnRole { property, id, holder, stickout, lead_angle, threads_per_inch };

struct CutterColumn {
  std::string heading;                   // as it stands
  std::optional<CutterColumnRole> role;  // nothing: it is left out
  const Property<Cutter>* property = nullptr;
  std::optional<UnitSystem> units;  // said by heading or unit line
  bool operator==(const CutterColumn&) const = default;
};

// How a sheet is read; made by guess_columns(), changed by people, remembered by the headings (shape_of).
struct CutterSheetForm {
  bool headed = false;                           // a line of headings was found
  std::size_t heading_line = 0, first_line = 0;  // from 0
  std::vector<CutterColumn> columns;
};
CutterSheetForm guess_columns(const Sheet& sheet);
// The headings in one text: sheets of one shape are read alike.
std::string shape_of(const CutterSheetForm& form);
// What a column can be for, by key: those of cutter_cells() and "id", "holder", "stickout_mm", "lead_angle_deg",
// "threads_per_inch"; an empty key is left out. False: no such key.
bool set_column_key(CutterColumn& column, std::string_view key);
std::string_view column_key(const CutterColumn& column);

// What stands on a line besides the cutter.
struct CutterLineExtra {
  std::string holder;  // its name
  std::optional<double> stickout_mm;
  bool operator==(const CutterLineExtra&) const = default;
};
struct CutterLines {
  std::vector<SheetLine<Cutter>> lines;
  std::vector<CutterLineExtra> extras;  // as many as lines, or none
  std::vector<std::string> unknown;     // headings of columns that are left out
};
// `units`: of bare numbers where nothing says it. `ids`: inserts by their names. Without a kind the name is asked for
// its words; a line whose kind is not known, or that states no diameter although its kind needs one and it is not one
// of ours (with a UUID), is faulty. `step` as in merge_preview(), on the calling thread. Several threads read.
CutterLines read_cutter_sheet(const Sheet& sheet, const CutterSheetForm& form, UnitSystem units, const IdLookup& ids,
                              const std::function<bool(std::size_t)>& step = {});

// The same thing: the same UUID; else in this library the same number; else, without a number, the same maker and order
// code; else, without any of these, the same kind, name and sizes.
MergeRules<Cutter> cutter_merge_rules();

// Cutters as a sheet. `keys`: which cells; empty: every property, and of the rest what is used. `words`: headings as
// labels with units and cells as people read them, else keys and stored figures. `text_of_id`: names of libraries and
// inserts; `extra`: of the usual assembly.
struct CutterSheetWish {
  std::vector<std::string_view> keys;
  bool words = false;
  UnitSystem units = UnitSystem::metric;
  std::function<std::string(std::string_view key, const Id&)> text_of_id;
  std::function<CutterLineExtra(const Cutter&)> extra;
};
Sheet cutter_sheet(std::span<const Cutter* const> cutters, const CutterSheetWish& wish);

}  // namespace pecorra
