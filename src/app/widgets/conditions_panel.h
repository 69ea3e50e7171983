// What a cut does, in one column: figures, headroom, trail. The same for a cutter in the context and for an operation of
// a job.
#pragma once

#include <QLabel>
#include <QWidget>

#include "app/widgets/headroom_bars.h"
#include "app/widgets/switch_row.h"
#include "app/widgets/trail_view.h"
#include <QPushButton>

#include "core/mechanics/suggest.h"

namespace pecorra {

struct ShownConditions {
  std::optional<OperationKind> operation;
  CutReport report;
  Coolant coolant = Coolant::off;
  std::optional<Suggestion> suggestion;
  Trail trail;
  QString why_not;  // instead of figures
  QString offer;    // what a button below offers; empty: nothing
  QString second_offer;
  QStringList followed;  // what can be followed, the first is what comes by itself; one or none: nothing to choose
  int follows = 0;
};

class ConditionsPanel : public QWidget {
  Q_OBJECT
 public:
  explicit ConditionsPanel(QWidget* parent = nullptr);
  void show_conditions(const ShownConditions& shown, UnitSystem units);

 signals:
  void source_clicked(const pecorra::TrailTarget& target);
  void offer_taken();
  void second_offer_taken();
  void follow_chosen(int index);

 private:
  QLabel* figures_;
  HeadroomBars* headroom_;
  TrailView* trail_;
  QPushButton *offer_, *second_offer_;
  SwitchRow* followed_;
  QLabel* notes_;
};

// Puts a widget into a scroll area that scrolls up and down only.
QWidget* scrolled(QWidget* inside);

}  // namespace pecorra
