// The selected cutter at the right: to scale, with headroom and trail in the context, or its fields.
#pragma once

#include <QStackedWidget>
#include <QWidget>

#include "app/cutters/assembly_panel.h"
#include "app/cutters/cutter_form.h"
#include "app/cutters/history_panel.h"
#include "app/widgets/bench_head.h"
#include "app/widgets/conditions_panel.h"
#include "app/widgets/cutter_drawing.h"
#include "app/widgets/lazy_widget.h"
#include "app/widgets/switch_row.h"
#include "app/workspace.h"

namespace pecorra {

class PickList;

class CutterBench : public LazyWidget {
  Q_OBJECT
 public:
  enum Side { conditions, sizes, assembly, history };
  CutterBench(Workspace& workspace, QWidget* parent = nullptr);
  void show_side(Side side);
  Side side() const { return static_cast<Side>(stack_->currentIndex()); }
  CutterForm& form() { return *form_; }
  AssemblyPanel& assembly_panel() { return *assembly_; }
  HistoryPanel& history_panel();  // made on first use
  CutterDrawing& drawing() { return *drawing_; }
  // Shows another cutter behind this one, or none.
  void choose_ghost();
  // Saves the current conditions as a recipe.
  void keep_recipe();
  // The cut shown on the bench, with trial values; nothing without speed and feed, and `why_not` says why.
  const std::optional<CutInFront>& cut() const { return shown_.cut; }
  const QString& why_not() const { return shown_.why_not; }
  // Applies the smallest change that meets the tightest limit; tells if there is none.
  void take_first_change();
  ConditionsPanel& conditions_panel() { return *conditions_; }
  // Shows an outline from a file behind this one: the maker's, or a measured one.
  void read_ghost(const QString& file);

 signals:
  void source_clicked(const pecorra::TrailTarget& target);
  void save_wanted();
  void what_if_wanted();
  void cut_changed();
  void ghost_outline_wanted();
  void job_wanted(const pecorra::Id& job, int operation);
  void said(const QString& what, bool fault);

 protected:
  void refresh() override;

 private:
  void refresh_cut();
  void drag_cut(const QString& key, double value, bool done);
  void show_ghost(Profile outline);
  void draw(const Cutter& cutter, const Assembly* held, const DrawnCut& cut);

  Workspace& workspace_;
  BenchHead* head_;
  CutterDrawing* drawing_;
  QStackedWidget* stack_;
  SwitchRow* sides_;
  ConditionsPanel* conditions_;
  CutterForm* form_;
  AssemblyPanel* assembly_;
  HistoryPanel* history_ = nullptr;
  QPushButton *ghost_, *save_;
  // The source followed instead of the automatic one, for this cutter and operation.
  std::optional<Id> follow_;
  std::pair<Id, OperationKind> follow_for_;
  std::vector<std::optional<Id>> followed_;  // behind the names on the panel
  ShownConditions shown_;
  PickList* ghosts_ = nullptr;  // made on first use
};

// Maker, order code, material and holder in one line.
QString cutter_subtitle(const ShopState& state, const Cutter& cutter, UnitSystem units);
// The cut of an operation as the drawing shows it.
DrawnCut drawn_cut(OperationKind operation, const std::optional<double>& ap_mm, const std::optional<double>& ae_mm);

}  // namespace pecorra
