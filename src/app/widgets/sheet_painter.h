// Paints a cutter's sheet: in the window, into pictures and PDF files.
#pragma once

#include <QPainter>
#include <QPainterPath>
#include <QString>

#include "app/look/look.h"
#include "core/drawing/cutter_sheet.h"

namespace pecorra {

// The silhouette as a path, both sides of the axis; x to the right, y up, in mm.
QPainterPath silhouette_path(const Profile& profile);

// The silhouette small, for a row of a list.
void draw_cutter_icon(QPainter& painter, QRectF box, const Cutter& cutter, const QColor& colour);

struct SheetExtras {
  QString lit;                       // key of the dimension that is lit
  Profile ghost;                     // another outline behind
  bool faint = false;                // the outline is not of the sizes as they are now
  std::vector<DrawPoint> faults;     // places to be marked, in mm
  const PaperLook* paper = nullptr;  // on paper instead of on the screen
};

void paint_sheet(QPainter& painter, const CutterSheet& sheet, const SheetWish& wish, const SheetExtras& extras);

}  // namespace pecorra
