// A planned path as chords, ready to be drawn in any projection, and the lines that can be picked.
#pragma once

#include <QColor>
#include <QPainter>
#include <QPolygonF>
#include <QString>
#include <functional>
#include <memory>
#include <vector>

#include "shop/planning.h"

namespace pecorra {

enum class PathColours { by_move, by_feed };

struct PathTrace {
  struct Chord {
    float x, y, z, feed;
    MoveKind kind;
  };
  std::shared_ptr<const PlannedOperation> of;
  std::vector<Chord> chords;
  float least_feed = 0, most_feed = 0;
};

// Arcs are several chords.
PathTrace trace_of(std::shared_ptr<const PlannedOperation> planned);

// `project` gives the pixel of a chord's end. Steps below a pixel and what is outside the clip are left out. Paths of
// operations that are not chosen are pale.
void draw_trace(QPainter& p, const PathTrace& trace, bool chosen, PathColours colours,
                const std::function<QPointF(const PathTrace::Chord&)>& project);

// A line or a hole that can be picked.
struct FeatureOutline {
  QString key;
  QPolygonF points;  // mm
};
std::vector<FeatureOutline> outlines_of(const Job& job);

}  // namespace pecorra
