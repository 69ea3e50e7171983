// One bar for each limit, worst on top: the share used beside a straight wall, and lighter up to the worst place of the
// path. Under a limit that is close or broken stand the changes that get inside, to be clicked.
#pragma once

#include <QStringList>
#include <QWidget>
#include <vector>

#include "core/mechanics/cut.h"
#include "core/quantity/units.h"

namespace pecorra {

// The changes that would meet one limit, in words.
struct HeadroomHelp {
  Limit limit = Limit::spindle_speed;
  QStringList changes;
};

class HeadroomBars : public QWidget {
  Q_OBJECT
 public:
  explicit HeadroomBars(QWidget* parent = nullptr);
  void show_headroom(std::vector<Headroom> headroom, const HeadroomHelp& help, UnitSystem units);
  QSize sizeHint() const override { return {360, height_for(width())}; }
  QSize minimumSizeHint() const override { return {200, sizeHint().height()}; }
  const QStringList& changes() const { return help_.changes; }
  // Position of a change; for clicking and for tests.
  QRectF change_rect(int index) const;

 signals:
  void change_clicked(int index);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void resizeEvent(QResizeEvent*) override { updateGeometry(); }

 private:
  int height_for(int width) const;
  // The links of the help, laid out in lines below its bar.
  std::vector<QRectF> links(int width, int* lines) const;
  int help_row() const;
  int row_at(double y) const;  // of the headroom; -1: none

  std::vector<Headroom> headroom_;
  HeadroomHelp help_;
  UnitSystem units_ = UnitSystem::metric;
};

}  // namespace pecorra
