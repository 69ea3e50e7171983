// The chart: every cutter in every material for one operation. The first column and the heads stay when scrolling.
#pragma once

#include <QAbstractScrollArea>
#include <vector>

#include "app/workspace.h"

namespace pecorra {

class ChartView : public QAbstractScrollArea {
  Q_OBJECT
 public:
  ChartView(Workspace& workspace, QWidget* parent = nullptr);
  int row_count() const { return static_cast<int>(workspace_.state().cutters.size()); }
  int column_count() const { return static_cast<int>(columns_.size()); }
  // Texts of a cell: S, F, or the reason.
  QString cell_text(int row, int column) const;

 signals:
  void cell_chosen();

 protected:
  void paintEvent(QPaintEvent*) override;
  void resizeEvent(QResizeEvent*) override { update_range(); }
  void mousePressEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  void update_range();
  void recompute();
  void showEvent(QShowEvent* event) override;
  void choose(int row, int column);
  int row_of(const Id& cutter) const;
  int column_of(const Id& material) const;

  const WorkMaterial& material_at(int column) const { return workspace_.state().materials[columns_[static_cast<std::size_t>(column)]]; }

  Workspace& workspace_;
  std::vector<std::size_t> columns_;  // the materials that the shop cuts, all where it says of none
  std::vector<Resolution> cells_;  // row-major
  bool stale_ = true;              // changed while it was not seen
};

}  // namespace pecorra
