// The trail: a line with a dot for each step, from the source to S and F.
#pragma once

#include <QStaticText>
#include <QWidget>
#include <map>
#include <vector>

#include "core/conditions/conditions.h"
#include "core/quantity/units.h"

namespace pecorra {

class TrailView : public QWidget {
  Q_OBJECT
 public:
  explicit TrailView(QWidget* parent = nullptr);
  void show_trail(Trail trail, UnitSystem units);
  QSize sizeHint() const override { return {360, height_for(width() > 0 ? width() : 360)}; }
  bool hasHeightForWidth() const override { return true; }
  int heightForWidth(int w) const override { return height_for(w); }

 signals:
  void source_clicked(const pecorra::TrailTarget& target);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void resizeEvent(QResizeEvent*) override {
    setMinimumHeight(height_for(width()));
    updateGeometry();
  }

 private:
  int height_for(int width) const;
  // Where each step stands, and its sentence in lines of this width.
  struct Step {
    QRect at;
    QStaticText text;
  };
  // Kept until the trail changes.
  const std::vector<Step>& steps(int width) const;
  int step_at(QPointF point) const;

  Trail trail_;
  UnitSystem units_ = UnitSystem::metric;
  mutable std::map<int, std::vector<Step>> steps_;  // by the width
};

}  // namespace pecorra
