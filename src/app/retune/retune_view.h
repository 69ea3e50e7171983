// A program made elsewhere that gets its speeds and feeds from the tables: its sections, the program before and after,
// and its moves.
#pragma once

#include <QLabel>
#include <QPushButton>
#include <QSplitter>
#include <QTableView>

#include "app/retune/difference_view.h"
#include "app/retune/left_alone_list.h"
#include "app/retune/moves_view.h"
#include "app/widgets/lazy_widget.h"
#include "app/widgets/switch_row.h"
#include "app/widgets/text_model.h"
#include "app/workspace.h"

namespace pecorra {

class FitColumns;

class RetuneView : public LazyWidget {
  Q_OBJECT
 public:
  explicit RetuneView(Workspace& workspace, QWidget* parent = nullptr);

  // Reads it off the interface thread. A program that the shop knows already keeps what is stated for it; another one
  // is kept from then on.
  void open_file(const QString& file);
  // Reads its file again.
  void read_again();
  // Off the interface thread. A file that is there is renamed first.
  void write(const QString& out);
  QString proposed_file() const;  // beside the program
  void leave_out(bool out);       // the section in front
  // The report on it, PDF or HTML by its ending; off the interface thread.
  void write_report(const QString& file);

  const std::shared_ptr<const RetunedFile>& program() const { return shown_; }
  int section() const;
  bool is_worked_out() const { return !task_ && is_current(); }
  QTableView& table() { return *table_; }
  TextModel& model() { return *model_; }
  DifferenceView& difference() { return *difference_; }
  LeftAloneList& notice() { return *notice_; }
  MovesView& moves() { return *moves_; }

 signals:
  void said(const QString& what, bool fault);
  void closed();
  void opened();  // a program is there to be shown
  void write_wanted();
  void report_wanted();
  void section_changed();

 protected:
  void refresh() override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  enum Column { tool, comment, cutter, speed, feed, time, tightest };
  bool is_current() const;
  void keep(const ForeignProgram& read);
  void work();
  void show_result();
  void show_notice();
  // Why it cannot be worked out; empty: it can.
  QString lack() const;
  void fit_list();

  Workspace& workspace_;
  TextModel* model_;
  QTableView* table_;
  FitColumns* columns_;
  QLabel *title_, *facts_, *empty_;
  LeftAloneList* notice_;
  QPushButton *back_, *again_, *report_, *write_, *next_;
  SwitchRow* colouring_;
  DifferenceView* difference_;
  MovesView* moves_;
  QSplitter *split_, *lower_;
  QString reading_;  // the file that is being read
  std::optional<ForeignProgram> file_;
  std::shared_ptr<const RetunedFile> shown_;
  TaskPointer task_;
  // What was worked out, and from which state of its sources.
  RetunedProgram of_;
  std::vector<std::uint64_t> from_;
  QString fault_;
  bool keeping_ = false;
  bool list_is_sized_ = false;  // by the user
};

}  // namespace pecorra
