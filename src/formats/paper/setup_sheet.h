// What stands on a setup sheet, ready to be read: every text in the words and the unit of its reader. Lengths of shapes
// in mm.
#pragma once

#include <QPointF>
#include <QRectF>
#include <QString>
#include <QStringList>
#include <vector>

namespace pecorra {

struct SheetShape {
  enum Role { part, clamp } role = part;
  std::vector<QPointF> points;
};

struct SheetCutter {
  QString t, name, number, holder, sizes, planned, measured, time, message;
  QStringList cuts;  // S, F, ap, ae of each operation
  QString fetch;     // of a generic one: what to take
  QString missing;   // what the shop lacks of it, with its order code
  QString to_load;   // where it has to be put in
  bool generic = false, guessed = false;
  // Right-hand halves of the outlines: x from the axis, y above the tip.
  std::vector<QPointF> cutter, holder_outline;
  double flutes_mm = 0;
};

struct SheetOperation {
  QString number, name, kind, t, s, f, ap, ae, coolant, time, source, comment, fault;
  QString details;       // how deep, where, threads and tolerances
  QStringList warnings;  // to be read before it is run
  bool guess = false, proven = false;
};

struct SheetSetup {
  QString name, offset, stock, zero, clamps, time;
  QRectF stock_mm;  // y upwards
  QPointF zero_mm;
  std::vector<SheetShape> shapes;
  std::vector<SheetCutter> cutters;
  std::vector<SheetOperation> operations;
};

// Headings, in the reader's words.
struct SheetWords {
  QString zero, stock, offset, clamps, time, measured, planned, message, operations, cutters, page;
  QStringList operation_columns;  // of the table of operations
  QString guess, proven, no_cutters;
};

struct SetupSheet {
  QString title, subtitle, revision, hazard, program;
  QStringList facts;
  std::vector<SheetSetup> setups;
  SheetWords words;
};

}  // namespace pecorra
