// The chart: every cutter in every material for one operation, or one cutter's operations in every material. The first
// column and the heads stay when scrolling.
#pragma once

#include <QAbstractScrollArea>
#include <QTimer>

#include "app/workspace.h"
#include "shop/chart_grid.h"

namespace pecorra {

Mark mark_of(const ChartCell& cell);

// The quantity shown as cell tint.
enum class Heat { none, speed, feed, removal, headroom };

class ChartView : public QAbstractScrollArea {
  Q_OBJECT
 public:
  static constexpr int name_width = 212, cell_width = 150;
  ChartView(Workspace& workspace, QWidget* parent = nullptr);
  int row_count() const { return grid_.row_count(); }
  int column_count() const { return grid_.column_count(); }
  // Texts of a cell: S, F, or the reason.
  QString cell_text(int row, int column) const;
  const ChartGrid& grid() const { return grid_; }

  void set_rows(ChartRows rows);
  ChartRows rows() const { return wish_.rows; }
  // With the current cutter.
  ChartWish wish() const;
  void set_text(const QString& text);
  void set_only_able(bool only);
  void set_all_materials(bool all);
  void set_heat(Heat heat);
  Heat heat() const { return heat_; }
  bool is_complete() const { return !stale_ && grid_.is_complete(); }

 signals:
  void cell_chosen();
  void cell_opened();  // its source is to be opened
  void counted();

 protected:
  void paintEvent(QPaintEvent*) override;
  void resizeEvent(QResizeEvent*) override { update_range(); }
  void mousePressEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  bool viewportEvent(QEvent* event) override;

 private:
  void change(const ChartWish& wish);
  void again();
  void update_range();
  void recompute();
  void work();
  void showEvent(QShowEvent* event) override;
  void choose(int row, int column);
  int row_now() const;
  std::pair<int, int> cell_at(QPoint point) const;
  QColor tint(int row, int column) const;

  Workspace& workspace_;
  ChartGrid grid_;
  ChartWish wish_;
  Heat heat_ = Heat::none;
  float heat_low_ = 0, heat_high_ = 0;  // of what is calculated so far
  QTimer background_;
  bool stale_ = true;  // changed while it was not seen
};

}  // namespace pecorra
