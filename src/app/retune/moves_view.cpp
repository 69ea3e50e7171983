#include "app/retune/moves_view.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>
#include <QtConcurrent/QtConcurrentRun>
#include <algorithm>
#include <cmath>

#include "app/look/look.h"
#include "core/quantity/print.h"
#include "shop/words.h"

namespace pecorra {
namespace {

constexpr double edge = 26, legend_height = 30;
// A feed that differs by less is the same.
constexpr double noticeable = 0.01;

QColor mixed(const QColor& a, const QColor& b, double part) {
  const auto of = [part](int x, int y) { return static_cast<int>(std::lround(x + (y - x) * part)); };
  return {of(a.red(), b.red()), of(a.green(), b.green()), of(a.blue(), b.blue())};
}

QColor colour_of(const ProgramMove& m, MovesView::Colouring colouring, double slowest, double fastest,
                 const Colours& d) {
  if (!is_fed(m.kind)) return d.line;
  if (colouring == MovesView::change) {
    if (!(m.feed_was > 0) || !(m.feed > 0)) return d.quiet;
    const double ratio = m.feed / m.feed_was;
    return ratio > 1 + noticeable ? d.accent : ratio < 1 - noticeable ? d.warning : d.quiet;
  }
  const double feed = colouring == MovesView::was ? m.feed_was : m.feed;
  if (!(feed > 0)) return d.quiet;
  const double part =
      fastest > slowest ? (std::log(feed) - std::log(slowest)) / (std::log(fastest) - std::log(slowest)) : 1;
  return mixed(d.warning, d.accent, std::clamp(part, 0.0, 1.0));
}

}  // namespace

MovesView::MovesView(QWidget* parent) : QWidget(parent) {
  setObjectName(QStringLiteral("moves"));
  setAccessibleName(tr("Moves of the program, seen from above"));
  setFocusPolicy(Qt::StrongFocus);
  setMinimumSize(180, 120);
  setToolTip(tr("Wheel: zoom. Drag: move. Click: the block of a move. F: all of it"));
  connect(&Look::get(), &Look::changed, this, qOverload<>(&QWidget::update));
}

MovesView::~MovesView() {
  if (work_) work_->stop = true;
}

void MovesView::show_program(std::shared_ptr<const RetunedFile> program, UnitSystem units) {
  const bool other = !program || !program_ || program->read.file != program_->read.file;
  program_ = std::move(program);
  units_ = units;
  if (other) {
    section_ = -1;
    mark_.reset();
    fit();
  }
  update();
}

void MovesView::show_section(int section) {
  if (section != section_) mark_.reset();
  section_ = section;
  update();
}

void MovesView::show_block(std::size_t block) {
  mark_.reset();
  if (program_) {
    const auto& moves = program_->moves->moves;
    const auto found =
        std::find_if(moves.rbegin(), moves.rend(), [block](const ProgramMove& m) { return m.block == block; });
    if (found != moves.rend()) mark_ = QPointF(found->x, found->y);
  }
  update();
}

void MovesView::set_colouring(Colouring colouring) {
  colouring_ = colouring;
  update();
}

void MovesView::fit() {
  zoom_ = 1;
  moved_ = {};
  update();
}

MovesView::Wanted MovesView::wanted() const {
  Wanted w;
  w.moves = program_->moves;
  const Box& plan = w.moves->plan;
  const double wide = std::max(1.0, width() - 2 * edge), high = std::max(1.0, height() - 2 * edge - legend_height);
  w.scale = zoom_ * std::min(wide / std::max(1e-6, plan.width()), high / std::max(1e-6, plan.depth()));
  w.scale = std::clamp(w.scale, 1e-6, 1e6);
  w.dx = width() / 2.0 + moved_.x() - (plan.low_x + plan.high_x) / 2 * w.scale;
  w.dy = (height() - legend_height) / 2.0 + moved_.y() + (plan.low_y + plan.high_y) / 2 * w.scale;
  w.size = size();
  w.dots = devicePixelRatioF();
  w.section = section_;
  w.colouring = colouring_;
  w.night = Look::get().is_night();
  return w;
}

QImage MovesView::draw(const Work& work) {
  const Wanted& w = work.wanted;
  const Colours& d = work.colours;
  QImage image(w.size * w.dots, QImage::Format_ARGB32_Premultiplied);
  image.setDevicePixelRatio(w.dots);
  image.fill(Qt::transparent);
  QPainter p(&image);
  const auto& moves = w.moves->moves;
  constexpr std::size_t smooth = 50000;  // more are lines of a pixel
  p.setRenderHint(QPainter::Antialiasing, moves.size() < smooth);
  const auto place = [&](const ProgramMove& m) { return QPointF(w.dx + m.x * w.scale, w.dy - m.y * w.scale); };
  const QRectF box(-50, -50, w.size.width() + 100, w.size.height() + 100);
  // Rapids below, what is cut above, the section in front on top.
  for (int layer = 0; layer < 3; ++layer) {
    QPointF at;
    for (std::size_t i = 0; i < moves.size(); ++i) {
      if (i % 8192 == 0 && work.stop) return image;
      const ProgramMove& m = moves[i];
      const QPointF to = place(m);
      const QPointF from = at;
      at = to;
      if (m.jump || i == 0) continue;
      const bool fed = is_fed(m.kind), front = w.section < 0 || m.section == w.section;
      if (layer != (!fed ? 0 : front ? 2 : 1)) continue;
      if (!box.intersects(QRectF(from, to).normalized().adjusted(-1, -1, 1, 1))) continue;
      QColor colour = colour_of(m, w.colouring, w.moves->slowest, w.moves->fastest, d);
      if (fed && !front) colour.setAlpha(70);
      if (m.kind == RunMove::cycle || m.kind == RunMove::tap) {
        p.setPen(QPen(colour, 1.4));
        p.setBrush(Qt::NoBrush);
        p.drawEllipse(to, 3.5, 3.5);
        continue;
      }
      p.setPen(fed ? QPen(colour, front ? 1.5 : 1) : QPen(colour, 1, Qt::DashLine));
      p.drawLine(from, to);
    }
  }
  return image;
}

void MovesView::begin(Wanted wanted) {
  work_ = std::make_shared<Work>();
  work_->wanted = std::move(wanted);
  work_->colours = colours();
  auto* watcher = new QFutureWatcher<QImage>(this);
  connect(watcher, &QFutureWatcher<QImage>::finished, this, [this, watcher, work = work_] {
    watcher->deleteLater();
    work_.reset();
    if (!work->stop) {
      image_ = watcher->result();
      shown_ = work->wanted;
    }
    if (is_next_) {
      is_next_ = false;
      begin(std::move(next_));
    }
    if (!work->stop) update();
  });
  watcher->setFuture(QtConcurrent::run([work = work_] { return draw(*work); }));
}

void MovesView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  const Colours& d = colours();
  p.fillRect(rect(), d.raised);
  p.setPen(hasFocus() ? d.accent : d.line);
  p.drawRect(rect().adjusted(0, 0, -1, -1));
  if (!program_ || program_->moves->moves.empty()) {
    p.setPen(d.quiet);
    p.drawText(rect().adjusted(12, 12, -12, -12), Qt::AlignCenter | Qt::TextWordWrap,
               program_ ? tr("No moves to show.") : tr("The moves appear once the program is read."));
    return;
  }
  Wanted w = wanted();
  constexpr std::size_t at_once = 5000;
  if (w.moves->moves.size() <= at_once) {
    // So few are drawn before anybody could see that they are not.
    if (!(w == shown_)) {
      Work now;
      now.wanted = w;
      now.colours = colours();
      image_ = draw(now);
      shown_ = w;
    }
  } else if (!(w == shown_) && !(work_ && work_->wanted == w)) {
    if (!work_) {
      begin(w);
    } else {
      work_->stop = true;
      next_ = w;
      is_next_ = true;
    }
  }
  if (!image_.isNull() && shown_.moves == w.moves) {
    p.save();
    p.setClipRect(rect().adjusted(1, 1, -1, -1));
    const double stretch = w.scale / shown_.scale;
    p.translate(w.dx - shown_.dx * stretch, w.dy - shown_.dy * stretch);
    p.scale(stretch, stretch);
    p.drawImage(QPointF(0, 0), image_);
    p.restore();
  }
  if (mark_) {
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(d.ink, 1.5));
    p.setBrush(d.raised);
    p.drawEllipse(QPointF(w.dx + mark_->x() * w.scale, w.dy - mark_->y() * w.scale), 5, 5);
  }
  draw_legend(p);
}

void MovesView::draw_legend(QPainter& p) const {
  const Colours& d = colours();
  p.setFont(Look::get().text(11.5));
  double x = 10;
  const double y = height() - legend_height / 2;
  const auto entry = [&](const QColor& colour, const QString& text) {
    p.setPen(QPen(colour, 2.5));
    p.drawLine(QPointF(x, y), QPointF(x + 16, y));
    p.setPen(d.quiet);
    const int wide = p.fontMetrics().horizontalAdvance(text);
    p.drawText(QRectF(x + 21, y - 10, wide + 4, 20), Qt::AlignLeft | Qt::AlignVCenter, text);
    x += 21 + wide + 16;
  };
  if (colouring_ == change) {
    entry(d.accent, tr("faster"));
    entry(d.quiet, tr("unchanged"));
    entry(d.warning, tr("slower"));
  } else {
    const auto feed = [&](double f) { return text_of(shown_with_unit(f, Quantity::table_feed, units_)); };
    entry(d.warning, feed(program_->moves->slowest));
    if (program_->moves->fastest > program_->moves->slowest) entry(d.accent, feed(program_->moves->fastest));
  }
  if (program_->moves->cut_short) {
    p.setPen(d.warning_text);
    p.drawText(QRectF(x, y - 10, width() - x - 6, 20), Qt::AlignLeft | Qt::AlignVCenter,
               tr("only the first %L1 moves").arg(most_program_moves));
  }
}

void MovesView::zoom(double factor, QPointF at) {
  if (!program_) return;
  const double before = zoom_;
  zoom_ = std::clamp(zoom_ * factor, 0.2, 2000.0);
  const QPointF middle(width() / 2.0, (height() - legend_height) / 2);
  moved_ = (moved_ + middle - at) * (zoom_ / before) + at - middle;
  update();
}

void MovesView::wheelEvent(QWheelEvent* event) {
  zoom(std::pow(1.0015, event->angleDelta().y()), event->position());
  event->accept();
}

void MovesView::mousePressEvent(QMouseEvent* event) {
  pressed_at_ = event->position();
  dragged_ = false;
}

void MovesView::mouseMoveEvent(QMouseEvent* event) {
  if (!(event->buttons() & Qt::LeftButton)) return;
  if (!dragged_ && (event->position() - pressed_at_).manhattanLength() < 4) return;
  dragged_ = true;
  moved_ += event->position() - pressed_at_;
  pressed_at_ = event->position();
  update();
}

// The nearest fed move within a few pixels.
void MovesView::mouseReleaseEvent(QMouseEvent* event) {
  if (dragged_ || !program_ || program_->moves->moves.empty()) return;
  const Wanted w = wanted();
  const QPointF at = event->position();
  double nearest = 64;
  std::optional<std::size_t> found;
  QPointF from;
  for (const ProgramMove& m : w.moves->moves) {
    const QPointF to(w.dx + m.x * w.scale, w.dy - m.y * w.scale);
    const QPointF start = from;
    from = to;
    if (m.jump || !is_fed(m.kind)) continue;
    const QPointF along = to - start;
    const double length = QPointF::dotProduct(along, along);
    const double part = length > 0 ? std::clamp(QPointF::dotProduct(at - start, along) / length, 0.0, 1.0) : 0;
    const QPointF off = at - (start + along * part);
    if (const double far = QPointF::dotProduct(off, off); far < nearest) nearest = far, found = m.block;
  }
  if (!found) return;
  show_block(*found);
  emit block_chosen(*found);
}

void MovesView::mouseDoubleClickEvent(QMouseEvent*) { fit(); }

void MovesView::keyPressEvent(QKeyEvent* event) {
  const QPointF middle(width() / 2.0, (height() - legend_height) / 2);
  constexpr double step = 40;
  switch (event->key()) {
    case Qt::Key_Plus:
    case Qt::Key_Equal: return zoom(1.25, middle);
    case Qt::Key_Minus: return zoom(0.8, middle);
    case Qt::Key_F: return fit();
    case Qt::Key_Left: moved_.rx() += step; return update();
    case Qt::Key_Right: moved_.rx() -= step; return update();
    case Qt::Key_Up: moved_.ry() += step; return update();
    case Qt::Key_Down: moved_.ry() -= step; return update();
    default: QWidget::keyPressEvent(event);
  }
}

}  // namespace pecorra

#include "moc_moves_view.cpp"
