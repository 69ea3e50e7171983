// One section of a program being retuned: its cutter and why, what is stated for it, its limits and its trail.
#pragma once

#include <QPushButton>

#include "app/widgets/bench_head.h"
#include "app/widgets/conditions_panel.h"
#include "app/widgets/pick_list.h"
#include "app/widgets/property_form.h"
#include "app/workspace.h"
#include "shop/retune_file.h"

namespace pecorra {

class SectionBench : public QWidget {
  Q_OBJECT
 public:
  explicit SectionBench(Workspace& workspace, QWidget* parent = nullptr);
  // -1: none.
  void show_section(std::shared_ptr<const RetunedFile> program, int section);
  void pick_cutter();
  PropertyForm& form() { return *form_; }
  PropertyForm& whole_program() { return *whole_; }
  ConditionsPanel& conditions() { return *conditions_; }

 signals:
  void source_clicked(const pecorra::TrailTarget& target);

 private:
  const ProgramSection* section() const;
  const RetunedSection* planned() const;
  void accept(const QString& key, const Value& value, const QString& typed);
  void accept_whole(const QString& key, const Value& value, const QString& typed);
  void set_cutter(const Id& id);
  void apply(const RetunedProgram& after, const QString& label);

  Workspace& workspace_;
  std::shared_ptr<const RetunedFile> program_;
  int at_ = -1;
  BenchHead* head_;
  QLabel *why_, *notes_, *whole_head_;
  QPushButton* pick_;
  PropertyForm *form_, *whole_;
  ConditionsPanel* conditions_;
  PickList* cutters_;
};

}  // namespace pecorra
