// The selected cutter at the right: to scale, with headroom and trail in the context, or its fields.
#pragma once

#include <QStackedWidget>
#include <QWidget>

#include "app/cutters/cutter_form.h"
#include "app/widgets/bench_head.h"
#include "app/widgets/conditions_panel.h"
#include "app/widgets/cutter_drawing.h"
#include "app/widgets/switch_row.h"
#include "app/workspace.h"

namespace pecorra {

class CutterBench : public QWidget {
  Q_OBJECT
 public:
  enum Side { conditions, sizes };
  CutterBench(Workspace& workspace, QWidget* parent = nullptr);
  void show_side(Side side);
  Side side() const { return static_cast<Side>(stack_->currentIndex()); }
  CutterForm& form() { return *form_; }

 signals:
  void source_clicked(const pecorra::TrailTarget& target);

 private:
  void refresh();

  Workspace& workspace_;
  BenchHead* head_;
  CutterDrawing* drawing_;
  QStackedWidget* stack_;
  SwitchRow* sides_;
  ConditionsPanel* conditions_;
  CutterForm* form_;
};

// Maker, order code, material, holder in one quiet line.
QString cutter_subtitle(const ShopState& state, const Cutter& cutter);
// The cut of an operation as the drawing shows it.
DrawnCut drawn_cut(OperationKind operation, const std::optional<double>& ap_mm, const std::optional<double>& ae_mm);

}  // namespace pecorra
