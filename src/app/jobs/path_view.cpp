#include "app/jobs/path_view.h"

#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>

#include "app/look/look.h"
#include "shop/words.h"

namespace pecorra {
namespace {

constexpr double plan_edge = 14;
constexpr int side_share = 30;  // of the height in percent

}  // namespace

PathView::PathView(QWidget* parent)
    : QWidget(parent),
      colours_button_(new QPushButton(this)),
      side_button_(new QPushButton(this)),
      plan_image_(new PathImage(this)),
      side_image_(new PathImage(this)) {
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
    set_colouring(static_cast<PathColours>((static_cast<int>(colouring_) + 1) % 3));
    emit look_changed();
  });
  for (PathImage* image : {plan_image_, side_image_})
    connect(image, &PathImage::ready, this, qOverload<>(&QWidget::update));
  connect(side_button_, &QPushButton::clicked, this, [this] {
    set_side_view(!side_on_);
    emit look_changed();
  });
  connect(&Look::get(), &Look::changed, this, qOverload<>(&QWidget::update));
  say_buttons();
}

void PathView::say_buttons() {
  colours_button_->setText(colouring_ == PathColours::by_move   ? tr("Colours: moves")
                           : colouring_ == PathColours::by_feed ? tr("Colours: feeds")
                                                                : tr("Colours: chip thickness"));
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

void PathView::show_job(std::shared_ptr<const Job> job, const PlannedOperations& planned, const PathFocus& focus,
                        UnitSystem units, std::shared_ptr<const Job> trial_of) {
  const bool other = !job_ || !job || job_->id != job->id;
  // Conditions alone change nothing in the picture before they are planned.
  bool same = !other && focus_ == focus && units_ == units && job_->setups == job->setups;
  if (other) {
    zoom_ = 1;
    moved_ = {};
  }
  job_ = std::move(job);
  focus_ = focus;
  units_ = units;
  stock_ = job_ ? stock_of(*job_, setup()) : StockBlock{};
  const auto drawn = trial_of ? std::move(trial_of) : job_;
  if (!drawn) {
    outlines_.clear();
    plain_ = {};
  } else if (outlined_ != drawn &&
             (!outlined_ || outlined_->part != drawn->part || outlined_->features != drawn->features)) {
    outlines_ = outlines_of(*job_);
    plain_ = {};
    same = false;
  }
  outlined_ = drawn;
  lit_ = focus.lit;
  if (const Operation* now = front())
    for (const FeatureUse& use : now->features) lit_ += lines_of_feature(*job_, use.key);
  std::vector<std::shared_ptr<const PathTrace>> traces;
  chords_ = 0;
  lowest_ = static_cast<float>(stock_.bottom), highest_ = static_cast<float>(stock_.top);
  for (std::size_t i = 0; i < planned.size(); ++i) {
    // What is planned already is flattened already.
    const bool in_place = i < traces_.size() && traces_[i]->of == planned[i];
    const auto known =
        in_place ? traces_.begin() + static_cast<std::ptrdiff_t>(i)
                 : std::find_if(traces_.begin(), traces_.end(), [&](const auto& t) { return t->of == planned[i]; });
    traces.push_back(known != traces_.end() ? *known : trace_of(planned[i]));
    chords_ += traces.back()->chords.size();
    if (traces.back()->chords.empty()) continue;
    lowest_ = std::min(lowest_, traces.back()->lowest);
    highest_ = std::max(highest_, traces.back()->highest);
  }
  same = same && traces_ == traces;
  traces_ = std::move(traces);
  if (!same) update();
}

const Operation* PathView::front() const {
  const bool there = job_ && focus_.front >= 0 && focus_.front < static_cast<int>(job_->operations.size());
  return there ? &job_->operations[static_cast<std::size_t>(focus_.front)] : nullptr;
}

const Setup* PathView::setup() const {
  if (focus_.setup >= 0 && focus_.setup < static_cast<int>(job_->setups.size()))
    return &job_->setups[static_cast<std::size_t>(focus_.setup)];
  if (const Operation* now = front()) return setup_of(*job_, *now);
  return job_->setups.empty() ? nullptr : &job_->setups.front();
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
  return QRect(0, this->height() - path_legend_height - height, width(), height);
}

QRect PathView::plan_rect() const {
  // Below the buttons.
  return QRect(0, path_buttons_height, width(),
               height() - path_buttons_height - path_legend_height - (side_on_ ? side_rect().height() : 0));
}

QTransform PathView::to_screen() const {
  const QRectF box = world();
  const QRect room = plan_rect();
  const double scale =
      std::min((room.width() - 2 * plan_edge) / box.width(), (room.height() - 2 * plan_edge) / box.height()) * zoom_;
  QTransform t;
  t.translate(room.left() + room.width() / 2.0 + moved_.x(), room.top() + room.height() / 2.0 + moved_.y());
  t.scale(scale, -scale);
  t.translate(-box.center().x(), -box.center().y());
  return t;
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
  pulled_.reset();
  pulled_to_.clear();
  if (!holes_move_ || !job_ || event->button() != Qt::LeftButton) return;
  const std::string key = feature_at(event->position()).toStdString();
  const Feature* f = find_feature(*job_, key);
  if (!f || f->at.empty() || !lit_.contains(text_of(key))) return;
  const QPointF at = to_screen().inverted().map(event->position());
  const auto nearest = std::min_element(f->at.begin(), f->at.end(), [&](Point2 a, Point2 b) {
    return std::hypot(a.x - at.x(), a.y - at.y()) < std::hypot(b.x - at.x(), b.y - at.y());
  });
  pulled_ = {key, static_cast<std::size_t>(nearest - f->at.begin())};
  pulled_mm_ = drilled_mm(*f).value_or(1);
}

// To half millimetres, or thirty-seconds of an inch.
void PathView::pull(QPointF point, bool whole) {
  const Feature* f = job_ ? find_feature(*job_, pulled_->first) : nullptr;
  if (!f || pulled_->second >= f->at.size()) return;
  const QTransform back = to_screen().inverted();
  const QPointF by = back.map(point) - back.map(grabbed_);
  const double step = units_ == UnitSystem::inch ? mm_per_inch / 32 : 0.5;
  const auto rounded = [&](double value) { return std::round(value / step) * step; };
  const Point2 from = f->at[pulled_->second];
  pulled_place_ = {rounded(from.x + by.x()), rounded(from.y + by.y())};
  pulled_to_ = with_hole_at(*f, pulled_->second, {pulled_place_.x(), pulled_place_.y()}, whole).at;
  update();
}

void PathView::mouseMoveEvent(QMouseEvent* event) {
  if (event->buttons() & Qt::LeftButton) {
    const QPointF by = event->position() - grabbed_;
    if (!dragging_ && std::hypot(by.x(), by.y()) < 4) return;
    dragging_ = true;
    if (pulled_) return pull(event->position(), event->modifiers().testFlag(Qt::ShiftModifier));
    moved_ = moved_before_ + by;
    update();
    return;
  }
  const QString key = feature_at(event->position());
  setCursor(key.isEmpty() && moves_at(event->position()).empty() ? Qt::ArrowCursor : Qt::PointingHandCursor);
  if (key == under_mouse_) return;
  under_mouse_ = key;
  setToolTip(key);
  update();
}

void PathView::mouseReleaseEvent(QMouseEvent* event) {
  if (dragging_ && pulled_ && !pulled_to_.empty()) {
    const auto [key, hole] = *pulled_;
    pulled_.reset();
    pulled_to_.clear();
    update();
    return emit hole_dragged(text_of(key), static_cast<int>(hole), pulled_place_,
                             event->modifiers().testFlag(Qt::ShiftModifier));
  }
  if (dragging_ || event->button() != Qt::LeftButton) return;
  if (event->modifiers().testFlag(Qt::AltModifier) && job_ && plan_rect().contains(event->position().toPoint()))
    return emit place_clicked(to_screen().inverted().map(event->position()));
  if (const QString key = feature_at(event->position()); !key.isEmpty())
    return emit feature_clicked(key, event->modifiers());
  const std::vector<std::pair<int, int>> moves = moves_at(event->position());
  if (moves.empty()) return;
  const auto last = std::find(moves.begin(), moves.end(), clicked_move_);
  clicked_move_ = last != moves.end() && last + 1 != moves.end() ? *(last + 1) : moves.front();
  emit move_clicked(clicked_move_.first, clicked_move_.second);
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
