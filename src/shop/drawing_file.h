// The outlines in a file, whichever of the formats it has: for jobs, holders and form cutters.
#pragma once

#include <QString>

#include "core/toolpath/geometry.h"

namespace pecorra {

struct DrawingRead {
  QString fault;  // what is wrong, with the file's name; the rest is then empty
  Drawing drawing;
  QString note;  // its unit, and what was not used
};

// SVG by the name's ending, else DXF. A file that names no unit is taken to be in `unstated_unit_mm`. Reads the disk.
DrawingRead read_drawing_file(const QString& name, double unstated_unit_mm = 1);

}  // namespace pecorra
