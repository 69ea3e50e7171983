// The selected feature of a job at the right: its numbers, its points or places, the lines it is made of.
#pragma once

#include <QPushButton>

#include "app/widgets/bench_head.h"
#include "app/widgets/lazy_widget.h"
#include "app/widgets/number_table.h"
#include "app/widgets/property_form.h"
#include "app/workspace.h"

namespace pecorra {

class FeatureBench : public LazyWidget {
  Q_OBJECT
 public:
  explicit FeatureBench(Workspace& workspace, QWidget* parent = nullptr);
  // Of the job in front; empty: none. A line of the drawing has nothing to type.
  void show_feature(const std::string& key);
  // Of a new one: its points, else its first size, are typed next.
  void start_typing();
  void paste_places();
  PropertyForm& form() { return *form_; }
  NumberTable& points() { return *points_; }

 signals:
  void said(const QString& what, bool fault);
  void renamed(const QString& key);

 protected:
  void refresh() override;

 private:
  const Feature* feature() const;
  void build_form(const Feature& feature);
  void accept(const QString& key, const Value& value, const QString& typed);
  void accept_points(const NumberTable::Rows& rows, const NumberTable::Typed& typed, const QString& what);

  Workspace& workspace_;
  std::string key_;
  std::vector<std::string> built_;  // keys of the fields that are there
  BenchHead* head_;
  PropertyForm* form_;
  NumberTable* points_;
  QLabel* made_of_;
  QPushButton *paste_, *closed_;
  bool of_holes_ = false;
};

}  // namespace pecorra
