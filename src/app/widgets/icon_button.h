// A drawn icon that is a button.
#pragma once

#include <QAbstractButton>
#include <QPainter>

#include "app/look/look.h"

namespace pecorra {

// A drawn icon on a button.
class IconButton : public QAbstractButton {
 public:
  IconButton(Icon icon, const QString& tip) : icon_(icon) {
    setToolTip(tip);
    setAccessibleName(tip);
    setFixedSize(30, 30);
    setFocusPolicy(Qt::TabFocus);
    connect(&Look::get(), &Look::changed, this, qOverload<>(&QWidget::update));
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const Colours& d = colours();
    if ((underMouse() && isEnabled()) || hasFocus()) {
      p.setPen(Qt::NoPen);
      p.setBrush(d.lit);
      p.drawRoundedRect(rect().adjusted(1, 1, -1, -1), 5, 5);
    }
    draw_icon(p, QRectF(6, 6, 18, 18), icon_, isEnabled() ? d.ink : d.line);
  }

 private:
  Icon icon_;
};

}  // namespace pecorra
