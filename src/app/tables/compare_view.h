// Two cutters, materials or tables side by side. Only differences are highlighted.
#pragma once

#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QTableView>

#include "app/widgets/switch_row.h"
#include "app/widgets/text_model.h"
#include "app/workspace.h"

namespace pecorra {

class CompareView : public QWidget {
  Q_OBJECT
 public:
  enum Kind { cutters, materials, tables };
  CompareView(Workspace& workspace, QWidget* parent = nullptr);
  void compare(Kind kind, const Id& left, const Id& right);
  TextModel& model() { return *model_; }
  QTableView& table() { return *view_; }
  QString summary() const { return summary_->text(); }

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void fill_choices();
  void refresh();
  struct Line {
    QString label, left, right, more;  // `more`: by how much
    bool differs = false;
  };
  std::vector<Line> cutter_lines(const Cutter& a, const Cutter& b) const;
  std::vector<Line> material_lines(const WorkMaterial& a, const WorkMaterial& b) const;
  std::vector<Line> table_lines(const ConditionTable& a, const ConditionTable& b) const;

  Workspace& workspace_;
  SwitchRow* kinds_;
  QComboBox *left_, *right_;
  QPushButton *swap_, *only_;
  QLabel* summary_;
  TextModel* model_;
  QTableView* view_;
  Kind kind_ = cutters;
  bool filling_ = false, stale_ = true;
};

}  // namespace pecorra
