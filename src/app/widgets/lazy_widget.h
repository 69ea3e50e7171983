// A widget that updates only while visible and catches up when shown.
#pragma once

#include <QWidget>

namespace pecorra {

class LazyWidget : public QWidget {
 public:
  using QWidget::QWidget;
  // Now when it is seen, else when it is shown.
  void update_when_seen() {
    stale_ = true;
    if (isVisible()) prepare();
  }
  // Before it is shown: a layout that grows while it is being shown is not measured again.
  void prepare() {
    if (!stale_) return;
    stale_ = false;
    refresh();
  }

 protected:
  virtual void refresh() = 0;
  void showEvent(QShowEvent* event) override {
    QWidget::showEvent(event);
    if (stale_)
      QMetaObject::invokeMethod(
          this, [this] { prepare(); }, Qt::QueuedConnection);
  }

 private:
  bool stale_ = true;
};

}  // namespace pecorra
