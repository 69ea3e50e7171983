// A cutter in its holder, upright and to scale, with dimension lines and the cut it makes.
#pragma once

#include <QPainterPath>
#include <QWidget>
#include <optional>
#include <vector>

#include "core/conditions/conditions.h"
#include "core/cutter/kinds.h"
#include "core/holder/holder.h"

namespace pecorra {

// The silhouette as a path, both sides of the axis; x to the right, y up, in mm.
QPainterPath silhouette_path(const Profile& profile);
// Only the part that cuts.
QPainterPath cutting_path(const Profile& profile);

// The silhouette small, for a row of a list.
void draw_cutter_icon(QPainter& painter, QRectF box, const Cutter& cutter, const QColor& colour);

// A round length for a scale bar, not longer than this.
double nice_length(double longest);

struct DrawnCut {
  std::optional<double> ap_mm, ae_mm;
  bool both_sides = false;  // a slot
  bool hole = false;
};

class CutterDrawing : public QWidget {
  Q_OBJECT
 public:
  explicit CutterDrawing(QWidget* parent = nullptr);

  void show_cutter(const Cutter* cutter, const Holder* holder, std::optional<double> stickout_mm, const DrawnCut& cut, UnitSystem units);
  void set_lit(const QString& key);
  QSize sizeHint() const override { return {370, 200}; }

  struct DrawnDimension {
    QString key;
    QRectF text_box;
    QRectF hit_box;
  };
  // As drawn last.
  const std::vector<DrawnDimension>& dimensions() const { return dimensions_; }

 signals:
  void dimension_clicked(const QString& key);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;

 private:
  QString dimension_at(QPointF point) const;

  std::optional<Cutter> cutter_;
  std::optional<Holder> holder_;
  std::optional<double> stickout_mm_;
  DrawnCut cut_;
  UnitSystem units_ = UnitSystem::metric;
  QString lit_;
  std::vector<DrawnDimension> dimensions_;
};

}  // namespace pecorra
