// The window: context line on top, rail at the left, page in the middle, bench at the right, strip at the bottom.
#pragma once

#include <QMainWindow>
#include <QSplitter>
#include <QStackedWidget>
#include <memory>
#include <vector>

#include "app/cutters/cutter_bench.h"
#include "app/cutters/cutters_page.h"
#include "app/cutting/cut_board.h"
#include "app/holders/holder_bench.h"
#include "app/holders/holders_page.h"
#include "app/jobs/feature_bench.h"
#include "app/jobs/job_bench.h"
#include "app/jobs/jobs_page.h"
#include "app/jobs/setup_bench.h"
#include "app/look/look.h"
#include "app/parts/parts_page.h"
#include "app/retune/section_bench.h"
#include "app/tables/row_bench.h"
#include "app/tables/tables_page.h"
#include "app/window/context_line.h"
#include "app/window/find_anything.h"
#include "app/window/page_rail.h"
#include "app/window/strip.h"
#include "app/workspace.h"

namespace pecorra {

class MainWindow : public QMainWindow {
  Q_OBJECT
 public:
  enum Page { cutters, holders, tables, jobs, materials, machines, stores };
  explicit MainWindow(std::unique_ptr<Shop> shop);
  ~MainWindow() override;
  // Shows it laid out, so that it is painted once.
  void appear();

  void show_page(Page page);
  Page page() const { return page_; }
  Workspace& workspace() { return *workspace_; }
  Shop& shop() { return *shop_; }
  // In the format of the file extension, in the background.
  void write_cutters(const QString& file, const std::optional<Id>& library);
  // For what is shown in the list, as PDF or CSV by its ending; aside.
  void write_stock_sheet(const QString& file);
  CuttersPage& cutters_page() { return *cutters_page_; }
  HoldersPage& holders_page();
  HolderBench& holder_bench() { return holders_page(), *holder_bench_; }
  TablesPage& tables_page();
  JobsPage& jobs_page();
  // The pages of materials, machines and the shop.
  PartsPage& parts_page(Page page);
  PartsPage& shop_page() { return parts_page(stores); }
  CutterBench& cutter_bench() { return *cutter_bench_; }
  JobBench& job_bench();
  FeatureBench& feature_bench();
  SetupBench& setup_bench();
  SectionBench& section_bench() { return job_bench(), *section_bench_; }
  ContextLine& context_line() { return *context_line_; }
  Strip& strip() { return *strip_; }
  const std::vector<Command>& commands() const { return commands_; }
  // Runs the command of that id; false when there is none.
  bool run(const QString& id);
  // What if: the cut in front with its curves, instead of the page.
  void show_cut_board(bool show);
  CutBoard& cut_board();
  bool is_cut_board_shown() const;
  void take_first_change();
  // Writes the cut sheet, or the curves, of the cut in front.
  void write_cut_sheet(const QString& file);
  void write_curves(const QString& file);
  void set_bench_folded(bool folded);
  // Opens another shop in a window of its own and closes this one.
  void open_shop(const QString& file);
  // Saves everything to another file and opens that instead.
  void save_as_new_shop(const QString& file);
  void show_things_to_try(bool show);

 protected:
  void closeEvent(QCloseEvent* event) override;
  void showEvent(QShowEvent* event) override;

 private:
  void make_commands();
  void make_library_commands(const std::function<void(const QString& id, const QString& text, const QString& keys,
                                                      std::function<void()> run)>& add);
  // Into that library; none: the one in front, or a new one of the file's name.
  void choose_cutters_to_read(const std::optional<Id>& library);
  // Of that library; none: what is selected, or what is shown.
  void choose_cutters_to_write(const std::optional<Id>& library);
  void choose_stock_sheet();
  void choose_shared_file(const Id& library);
  void choose_shared_library();
  // Restores the context line; the pace starts at 100.
  void recall_context();
  void look_for_missing();
  void remember_context() const;
  void update_bench();
  void open_source(const TrailTarget& target);
  void bind_key(const QString& id, QWidget* where);
  void choose_shop();
  void make_shop();
  void choose_new_shop();
  QString ask_for_new_shop(const QString& title);
  void write_new_shop(const ShopState& state, const QString& file, const QString& label);
  void choose_drawing(bool into_this_job);
  QString ask_for_drawing(const QString& title, const QString& kinds);
  void choose_rows_file(bool to_read);
  void choose_chart_file(const QString& ending, bool large);
  void choose_outline();
  void choose_holder_outline();
  void choose_picture();
  using FileBytes = tl::expected<QByteArray, QString>;
  // Makes what goes into the file and writes it, off this thread; the strip says `done`, or what went wrong.
  void write_aside(const QString& file, std::function<FileBytes()> make, const QString& done);
  void choose_program(bool each_setup = false);
  void choose_foreign_program();
  void choose_retuned();
  void choose_retune_report();
  void choose_program_folder();
  void choose_folder_for_programs();
  void choose_watched_folder();
  void choose_sheet(bool portrait);
  void choose_cut_sheet();
  void choose_curves_file();
  const std::optional<CutInFront>& cut_in_front();
  void update_cut_board();
  QWidget* make_things_to_try();

  std::unique_ptr<Shop> shop_;
  Workspace* workspace_;
  ContextLine* context_line_;
  PageRail* rail_;
  QSplitter* split_;
  QStackedWidget *pages_, *benches_;
  Strip* strip_;
  CuttersPage* cutters_page_;
  CutterBench* cutter_bench_;
  HoldersPage* holders_page_ = nullptr;
  HolderBench* holder_bench_ = nullptr;
  TablesPage* tables_page_ = nullptr;
  RowBench* row_bench_ = nullptr;
  JobsPage* jobs_page_ = nullptr;
  JobBench* job_bench_ = nullptr;
  FeatureBench* feature_bench_ = nullptr;
  SetupBench* setup_bench_ = nullptr;
  SectionBench* section_bench_ = nullptr;
  PartsPage* parts_pages_[3] = {};  // by page, from materials on
  CutBoard* cut_board_ = nullptr;
  Page page_ = cutters;
  FindAnything* find_;
  QWidget* to_try_ = nullptr;
  QAbstractButton *undo_ = nullptr, *redo_ = nullptr;
  std::vector<Command> commands_;
  bool close_anyway_ = false;
};

}  // namespace pecorra
