// Programs made elsewhere that the shop keeps, each with how it stands; worked out aside, one after the other.
#pragma once

#include <QLabel>
#include <QTableView>
#include <map>

#include "app/retune/program_folders.h"
#include "app/widgets/lazy_widget.h"
#include "app/widgets/text_model.h"
#include "app/workspace.h"

namespace pecorra {

class FitColumns;

class ProgramList : public LazyWidget {
  Q_OBJECT
 public:
  explicit ProgramList(Workspace& workspace, QWidget* parent = nullptr);
  QTableView& table() { return *table_; }
  TextModel& model() { return *model_; }
  ProgramFolders& folders() { return *folders_; }
  bool is_complete() const { return !task_; }
  // The one that is selected goes out of the shop; its files stay.
  void delete_program();

 signals:
  void opened(const QString& file);  // one that is kept
  void file_wanted();
  void folder_wanted();  // of programs to open
  void write_all_wanted();
  void watch_wanted();
  void said(const QString& what, bool fault);

 protected:
  void refresh() override;
  void showEvent(QShowEvent* event) override;
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  enum Column { name, material, machine, sections, time, state };
  void next();
  void show_lines();
  const RetunedProgram* current() const;

  Workspace& workspace_;
  TextModel* model_;
  QTableView* table_;
  FitColumns* columns_;
  QLabel* empty_;
  ProgramFolders* folders_;
  struct Known {
    ProgramSummary summary;
    RetunedProgram of;
    std::vector<std::uint64_t> from;
  };
  std::map<Id, Known> known_;
  TaskPointer task_;
};

}  // namespace pecorra
