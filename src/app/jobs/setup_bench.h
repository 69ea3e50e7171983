// The selected setup of a job at the right: stock, zero point, work offset, retract plane, clamps.
#pragma once

#include <QLineEdit>
#include <QPushButton>

#include "app/widgets/bench_head.h"
#include "app/widgets/lazy_widget.h"
#include "app/widgets/pick_list.h"
#include "app/widgets/property_form.h"
#include "app/workspace.h"

namespace pecorra {

class SetupBench : public LazyWidget {
  Q_OBJECT
 public:
  explicit SetupBench(Workspace& workspace, QWidget* parent = nullptr);
  void show_setup(int index);
  void choose_zero();
  void type_stock();
  PropertyForm& form() { return *form_; }

 signals:
  void said(const QString& what, bool fault);

 protected:
  void refresh() override;

 private:
  void accept(const QString& key, const Value& value, const QString& typed);
  void accept_size();

  Workspace& workspace_;
  std::size_t at_ = 0;
  BenchHead* head_;
  PropertyForm *form_, *clamps_form_;
  QLineEdit* size_;
  QPushButton* zero_;
  QLabel* clamps_hint_;
  PickList* places_;
  std::vector<std::string> built_clamps_;
};

}  // namespace pecorra
