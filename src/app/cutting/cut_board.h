// What if: depth, width, speed, fz and stick-out of the current cut, to type or drag, with all figures and curves
// following. The shop is not changed until the values are applied.
#pragma once

#include <QGridLayout>
#include <QLabel>
#include <QPushButton>
#include <QWidget>
#include <array>

#include "app/cutting/curve_view.h"
#include "app/widgets/quantity_edit.h"
#include "app/widgets/track.h"
#include "app/workspace.h"
#include "shop/cut_in_front.h"

namespace pecorra {

class CutBoard : public QWidget {
  Q_OBJECT
 public:
  CutBoard(Workspace& workspace, QWidget* parent = nullptr);
  // Nothing: no numbers here, and `why_not` says why. `of_job`: it is kept in the operation, not as a recipe.
  void show_cut(const std::optional<CutInFront>& cut, const QString& why_not, bool of_job);
  const std::optional<CutInFront>& cut() const { return cut_; }
  CurveView& curve_view(CurveKind kind) const { return *curves_[static_cast<std::size_t>(kind)]; }
  void start();  // what is typed next goes into the first field

 signals:
  void left();  // back to the list
  void kept();  // as a recipe, or in the operation
  void sheet_wanted();
  void saving_wanted();

 private:
  struct Input {
    const Property<WhatIf>* property;
    QuantityEdit* field;
    Track* track;
    QLabel *name, *unit;
    std::optional<double> typed;  // what stands in the field while it is being typed
  };
  void try_value(const Property<WhatIf>& property, std::optional<double> value);
  void show_inputs();
  void show_figures();
  QString why_no_curve(CurveKind kind) const;

  Workspace& workspace_;
  std::optional<CutInFront> cut_;
  QLabel *title_, *about_, *empty_;
  QPushButton *usual_, *keep_, *sheet_, *save_, *close_;
  QWidget* body_;
  std::vector<Input> inputs_;
  QGridLayout* figures_;
  std::vector<std::pair<QLabel*, QLabel*>> figure_labels_;
  std::array<CurveView*, 6> curves_{};
};

}  // namespace pecorra
