#include "app/jobs/path_view.h"

#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QWheelEvent>
#include <cmath>
#include <numbers>

#include "app/look/look.h"
#include "core/drawing/cutter_sheet.h"
#include "core/quantity/print.h"
#include "shop/words.h"

namespace pecorra {
namespace {

constexpr double grab_pixels = 7;

// Adds an arc as a curve; y of the screen is turned by the transform, not here.
void arc_to(QPainterPath& path, QPointF from, QPointF to, QPointF centre, bool counter_clockwise) {
  const double r = std::hypot(from.x() - centre.x(), from.y() - centre.y());
  const double a = std::atan2(from.y() - centre.y(), from.x() - centre.x());
  double swept = std::atan2(to.y() - centre.y(), to.x() - centre.x()) - a;
  if (counter_clockwise && swept <= 1e-9) swept += 2 * std::numbers::pi;
  if (!counter_clockwise && swept >= -1e-9) swept -= 2 * std::numbers::pi;
  const double degrees = 180 / std::numbers::pi;
  path.arcTo(QRectF(centre.x() - r, centre.y() - r, 2 * r, 2 * r), -a * degrees, -swept * degrees);
}

QPainterPath line_path(const Contour& contour) {
  QPainterPath path;
  const std::size_t n = contour.vertices.size();
  if (n == 0) return path;
  path.moveTo(contour.vertices[0].x, contour.vertices[0].y);
  for (std::size_t i = 0; i + (contour.closed ? 0 : 1) < n; ++i) {
    const Vertex &v = contour.vertices[i], &w = contour.vertices[(i + 1) % n];
    if (v.bulge == 0) path.lineTo(w.x, w.y);
    else {
      const ArcShape arc = arc_of(v, {w.x, w.y});
      arc_to(path, {v.x, v.y}, {w.x, w.y}, {arc.centre.x, arc.centre.y}, v.bulge > 0);
    }
  }
  return path;
}

}  // namespace

PathView::PathView(QWidget* parent) : QWidget(parent) {
  setMouseTracking(true);
  setMinimumSize(180, 140);
  connect(&Look::get(), &Look::changed, this, qOverload<>(&QWidget::update));
}

void PathView::show_job(const std::optional<Job>& job, std::shared_ptr<const std::vector<Toolpath>> paths,
                        int operation, UnitSystem units) {
  if (!job_ || !job || job_->id != job->id) {
    zoom_ = 1;
    moved_ = {};
  }
  job_ = job;
  paths_ = std::move(paths);
  operation_ = operation;
  units_ = units;
  update();
}

QRectF PathView::world() const {
  QRectF box(0, 0, 100, 100);
  if (!job_) return box;
  const Box b = bounds(job_->drawing);
  box = QRectF(QPointF(b.low_x, b.low_y), QPointF(b.high_x, b.high_y));
  const QPointF middle = box.center();
  const double w = std::max(box.width(), job_->stock_width_mm.value_or(0)),
               h = std::max(box.height(), job_->stock_depth_mm.value_or(0));
  return QRectF(middle.x() - w / 2, middle.y() - h / 2, std::max(w, 1.0), std::max(h, 1.0));
}

QTransform PathView::to_screen() const {
  const QRectF box = world();
  const double room = 14, bottom = 26;
  const double scale = std::min((width() - 2 * room) / box.width(), (height() - room - bottom) / box.height()) * zoom_;
  QTransform t;
  t.translate(width() / 2.0 + moved_.x(), (height() - bottom + room) / 2.0 + moved_.y());
  t.scale(scale, -scale);
  t.translate(-box.center().x(), -box.center().y());
  return t;
}

void PathView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const Colours& d = colours();
  p.fillRect(rect(), d.raised);
  p.setPen(d.line);
  p.drawRect(rect().adjusted(0, 0, -1, -1));
  if (!job_) return;
  const QTransform t = to_screen();
  const double scale = t.m11();
  p.setClipRect(rect().adjusted(1, 1, -1, -1));
  if (job_->stock_width_mm && job_->stock_depth_mm) {
    const QPointF middle = world().center();
    const QRectF stock(middle.x() - *job_->stock_width_mm / 2, middle.y() - *job_->stock_depth_mm / 2,
                       *job_->stock_width_mm, *job_->stock_depth_mm);
    p.setPen(QPen(d.line, 1));
    QColor fill = d.cut;
    fill.setAlpha(130);
    p.setBrush(fill);
    p.drawRect(t.mapRect(stock));
  }
  p.setBrush(Qt::NoBrush);
  const Operation* now = operation_ >= 0 && operation_ < static_cast<int>(job_->operations.size())
                             ? &job_->operations[static_cast<std::size_t>(operation_)]
                             : nullptr;
  for (int i = 0; i < line_count(job_->drawing); ++i) {
    const bool picked = now && now->path == PathKind::profile &&
                        std::find(now->contours.begin(), now->contours.end(), i) != now->contours.end();
    p.setPen(QPen(i == under_mouse_ ? d.accent : d.ink, picked ? 2.2 : i == under_mouse_ ? 2 : 1));
    p.drawPath(t.map(line_path(*line_at(job_->drawing, i))));
  }
  if (paths_) {
    for (int pass = 0; pass < 2; ++pass)
      for (std::size_t i = 0; i < paths_->size(); ++i) {
        const bool chosen = static_cast<int>(i) == operation_;
        if (chosen != (pass == 1)) continue;
        QPainterPath cut, slow, rapid, lead;
        const Toolpath& path = (*paths_)[i];
        for (std::size_t k = 1; k < path.moves.size(); ++k) {
          const Move &a = path.moves[k - 1], &m = path.moves[k];
          QPainterPath& to = m.kind == MoveKind::rapid || m.kind == MoveKind::retract ? rapid
                             : m.kind == MoveKind::cut                                ? cut
                             : m.kind == MoveKind::lead                               ? lead
                                                                                      : slow;
          if (to.currentPosition() != QPointF(a.x, a.y) || to.elementCount() == 0) to.moveTo(a.x, a.y);
          if (m.shape == MoveShape::line) to.lineTo(m.x, m.y);
          else arc_to(to, {a.x, a.y}, {m.x, m.y}, {m.centre_x, m.centre_y}, m.shape == MoveShape::counter_clockwise);
        }
        auto faded = [&](QColor colour) {
          colour.setAlpha(chosen ? 255 : 70);
          return colour;
        };
        p.setPen(QPen(faded(d.quiet), 0.8, Qt::DotLine));
        p.drawPath(t.map(rapid));
        p.setPen(QPen(faded(d.warning), chosen ? 2.2 : 1.2));
        p.drawPath(t.map(slow));
        p.setPen(QPen(faded(d.good), chosen ? 1.5 : 1));
        p.drawPath(t.map(lead));
        p.setPen(QPen(faded(d.accent), chosen ? 1.5 : 1));
        p.drawPath(t.map(cut));
        if (!chosen) continue;
        // Where the cutter goes down.
        const double r = job_->operations[i].cutter.diameter_mm.value_or(0) / 2 * scale;
        QColor fill = d.warning;
        fill.setAlpha(60);
        for (std::size_t k = 1; k < path.moves.size(); ++k) {
          const Move& m = path.moves[k];
          const bool down = m.kind == MoveKind::plunge || m.kind == MoveKind::cycle;
          if (!down || m.z >= path.moves[k - 1].z) continue;
          const QPointF at = t.map(QPointF(m.x, m.y));
          p.setPen(QPen(d.warning, 1.4));
          p.setBrush(m.kind == MoveKind::cycle || k < 6 ? QBrush(fill) : QBrush(Qt::NoBrush));
          if (m.kind == MoveKind::cycle || k < 6) p.drawEllipse(at, r, r);
          p.drawEllipse(at, 2, 2);
          p.setBrush(Qt::NoBrush);
        }
      }
  }
  // Zero of the drawing.
  const QPointF zero = t.map(QPointF(0, 0));
  p.setPen(QPen(d.error, 1.2));
  p.drawLine(zero - QPointF(7, 0), zero + QPointF(7, 0));
  p.drawLine(zero - QPointF(0, 7), zero + QPointF(0, 7));
  p.setClipping(false);
  // Scale bar and what the colours mean.
  p.setFont(Look::get().text(11));
  const double unit = is_inch(units_) ? mm_per_inch : 1;
  const double bar = nice_length(70 / scale / unit) * unit;
  const double y = height() - 11;
  p.setPen(QPen(d.quiet, 1));
  p.drawLine(QPointF(12, y), QPointF(12 + bar * scale, y));
  for (const double x : {12.0, 12 + bar * scale}) p.drawLine(QPointF(x, y - 3), QPointF(x, y + 3));
  double x = 12 + bar * scale + 6;
  auto word = [&](const QString& text) {
    p.setPen(d.quiet);
    p.drawText(QRectF(x, y - 9, 200, 18), Qt::AlignLeft | Qt::AlignVCenter, text);
    x += p.fontMetrics().horizontalAdvance(text) + 12;
  };
  word(text_of(shown_with_unit(bar, Quantity::length, units_)));
  const std::pair<QColor, QString> meaning[] = {
      {d.accent, tr("cut")}, {d.warning, tr("plunge, ramp")}, {d.good, tr("lead")}};
  for (const auto& [colour, text] : meaning) {
    if (x + 90 > width()) break;
    p.setPen(QPen(colour, 2));
    p.drawLine(QPointF(x, y), QPointF(x + 12, y));
    x += 16;
    word(text);
  }
}

int PathView::line_at_point(QPointF point) const {
  if (!job_) return -1;
  const QTransform t = to_screen();
  int best = -1;
  double nearest = grab_pixels;
  for (int i = 0; i < line_count(job_->drawing); ++i) {
    const Contour line = *line_at(job_->drawing, i);
    std::vector<Point2> points = flattened(line, 0.2);
    if (line.closed && !points.empty()) points.push_back(points.front());
    for (std::size_t k = 1; k < points.size(); ++k) {
      const QPointF a = t.map(QPointF(points[k - 1].x, points[k - 1].y)), b = t.map(QPointF(points[k].x, points[k].y)),
                    ab = b - a;
      const double square = QPointF::dotProduct(ab, ab);
      const double s = square > 0 ? std::clamp(QPointF::dotProduct(point - a, ab) / square, 0.0, 1.0) : 0.0;
      const QPointF gap = point - (a + s * ab);
      const double distance = std::hypot(gap.x(), gap.y());
      if (distance < nearest) {
        nearest = distance;
        best = i;
      }
    }
  }
  return best;
}

void PathView::wheelEvent(QWheelEvent* event) {
  const double factor = std::pow(1.0015, event->angleDelta().y());
  const double zoom = std::clamp(zoom_ * factor, 0.3, 200.0);
  // What is under the pointer stays there.
  const QPointF at = event->position();
  const QPointF world_point = to_screen().inverted().map(at);
  zoom_ = zoom;
  moved_ += at - to_screen().map(world_point);
  update();
  event->accept();
}

void PathView::mousePressEvent(QMouseEvent* event) {
  grabbed_ = event->position();
  moved_before_ = moved_;
  dragging_ = false;
}

void PathView::mouseMoveEvent(QMouseEvent* event) {
  if (event->buttons() & Qt::LeftButton) {
    const QPointF by = event->position() - grabbed_;
    if (!dragging_ && std::hypot(by.x(), by.y()) < 4) return;
    dragging_ = true;
    moved_ = moved_before_ + by;
    update();
    return;
  }
  const int line = line_at_point(event->position());
  if (line != under_mouse_) {
    under_mouse_ = line;
    setCursor(line >= 0 ? Qt::PointingHandCursor : Qt::ArrowCursor);
    update();
  }
}

void PathView::mouseReleaseEvent(QMouseEvent* event) {
  if (dragging_ || event->button() != Qt::LeftButton) return;
  if (const int line = line_at_point(event->position()); line >= 0) emit line_clicked(line);
}

void PathView::mouseDoubleClickEvent(QMouseEvent* event) {
  if (line_at_point(event->position()) >= 0) return;
  zoom_ = 1;
  moved_ = {};
  update();
}

void PathView::leaveEvent(QEvent*) {
  under_mouse_ = -1;
  update();
}

}  // namespace pecorra

#include "moc_path_view.cpp"
