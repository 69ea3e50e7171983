// Plan view of a job: the stock, the lines that can be picked, and the toolpaths, with a side view of the heights
// below. A click picks a line; the wheel zooms, dragging moves, or pulls a hole of a pattern.
#pragma once

#include <QPixmap>
#include <QPushButton>
#include <QWidget>
#include <functional>
#include <optional>

#include "app/jobs/path_image.h"
#include "app/jobs/path_trace.h"
#include "core/motion/path_time.h"
#include "shop/operation_edit.h"

namespace pecorra {

// What of a job is in front.
struct PathFocus {
  Places operations;  // their paths stand out
  int front = -1;     // of these, the one whose entry and features are shown
  QStringList lit;    // lines that stand out besides
  int setup = -1;     // whose stock and zero point are shown; else that of the operation in front
  bool operator==(const PathFocus&) const = default;
};

// The cutter that is shown at work, to scale.
struct CutterShown {
  Place3 at;  // its tip
  double diameter_mm = 0;
  // Right-hand halves of their outlines: x from the axis, y above the tip.
  QPolygonF cutter, holder;
  bool cuts = false;
};

class PathView : public QWidget {
  Q_OBJECT
 public:
  explicit PathView(QWidget* parent = nullptr);
  // `planned`: its operations, or none yet. `trial_of`: the job with whose drawing and features it is tried, if any.
  void show_job(std::shared_ptr<const Job> job, const PlannedOperations& planned, const PathFocus& focus,
                UnitSystem units, std::shared_ptr<const Job> trial_of = nullptr);
  // While it is shown, the side view is to scale, too.
  void show_cutter(std::optional<CutterShown> cutter);
  // What is left of the stock, seen from above, in place of the whole; `plan` in mm.
  void show_stock(QImage image, QRectF plan);
  void set_colouring(PathColours colouring);
  void set_side_view(bool on);
  bool has_side_view() const { return side_on_; }
  PathColours colouring() const { return colouring_; }
  const QStringList& lit() const { return lit_; }
  // From mm in plan to pixels.
  QTransform to_screen() const;
  // Holes that stand out can be pulled to another place.
  void let_holes_be_dragged(bool on) { holes_move_ = on; }

 signals:
  void feature_clicked(const QString& key, Qt::KeyboardModifiers modifiers);
  void place_clicked(QPointF mm);              // with Alt
  void move_clicked(int operation, int move);  // again at the same place: the next one there
  void hole_dragged(const QString& key, int hole, QPointF mm, bool whole);
  void look_changed();  // colours or side view, by the user

 protected:
  void paintEvent(QPaintEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  void leaveEvent(QEvent* event) override;

 private:
  QRectF world() const;
  QRect plan_rect() const;
  QRect side_rect() const;
  QString feature_at(QPointF point) const;
  // Operation and move of the paths within reach of a point, in the order of the program: of what stands out, else of
  // any.
  std::vector<std::pair<int, int>> moves_at(QPointF point) const;
  void pull(QPointF point, bool whole);
  void say_buttons();
  const Operation* front() const;
  const Setup* setup() const;
  bool is_chosen(std::size_t operation) const;
  void draw_plan(QPainter& p);
  void draw_outlines(QPainter& p, const QTransform& t);
  void draw_pulled(QPainter& p) const;
  void draw_side(QPainter& p);
  void draw_stock(QPainter& p, const QTransform& t) const;
  void draw_cutter(QPainter& p, const QTransform& t) const;
  void draw_cutter_from_side(QPainter& p, const std::function<QPointF(double, double)>& to_screen) const;
  void draw_entries(QPainter& p, const QTransform& t) const;
  void draw_paths(QPainter& p, QRect box, const Projection& project, PathImage& image);
  void draw_legend(QPainter& p) const;

  std::shared_ptr<const Job> job_;
  std::vector<std::shared_ptr<const PathTrace>> traces_;
  std::size_t chords_ = 0;  // of all of them
  float lowest_ = 0, highest_ = 0;
  std::vector<FeatureOutline> outlines_;
  std::shared_ptr<const Job> outlined_;
  QPixmap plain_;  // the outlines
  QTransform plain_at_;
  QColor plain_ink_;
  PathFocus focus_;
  QStringList lit_;
  UnitSystem units_ = UnitSystem::metric;
  StockBlock stock_;
  PathColours colouring_ = PathColours::by_move;
  bool side_on_ = true;
  QPushButton *colours_button_, *side_button_;
  PathImage *plan_image_, *side_image_;
  std::optional<CutterShown> cutter_;
  QImage stock_left_;
  QRectF stock_left_plan_;
  QString under_mouse_;
  std::pair<int, int> clicked_move_{-1, -1};
  double zoom_ = 1;
  QPointF moved_, grabbed_, moved_before_;
  bool dragging_ = false, holes_move_ = false;
  std::optional<std::pair<std::string, std::size_t>> pulled_;  // hole of a feature
  std::vector<Point2> pulled_to_;                              // where its holes would be
  double pulled_mm_ = 0;                                       // their diameter
  QPointF pulled_place_;
};

}  // namespace pecorra
