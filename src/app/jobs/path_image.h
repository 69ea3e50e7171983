// A picture of very many moves, drawn on another thread: until it is there, the last one is shown stretched to where it
// belongs by now.
#pragma once

#include <QFutureWatcher>
#include <QImage>
#include <QObject>
#include <atomic>
#include <memory>
#include <vector>

#include "app/jobs/path_trace.h"

namespace pecorra {

class PathImage : public QObject {
  Q_OBJECT
 public:
  struct Wanted {
    std::vector<std::shared_ptr<const PathTrace>> traces;
    std::vector<bool> chosen;
    PathColours colouring = PathColours::by_move;
    Projection project;
    QSize size;  // in points
    double dots = 1;
    bool night = false;
    bool operator==(const Wanted&) const = default;
  };

  explicit PathImage(QObject* parent) : QObject(parent) {}
  ~PathImage() override;
  // Draws what there is into `box`, and asks for what is wanted if that is something else.
  void draw(QPainter& p, QRect box, Wanted wanted);

 signals:
  void ready();

 private:
  void begin(Wanted wanted);

  struct Work {
    Wanted wanted;
    std::atomic<bool> stop = false;
  };
  QImage image_;
  Wanted shown_, next_;
  bool is_next_ = false;
  std::shared_ptr<Work> work_;
};

}  // namespace pecorra
