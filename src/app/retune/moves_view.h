// Plan view of a program's moves, coloured by what becomes of their feed. Very many are drawn on another thread; until
// they are there, the last picture is shown stretched to where it belongs.
#pragma once

#include <QFutureWatcher>
#include <QImage>
#include <QWidget>
#include <atomic>
#include <memory>

#include "app/look/look.h"
#include "shop/retune_file.h"

namespace pecorra {

class MovesView : public QWidget {
  Q_OBJECT
 public:
  // By what becomes of the feed, or by the feed as it is or becomes.
  enum Colouring { change, was, becomes };
  explicit MovesView(QWidget* parent = nullptr);
  ~MovesView() override;
  void show_program(std::shared_ptr<const RetunedFile> program, UnitSystem units);
  void show_section(int section);
  // The move of a block, with a mark at its end.
  void show_block(std::size_t block);
  void set_colouring(Colouring colouring);
  Colouring colouring() const { return colouring_; }
  void fit();

 signals:
  void block_chosen(std::size_t block);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  struct Wanted {
    std::shared_ptr<const ProgramMoves> moves;
    double scale = 1, dx = 0, dy = 0;  // pixel = dx + x·scale, dy − y·scale
    QSize size;
    double dots = 1;
    int section = -1;
    Colouring colouring = change;
    bool night = false;
    bool operator==(const Wanted&) const = default;
  };
  struct Work {
    Wanted wanted;
    Colours colours;  // looked up on the interface thread
    std::atomic<bool> stop = false;
  };
  static QImage draw(const Work& work);
  Wanted wanted() const;
  void begin(Wanted wanted);
  void zoom(double factor, QPointF at);
  void draw_legend(QPainter& p) const;

  std::shared_ptr<const RetunedFile> program_;
  UnitSystem units_{};
  Colouring colouring_ = change;
  int section_ = -1;
  std::optional<QPointF> mark_;  // where the move in front ends, mm
  double zoom_ = 1;
  QPointF moved_, pressed_at_;
  bool dragged_ = false;
  QImage image_;
  Wanted shown_, next_;
  bool is_next_ = false;
  std::shared_ptr<Work> work_;
};

}  // namespace pecorra
