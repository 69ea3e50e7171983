// What a cut does, in one column: figures, headroom, trail. The same for a cutter in the context and for an operation
// of a job.
#pragma once

#include <QLabel>
#include <QPushButton>
#include <QWidget>

#include "app/widgets/headroom_bars.h"
#include "app/widgets/switch_row.h"
#include "app/widgets/trail_view.h"
#include "shop/cut_presenter.h"

namespace pecorra {

class ConditionsPanel : public QWidget {
  Q_OBJECT
 public:
  explicit ConditionsPanel(QWidget* parent = nullptr);
  void show_conditions(const ShownConditions& shown, UnitSystem units);
  // Where nothing is tried or kept: figures, headroom and trail alone, without what could be done about them.
  void only_show() { acts_ = false; }
  HeadroomBars& headroom() { return *headroom_; }
  // The smallest change that is offered; false: none.
  bool take_first_change();

 signals:
  void source_clicked(const pecorra::TrailTarget& target);
  void offer_taken();
  void second_offer_taken();
  void follow_chosen(int index);
  void what_if_wanted();
  void usual_wanted();  // the trial ends
  // A change of one input that gets inside a limit, or another cutter.
  void change_wanted(const pecorra::Suggestion& change);
  void cutter_wanted(const pecorra::Id& cutter);

 private:
  QLabel* figures_;
  HeadroomBars* headroom_;
  TrailView* trail_;
  QPushButton *offer_, *second_offer_;
  SwitchRow* followed_;
  QLabel* notes_;
  QPushButton *what_if_, *usual_;
  Advice advice_;
  bool acts_ = true;
};

// Puts a widget into a scroll area that scrolls up and down only.
QWidget* scrolled(QWidget* inside);

}  // namespace pecorra
