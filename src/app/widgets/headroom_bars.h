// One bar for each limit, worst on top.
#pragma once

#include <QWidget>
#include <vector>

#include "core/mechanics/cut.h"
#include "core/quantity/units.h"

namespace pecorra {

class HeadroomBars : public QWidget {
  Q_OBJECT
 public:
  explicit HeadroomBars(QWidget* parent = nullptr);
  void show_headroom(std::vector<Headroom> headroom, const QString& suggestion, UnitSystem units);
  QSize sizeHint() const override;
  QSize minimumSizeHint() const override { return {200, sizeHint().height()}; }

 protected:
  void paintEvent(QPaintEvent*) override;

 private:
  std::vector<Headroom> headroom_;
  QString suggestion_;
  UnitSystem units_ = UnitSystem::metric;
};

}  // namespace pecorra
