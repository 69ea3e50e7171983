// A line of text that ends in … where there is no room for all of it.
#pragma once

#include <QLabel>
#include <QPainter>
#include <QStyle>

namespace pecorra {

class ElidingLabel : public QLabel {
 public:
  using QLabel::QLabel;
  QSize minimumSizeHint() const override { return {fontMetrics().averageCharWidth() * 8, sizeHint().height()}; }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter painter(this);
    const QRect inside = contentsRect();
    style()->drawItemText(&painter, inside, static_cast<int>(alignment()), palette(), isEnabled(),
                          fontMetrics().elidedText(text(), Qt::ElideRight, inside.width()), foregroundRole());
  }
};

}  // namespace pecorra
