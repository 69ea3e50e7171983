#include "app/jobs/path_image.h"

#include <QCoreApplication>
#include <QThreadPool>
#include <QtConcurrent/QtConcurrentRun>

namespace pecorra {

PathImage::~PathImage() {
  if (work_) work_->stop = true;
}

void PathImage::draw(QPainter& p, QRect box, Wanted wanted) {
  if (!image_.isNull() && shown_.traces == wanted.traces) {
    // From where it was drawn to where it would be now.
    const double x = wanted.project.xx / shown_.project.xx;
    const auto down = [](const Projection& of) { return of.yy != 0 ? of.yy : of.yz; };
    const double y = down(wanted.project) / down(shown_.project);
    p.save();
    p.setClipRect(box, Qt::IntersectClip);
    p.translate(box.topLeft());
    p.translate(wanted.project.dx - shown_.project.dx * x, wanted.project.dy - shown_.project.dy * y);
    p.scale(x, y);
    p.drawImage(QPointF(0, 0), image_);
    p.restore();
  }
  if (wanted == shown_ || (work_ && work_->wanted == wanted)) return;
  if (!work_) return begin(std::move(wanted));
  work_->stop = true;
  next_ = std::move(wanted);
  is_next_ = true;
}

void PathImage::begin(Wanted wanted) {
  work_ = std::make_shared<Work>();
  work_->wanted = std::move(wanted);
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
    if (!work->stop) emit ready();
  });
  // Colours are looked up here: the look belongs to the interface.
  static QThreadPool* one = [] {
    auto* pool = new QThreadPool(QCoreApplication::instance());
    pool->setMaxThreadCount(1);  // the interface needs the other cores
    return pool;
  }();
  watcher->setFuture(QtConcurrent::run(one, [work = work_, colours = pecorra::colours()] {
    const Wanted& w = work->wanted;
    QImage image(w.size * w.dots, QImage::Format_ARGB32_Premultiplied);
    image.setDevicePixelRatio(w.dots);
    image.fill(Qt::transparent);
    QPainter p(&image);
    p.setClipRect(QRect(QPoint(0, 0), w.size));
    for (const bool front : {false, true})
      for (std::size_t i = 0; i < w.traces.size() && !work->stop; ++i)
        if (w.chosen[i] == front) draw_trace(p, *w.traces[i], front, w.colouring, colours, w.project, &work->stop);
    return image;
  }));
}

}  // namespace pecorra

#include "moc_path_image.cpp"
