// The cut board of the current cut, its cut sheet and curves.
#include <QFileInfo>

#include "app/cutting/cut_files.h"
#include "app/widgets/file_choice.h"
#include "app/window/main_window.h"
#include "shop/drawing_file.h"
#include "shop/task.h"
#include "shop/words.h"

namespace pecorra {

CutBoard& MainWindow::cut_board() {
  if (cut_board_) return *cut_board_;
  cut_board_ = new CutBoard(*workspace_);
  pages_->addWidget(cut_board_);
  connect(cut_board_, &CutBoard::left, this, [this] { show_cut_board(false); });
  connect(cut_board_, &CutBoard::sheet_wanted, this, &MainWindow::choose_cut_sheet);
  connect(cut_board_, &CutBoard::saving_wanted, this, &MainWindow::choose_curves_file);
  connect(cut_board_, &CutBoard::kept, this, [this] {
    if (page_ == jobs) job_bench().take_tried();
    else cutter_bench_->keep_recipe();
  });
  connect(cutter_bench_, &CutterBench::cut_changed, this, &MainWindow::update_cut_board);
  connect(&job_bench(), &JobBench::cut_changed, this, &MainWindow::update_cut_board);
  return *cut_board_;
}

bool MainWindow::is_cut_board_shown() const { return cut_board_ && pages_->currentWidget() == cut_board_; }

const std::optional<CutInFront>& MainWindow::cut_in_front() {
  return page_ == jobs ? job_bench().cut() : cutter_bench_->cut();
}

void MainWindow::update_cut_board() {
  if (is_cut_board_shown())
    cut_board_->show_cut(cut_in_front(), page_ == jobs ? job_bench().why_not() : cutter_bench_->why_not(),
                         page_ == jobs);
}

void MainWindow::show_cut_board(bool show) {
  if (!show) return show_page(page_);
  if (page_ != jobs && page_ != cutters) show_page(cutters);
  set_bench_folded(false);
  if (page_ == cutters) cutter_bench_->show_side(CutterBench::conditions);
  else job_bench().show_side(JobBench::conditions_side);
  CutBoard& board = cut_board();
  pages_->setCurrentWidget(&board);
  update_cut_board();
  board.start();
}

void MainWindow::take_first_change() {
  if (page_ == jobs) job_bench().take_first_change();
  else cutter_bench_->take_first_change();
}

namespace {

QString file_name_of(const CutInFront& cut) {
  return safe_file_name(cut.title + QStringLiteral(" ") + label_text(label_of(cut.operation)) + QStringLiteral(" ") +
                        text_of(cut.material.name));
}

}  // namespace

void MainWindow::choose_cut_sheet() {
  const auto& cut = cut_in_front();
  if (!cut) return strip_->say(tr("There is no cut to print: this cutter has no speed and feed here."), false, true);
  const QString file =
      file_to_write(this, {tr("Cut sheet"), "folders/pictures", file_name_of(*cut) + QStringLiteral(".pdf"),
                           tr("PDF (*.pdf)"), QStringLiteral(".pdf")});
  if (!file.isEmpty()) write_cut_sheet(file);
}

void MainWindow::write_cut_sheet(const QString& file) {
  const auto& cut = cut_in_front();
  if (!cut) return;
  const CurveLook look{Look::get().text(10), Look::get().text(10, true), Look::get().day(), 1, Look::get().mono(10)};
  const QString shop = text_of(workspace_->state().shop_settings().name);
  write_aside(
      file, [cut = *cut, look, shop] { return cut_sheet_pdf(cut, shop, look); },
      tr("Cut sheet saved: %1").arg(QFileInfo(file).fileName()));
}

void MainWindow::choose_curves_file() {
  const auto& cut = cut_in_front();
  if (!cut) return strip_->say(tr("There are no curves to save: this cutter has no speed and feed here."), false, true);
  const QString file = file_to_write(this, {tr("Save the curves"),
                                            "folders/pictures",
                                            file_name_of(*cut) + QStringLiteral(".png"),
                                            tr("Picture (*.png);;PDF (*.pdf);;Points as CSV (*.csv)"),
                                            {}});
  if (!file.isEmpty()) write_curves(file);
}

void MainWindow::write_curves(const QString& file) {
  const auto& cut = cut_in_front();
  if (!cut) return;
  const CurveLook look{Look::get().text(12), Look::get().text(13, true), Look::get().day(), 1, {}};
  write_aside(
      file, [cut = *cut, look, ending = QFileInfo(file).suffix().toLower()] { return curves_file(cut, ending, look); },
      tr("Curves saved: %1").arg(QFileInfo(file).fileName()));
}

}  // namespace pecorra
