// A planned path as chords, ready to be drawn in any projection, and the lines that can be picked.
#pragma once

#include <QColor>
#include <QPainter>
#include <QPolygonF>
#include <QString>
#include <atomic>
#include <cstdint>
#include <limits>
#include <memory>
#include <vector>

#include "app/look/look.h"
#include "shop/planning.h"

namespace pecorra {

enum class PathColours { by_move, by_feed, by_chip };

struct PathTrace {
  struct Chord {
    float x, y, z, feed, chip;  // mm, mm/min
    MoveKind kind;
    std::uint32_t move;  // that it is a part of
  };
  struct Range {
    float least = 0, most = 0;
    void take(float value);
  };
  std::shared_ptr<const PlannedOperation> of;
  std::vector<Chord> chords;
  Range feeds, chips;  // of what cuts
  float lowest = std::numeric_limits<float>::max(), highest = std::numeric_limits<float>::lowest();
};

// Arcs are several chords. A chip is the greatest chip thickness of the engagement on each move.
std::shared_ptr<const PathTrace> trace_of(std::shared_ptr<const PlannedOperation> planned);

// From so many on they are drawn aside, thinner and coarser.
inline constexpr std::size_t dense_chords = 20000;
inline constexpr int path_legend_height = 24, path_buttons_height = 20;  // pixels

// From mm to pixels.
struct Projection {
  double xx = 1, yy = 0, yz = 0, dx = 0, dy = 0;
  QPointF operator()(const PathTrace::Chord& c) const {
    return {xx * static_cast<double>(c.x) + dx, yy * static_cast<double>(c.y) + yz * static_cast<double>(c.z) + dy};
  }
  bool operator==(const Projection&) const = default;
};

// Steps below a pixel and what is outside the clip are left out. Paths of operations that are not chosen are pale.
// `stop`: asked now and then.
void draw_trace(QPainter& p, const PathTrace& trace, bool chosen, PathColours colouring, const Colours& colours,
                const Projection& project, const std::atomic<bool>* stop = nullptr);

// A line, a text or a hole that can be picked.
struct FeatureOutline {
  QString key;
  QPolygonF points;  // mm
  QRectF box;        // around them, never empty
};
std::vector<FeatureOutline> outlines_of(const Job& job);
// The lines that a feature is made of, as outlines call them; itself where it is a line.
QStringList lines_of_feature(const Job& job, const std::string& key);

}  // namespace pecorra
