#include "app/jobs/path_view.h"

#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>

#include "app/look/look.h"
#include "core/drawing/cutter_sheet.h"
#include "core/quantity/print.h"
#include "shop/words.h"

namespace pecorra {
namespace {

constexpr double grab_pixels = 7, plan_edge = 14;
constexpr int side_share = 30, legend_height = 24;  // of the height in percent; pixels

double distance_to(QPointF p, QPointF a, QPointF b) {
  const QPointF ab = b - a;
  const double square = QPointF::dotProduct(ab, ab);
  const double s = square > 0 ? std::clamp(QPointF::dotProduct(p - a, ab) / square, 0.0, 1.0) : 0.0;
  const QPointF gap = p - (a + s * ab);
  return std::hypot(gap.x(), gap.y());
}

}  // namespace

PathView::PathView(QWidget* parent)
    : QWidget(parent), colours_button_(new QPushButton(this)), side_button_(new QPushButton(this)) {
  setMouseTracking(true);
  setMinimumSize(180, 140);
  setObjectName(QStringLiteral("path_view"));
  colours_button_->setObjectName(QStringLiteral("path_colours"));
  side_button_->setObjectName(QStringLiteral("path_side"));
  for (QPushButton* b : {colours_button_, side_button_}) {
    b->setFlat(true);
    b->setCursor(Qt::PointingHandCursor);
    b->setFocusPolicy(Qt::TabFocus);
    b->setFont(Look::get().text(11));
  }
  connect(colours_button_, &QPushButton::clicked, this, [this] {
    set_colouring(colouring_ == PathColours::by_move ? PathColours::by_feed : PathColours::by_move);
    emit look_changed();
  });
  connect(side_button_, &QPushButton::clicked, this, [this] {
    set_side_view(!side_on_);
    emit look_changed();
  });
  connect(&Look::get(), &Look::changed, this, qOverload<>(&QWidget::update));
  say_buttons();
}

void PathView::say_buttons() {
  colours_button_->setText(colouring_ == PathColours::by_move ? tr("Colours: moves") : tr("Colours: feeds"));
  side_button_->setText(side_on_ ? tr("Hide side view") : tr("Side view"));
  int x = width() - 8;
  for (QPushButton* b : {side_button_, colours_button_}) {
    b->adjustSize();
    x -= b->width();
    b->move(x, 4);
  }
  update();
}

void PathView::set_colouring(PathColours colouring) {
  colouring_ = colouring;
  say_buttons();
}

void PathView::set_side_view(bool on) {
  side_on_ = on;
  say_buttons();
}

void PathView::resizeEvent(QResizeEvent*) { say_buttons(); }

void PathView::show_job(const std::optional<Job>& job, const PlannedOperations& planned, int operation,
                        UnitSystem units) {
  const bool other = !job_ || !job || job_->id != job->id;
  if (other) {
    zoom_ = 1;
    moved_ = {};
  }
  job_ = job;
  operation_ = operation;
  units_ = units;
  stock_ = {};
  if (job_) {
    const bool there = operation >= 0 && operation < static_cast<int>(job_->operations.size());
    stock_ = stock_of(*job_, there ? setup_of(*job_, job_->operations[static_cast<std::size_t>(operation)])
                             : job_->setups.empty() ? nullptr
                                                    : &job_->setups.front());
  }
  outlines_ = job_ ? outlines_of(*job_) : std::vector<FeatureOutline>{};
  std::vector<PathTrace> traces;
  for (const auto& one : planned) {
    // What is planned already is flattened already.
    const auto known = std::find_if(traces_.begin(), traces_.end(), [&](const PathTrace& t) { return t.of == one; });
    if (known != traces_.end()) {
      traces.push_back(std::move(*known));
      continue;
    }
    traces.push_back(trace_of(one));
  }
  traces_ = std::move(traces);
  update();
}

QRectF PathView::world() const {
  QRectF box;
  const Box& s = stock_.plan;
  if (s.width() > 0 && s.depth() > 0) box = QRectF(s.low_x, s.low_y, s.width(), s.depth());
  for (const FeatureOutline& o : outlines_) box = box.united(o.points.boundingRect());
  if (box.isNull()) return QRectF(0, 0, 100, 100);
  return QRectF(box.x(), box.y(), std::max(box.width(), 1.0), std::max(box.height(), 1.0));
}

QRect PathView::side_rect() const {
  if (!side_on_) return {};
  const int height = std::max(60, this->height() * side_share / 100);
  return QRect(0, this->height() - legend_height - height, width(), height);
}

QRect PathView::plan_rect() const {
  return QRect(0, 0, width(), height() - legend_height - (side_on_ ? side_rect().height() : 0));
}

QTransform PathView::to_screen() const {
  const QRectF box = world();
  const QRect room = plan_rect();
  const double scale =
      std::min((room.width() - 2 * plan_edge) / box.width(), (room.height() - 2 * plan_edge) / box.height()) * zoom_;
  QTransform t;
  t.translate(room.width() / 2.0 + moved_.x(), room.height() / 2.0 + moved_.y());
  t.scale(scale, -scale);
  t.translate(-box.center().x(), -box.center().y());
  return t;
}

void PathView::draw_plan(QPainter& p) const {
  const Colours& d = colours();
  const QTransform t = to_screen();
  p.setClipRect(plan_rect().adjusted(1, 1, -1, 0));
  if (const Box& s = stock_.plan; s.width() > 0 && s.depth() > 0) {
    p.setPen(QPen(d.line, 1));
    QColor fill = d.cut;
    fill.setAlpha(130);
    p.setBrush(fill);
    p.drawRect(t.mapRect(QRectF(s.low_x, s.low_y, s.width(), s.depth())));
  }
  p.setBrush(Qt::NoBrush);
  const Operation* now = operation_ >= 0 && operation_ < static_cast<int>(job_->operations.size())
                             ? &job_->operations[static_cast<std::size_t>(operation_)]
                             : nullptr;
  QStringList used;
  if (now)
    for (const FeatureUse& use : now->features) {
      used << text_of(use.key);
      if (const Feature* f = find_feature(*job_, use.key); f && f->kind == FeatureKind::pocket) {
        used << text_of(f->outline);
        for (const std::string& key : f->islands) used << text_of(key);
      }
    }
  if (const Setup* setup = now ? setup_of(*job_, *now) : nullptr)
    for (const Clamp& clamp : setup->clamps)
      for (const FeatureOutline& o : outlines_)
        if (o.key == text_of(clamp.outline)) {
          QColor fill = d.error;
          fill.setAlpha(40);
          p.setBrush(fill);
          p.setPen(QPen(d.error, 1));
          p.drawPolygon(t.map(o.points));
          p.setBrush(Qt::NoBrush);
        }
  for (const FeatureOutline& o : outlines_) {
    const bool picked = used.contains(o.key), lit = o.key == under_mouse_;
    p.setPen(QPen(lit ? d.accent : d.ink, picked ? 2.2 : lit ? 2 : 1));
    p.drawPolyline(t.map(o.points));
  }
  const auto project = [&](const PathTrace::Chord& c) {
    return t.map(QPointF(static_cast<double>(c.x), static_cast<double>(c.y)));
  };
  for (std::size_t i = 0; i < traces_.size(); ++i)
    if (static_cast<int>(i) != operation_) draw_trace(p, traces_[i], false, colouring_, project);
  if (now && operation_ < static_cast<int>(traces_.size())) {
    const PathTrace& trace = traces_[static_cast<std::size_t>(operation_)];
    draw_trace(p, trace, true, colouring_, project);
    // Where the cutter goes down, with its diameter at the first place, or at each hole.
    const double r = now->cutter.diameter_mm.value_or(0) / 2 * t.m11();
    QColor fill = d.warning;
    fill.setAlpha(60);
    int shown = 0;
    const auto& moves = trace.of->path.moves;
    for (std::size_t k = 1; k < moves.size() && shown < 2000; ++k) {
      const Move& m = moves[k];
      const bool down = m.kind == MoveKind::plunge || m.kind == MoveKind::cycle;
      if (!down || m.z >= moves[k - 1].z) continue;
      const QPointF at = t.map(QPointF(m.x, m.y));
      p.setPen(QPen(d.warning, 1.4));
      p.setBrush(fill);
      if (m.kind == MoveKind::cycle || shown == 0) p.drawEllipse(at, r, r);
      p.setBrush(Qt::NoBrush);
      p.drawEllipse(at, 2, 2);
      ++shown;
    }
  }
  // The zero point of the program.
  QPointF zero(0, 0);
  if (const Setup* setup = now ? setup_of(*job_, *now) : job_->setups.empty() ? nullptr : &job_->setups.front())
    zero = QPointF(setup->zero_x_mm.value_or(0), setup->zero_y_mm.value_or(0));
  zero = t.map(zero);
  p.setPen(QPen(d.error, 1.2));
  p.drawLine(zero - QPointF(7, 0), zero + QPointF(7, 0));
  p.drawLine(zero - QPointF(0, 7), zero + QPointF(0, 7));
  p.setClipping(false);
}

// Seen from the front: x as in the plan above, heights as large as they fit.
void PathView::draw_side(QPainter& p) const {
  const Colours& d = colours();
  const QRect room = side_rect();
  p.setPen(d.line);
  p.drawLine(room.topLeft(), room.topRight());
  p.setClipRect(room.adjusted(1, 1, -1, -1));
  double low = stock_.bottom, high = stock_.top;
  for (const PathTrace& trace : traces_)
    for (const PathTrace::Chord& c : trace.chords) {
      low = std::min(low, static_cast<double>(c.z));
      high = std::max(high, static_cast<double>(c.z));
    }
  if (high - low < 1) low = high - 1;
  const QTransform t = to_screen();
  constexpr double edge = 8;
  const double scale = (room.height() - 2 * edge) / (high - low);
  const auto x_of = [&](double x) { return t.map(QPointF(x, 0)).x(); };
  const auto y_of = [&](double z) { return room.top() + edge + (high - z) * scale; };
  if (stock_.has_height) {
    QColor fill = d.cut;
    fill.setAlpha(130);
    p.setBrush(fill);
    p.setPen(QPen(d.line, 1));
    p.drawRect(QRectF(QPointF(x_of(stock_.plan.low_x), y_of(stock_.top)),
                      QPointF(x_of(stock_.plan.high_x), y_of(stock_.bottom))));
    p.setBrush(Qt::NoBrush);
  }
  const auto project = [&](const PathTrace::Chord& c) {
    return QPointF(x_of(static_cast<double>(c.x)), y_of(static_cast<double>(c.z)));
  };
  for (std::size_t i = 0; i < traces_.size(); ++i)
    if (static_cast<int>(i) != operation_) draw_trace(p, traces_[i], false, colouring_, project);
  if (operation_ >= 0 && operation_ < static_cast<int>(traces_.size()))
    draw_trace(p, traces_[static_cast<std::size_t>(operation_)], true, colouring_, project);
  // Heights: the top of the stock and how deep the operation goes.
  p.setFont(Look::get().text(11));
  p.setPen(d.quiet);
  const auto height = [&](double z) {
    const QString text = QStringLiteral("z ") + text_of(shown_with_unit(z, Quantity::length, units_));
    const double y = std::clamp(y_of(z), room.top() + 9.0, room.bottom() - 9.0);
    const QRectF ground(room.left() + 4, y - 8, p.fontMetrics().horizontalAdvance(text) + 8, 16);
    p.fillRect(ground, d.raised);
    p.drawText(ground, Qt::AlignCenter, text);
  };
  height(stock_.top);
  if (operation_ >= 0 && operation_ < static_cast<int>(traces_.size())) {
    double deepest = stock_.top;
    for (const PathTrace::Chord& c : traces_[static_cast<std::size_t>(operation_)].chords)
      deepest = std::min(deepest, static_cast<double>(c.z));
    if (deepest < stock_.top - 14 / scale) height(deepest);
  }
  p.setClipping(false);
}

void PathView::draw_legend(QPainter& p) const {
  const Colours& d = colours();
  const double scale = to_screen().m11();
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
  std::vector<std::pair<QColor, QString>> meaning;
  if (colouring_ == PathColours::by_move) {
    meaning = {{d.accent, tr("cut")}, {d.warning, tr("plunge, ramp")}, {d.good, tr("lead, link")}};
  } else if (operation_ >= 0 && operation_ < static_cast<int>(traces_.size())) {
    const PathTrace& trace = traces_[static_cast<std::size_t>(operation_)];
    const auto feed = [&](float f) {
      return QStringLiteral("F ") + text_of(shown(static_cast<double>(f), Quantity::table_feed, units_));
    };
    if (trace.most_feed > 0) meaning = {{d.warning, feed(trace.least_feed)}, {d.accent, feed(trace.most_feed)}};
  }
  for (const auto& [colour, text] : meaning) {
    if (x + 16 + p.fontMetrics().horizontalAdvance(text) > width()) break;
    p.setPen(QPen(colour, 2));
    p.drawLine(QPointF(x, y), QPointF(x + 12, y));
    x += 16;
    word(text);
  }
}

void PathView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  const Colours& d = colours();
  p.fillRect(rect(), d.raised);
  p.setPen(d.line);
  p.drawRect(rect().adjusted(0, 0, -1, -1));
  colours_button_->setVisible(job_.has_value());
  side_button_->setVisible(job_.has_value());
  if (!job_) return;
  // Smooth lines take several times as long, and where there are so many nobody sees the difference.
  std::size_t chords = 0;
  for (const PathTrace& trace : traces_) chords += trace.chords.size();
  p.setRenderHint(QPainter::Antialiasing, chords < 20000);
  draw_plan(p);
  if (side_on_) draw_side(p);
  draw_legend(p);
}

QString PathView::feature_at(QPointF point) const {
  if (!job_ || !plan_rect().contains(point.toPoint())) return {};
  const QTransform t = to_screen();
  QString best;
  double nearest = grab_pixels;
  for (const FeatureOutline& o : outlines_) {
    const QPolygonF points = t.map(o.points);
    for (int k = 1; k < points.size(); ++k)
      if (const double distance = distance_to(point, points[k - 1], points[k]); distance < nearest) {
        nearest = distance;
        best = o.key;
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
  const QString key = feature_at(event->position());
  if (key == under_mouse_) return;
  under_mouse_ = key;
  setCursor(key.isEmpty() ? Qt::ArrowCursor : Qt::PointingHandCursor);
  setToolTip(key);
  update();
}

void PathView::mouseReleaseEvent(QMouseEvent* event) {
  if (dragging_ || event->button() != Qt::LeftButton) return;
  if (const QString key = feature_at(event->position()); !key.isEmpty())
    emit feature_clicked(key, event->modifiers().testFlag(Qt::ShiftModifier));
}

void PathView::mouseDoubleClickEvent(QMouseEvent* event) {
  if (!feature_at(event->position()).isEmpty()) return;
  zoom_ = 1;
  moved_ = {};
  update();
}

void PathView::leaveEvent(QEvent*) {
  under_mouse_.clear();
  update();
}

}  // namespace pecorra

#include "moc_path_view.cpp"
