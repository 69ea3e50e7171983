// The outlines in a drawing file of any supported format, for jobs, holders and form cutters.
#pragma once

#include <QString>

#include "core/geometry/drawing.h"

namespace pecorra {

struct DrawingRead {
  QString fault;  // the error, with the file's name; the rest is then empty
  Drawing drawing;
  QString note;  // its unit, and what was not used
};

// SVG by the extension, else DXF. Without a stated unit `unstated_unit_mm` is used. Reads the disk.
// `by_layer`: lines of different layers stay apart.
DrawingRead read_drawing_file(const QString& name, double unstated_unit_mm = 1, bool by_layer = false);

}  // namespace pecorra
