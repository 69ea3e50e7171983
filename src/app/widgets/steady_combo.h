// A combo box that ignores the wheel, so that scrolling a form does not change it.
#pragma once

#include <QComboBox>
#include <QPainter>
#include <QWheelEvent>

#include "app/look/look.h"

namespace pecorra {

class SteadyCombo : public QComboBox {
 public:
  SteadyCombo() {
    setFocusPolicy(Qt::StrongFocus);
    setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    setMinimumContentsLength(6);
  }

 protected:
  void wheelEvent(QWheelEvent* event) override { event->ignore(); }
  void paintEvent(QPaintEvent* event) override {
    QComboBox::paintEvent(event);
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(isEnabled() ? colours().accent : colours().line, 1.6, Qt::SolidLine, Qt::RoundCap));
    const QPointF middle(width() - 12, height() / 2.0 + 1);
    const QPointF points[] = {middle + QPointF(-4, -2.5), middle + QPointF(0, 2), middle + QPointF(4, -2.5)};
    p.drawPolyline(points, 3);
  }
};

}  // namespace pecorra
