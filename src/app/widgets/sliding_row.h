// A row of any number of things in one line, which the wheel and the keyboard's focus push sideways where they do not
// fit.
#pragma once

#include <QApplication>
#include <QEvent>
#include <QWheelEvent>
#include <QWidget>
#include <algorithm>

namespace pecorra {

class SlidingRow : public QWidget {
 public:
  explicit SlidingRow(QWidget* row, QWidget* parent = nullptr) : QWidget(parent), row_(row) {
    row_->setParent(this);
    row_->installEventFilter(this);
    setFixedHeight(30);
    setMinimumWidth(40);
    connect(qApp, &QApplication::focusChanged, this, [this](QWidget*, QWidget* now) {
      if (!now || !row_->isAncestorOf(now)) return;
      const int left = now->mapTo(row_, QPoint()).x();
      push_to(std::clamp(at_, left + now->width() - width(), std::max(left, left + now->width() - width())));
    });
  }
  QSize sizeHint() const override { return {row_->sizeHint().width(), height()}; }

 protected:
  void resizeEvent(QResizeEvent*) override { push_to(at_); }
  void wheelEvent(QWheelEvent* event) override {
    const QPoint turned = event->angleDelta();
    push_to(at_ - (turned.x() ? turned.x() : turned.y()) / 2);
    event->accept();
  }
  bool eventFilter(QObject* object, QEvent* event) override {
    if (event->type() == QEvent::LayoutRequest) push_to(at_);
    return QWidget::eventFilter(object, event);
  }

 private:
  void push_to(int at) {
    const int wide = std::max(width(), row_->sizeHint().width());
    at_ = std::clamp(at, 0, wide - width());
    row_->setGeometry(-at_, 0, wide, height());
  }
  QWidget* row_;
  int at_ = 0;
};

}  // namespace pecorra
