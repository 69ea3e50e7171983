// A cutter in its holder, upright and to scale, with dimension lines and the cut it makes. The wheel zooms, dragging
// pans, a double click shows all again; the end of a dimension can be dragged.
#pragma once

#include <QWidget>
#include <optional>
#include <tl/expected.hpp>

#include "app/widgets/sheet_painter.h"

namespace pecorra {

class CutterDrawing : public QWidget {
  Q_OBJECT
 public:
  explicit CutterDrawing(QWidget* parent = nullptr);

  void show_cutter(const Cutter* cutter, const Holder* holder, std::optional<double> stickout_mm, const DrawnCut& cut,
                   UnitSystem units);
  // Only these dimensions can be dragged; by itself all can.
  void set_draggable(const QStringList& keys) { draggable_ = keys; }
  void set_lit(const QString& key);
  // Another outline behind it, for comparison; empty: none.
  void set_ghost(Profile outline);
  // Between holder and cutter; it counts from the next show_cutter on.
  void set_extension(const std::optional<double>& diameter_mm, const std::optional<double>& length_mm) {
    wish_.extension_diameter_mm = diameter_mm;
    wish_.extension_length_mm = length_mm;
  }
  bool has_ghost() const { return !extras_.ghost.empty(); }
  void set_wall(const std::optional<Wall>& wall);
  void fit();
  void zoom_by(double factor, QPointF about);
  double zoom() const { return wish_.zoom; }
  // The whole drawing as an "svg", "dxf" or "pdf" file, or why there is none.
  tl::expected<QByteArray, QString> picture(const QString& ending) const;
  QSize sizeHint() const override { return {370, 220}; }
  // As it is drawn.
  const CutterSheet& sheet() const;

 signals:
  void dimension_clicked(const QString& key);
  // Its end is being dragged; `done` when it is let go.
  void dimension_dragged(const QString& key, double value_mm, bool done);
  void drag_left();

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void resizeEvent(QResizeEvent*) override { stale_ = true; }

 private:
  struct Drag {
    QString key;  // empty: the picture is moved
    QPointF from;
    double start_mm = 0, value_mm = 0, mm_per_pixel = 0;
    bool vertical = false, moved = false;
    double pan_x_mm = 0, pan_y_mm = 0;
  };
  const DimensionMark* text_at(QPointF point) const;
  const DimensionMark* grip_at(QPointF point) const;
  void changed();

  std::optional<Cutter> cutter_;
  Cutter fitting_;  // the last sizes of this cutter that fitted together
  std::optional<Holder> holder_;
  SheetWish wish_;
  SheetExtras extras_;
  QString fault_;
  std::optional<QStringList> draggable_;
  std::optional<Drag> drag_;
  mutable CutterSheet sheet_;
  mutable bool stale_ = true;
};

}  // namespace pecorra
