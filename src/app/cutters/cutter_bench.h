// The selected cutter at the right: to scale, with headroom and trail in the context, or its fields.
#pragma once

#include <QButtonGroup>
#include <QLabel>
#include <QScrollArea>
#include <QStackedWidget>
#include <QWidget>

#include "app/cutters/cutter_form.h"
#include "app/widgets/cutter_drawing.h"
#include "app/widgets/headroom_bars.h"
#include "app/widgets/trail_view.h"
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
  QLabel *number_, *title_, *subtitle_, *figures_;
  CutterDrawing* drawing_;
  QStackedWidget* stack_;
  QButtonGroup* sides_;
  HeadroomBars* headroom_;
  TrailView* trail_;
  CutterForm* form_;
};

// A small heading in walnut, for the sections of a bench.
QLabel* bench_heading(const QString& text);
// Two or more buttons of which one is down.
QWidget* switch_row(QButtonGroup*& group, const QStringList& names, QWidget* parent);

}  // namespace pecorra
