// What the window reads from files and writes to them.
#include <QFileInfo>

#include "app/look/look.h"
#include "app/widgets/file_choice.h"
#include "app/window/main_window.h"
#include "app/window/opening.h"
#include "shop/demo.h"
#include "shop/words.h"
#include "store/write_file.h"

namespace pecorra {

void MainWindow::choose_shop() {
  const QString file = QFileDialog::getOpenFileName(this, tr("Open a shop"), QFileInfo(shop_->file()).absolutePath(),
                                                    tr("Pecorra shops (*.pecorra);;All files (*)"));
  if (!file.isEmpty()) open_shop(file);
}

QString MainWindow::ask_for_new_shop(const QString& title) {
  QString file =
      QFileDialog::getSaveFileName(this, title, QFileInfo(shop_->file()).absolutePath(),
                                   tr("Pecorra shops (*.pecorra)"), nullptr, QFileDialog::DontConfirmOverwrite);
  if (file.isEmpty()) return {};
  if (!file.endsWith(QLatin1String(".pecorra"))) file += QStringLiteral(".pecorra");
  if (!QFileInfo::exists(file)) return file;
  strip_->say(tr("%1 already exists; choose another name.").arg(QFileInfo(file).fileName()), false, true);
  return {};
}

void MainWindow::make_shop() {
  const QString file = ask_for_new_shop(tr("New shop"));
  if (!file.isEmpty())
    write_new_shop(new_shop_state(QFileInfo(file).completeBaseName().toStdString()), file, tr("Shop created"));
}

void MainWindow::choose_new_shop() {
  const QString file = ask_for_new_shop(tr("Save as a new shop"));
  if (!file.isEmpty()) save_as_new_shop(file);
}

void MainWindow::save_as_new_shop(const QString& file) {
  // Includes everything, also what could not be saved to the old file.
  if (!file.isEmpty())
    write_new_shop(shop_->state(), file, tr("Copied from %1").arg(QFileInfo(shop_->file()).fileName()));
}

void MainWindow::write_new_shop(const ShopState& state, const QString& file, const QString& label) {
  write_in_background(workspace_->tasks(), state, file, label, this, [this, file](const QString& fault) {
    if (!fault.isEmpty()) return strip_->say(fault, false, true);
    close_anyway_ = shop_->saving() == Shop::Saving::failing;
    open_shop(file);
  });
}

void MainWindow::choose_drawing(bool into_this_job) {
  const QString file = ask_for_drawing(tr("Import a drawing"), tr("Drawings (*.dxf *.DXF *.svg *.SVG)"));
  if (!file.isEmpty()) jobs_page().read_drawing(file, into_this_job);
}

void MainWindow::choose_picture() {
  if (!workspace_->cutter()) return;
  const QString name = safe_file_name(text_of(workspace_->cutter()->name));
  const QString file = file_to_write(this, {tr("Save the drawing"), "folders/pictures", name + QStringLiteral(".svg"),
                                            tr("Drawings (*.svg *.dxf *.pdf)"), QStringLiteral(".svg")});
  if (file.isEmpty()) return;
  // The drawing is a widget: it is rendered here and written in the background.
  write_aside(
      file, [picture = cutter_bench_->drawing().picture(QFileInfo(file).suffix().toLower())] { return picture; },
      tr("%1 saved").arg(QFileInfo(file).fileName()));
}

void MainWindow::write_aside(const QString& file, std::function<FileBytes()> make, const QString& done) {
  workspace_->tasks().run(
      this, tr("Writing %1").arg(QFileInfo(file).fileName()),
      [file, make = std::move(make)](Task&) {
        const FileBytes bytes = make();
        return bytes ? write_file(file, *bytes) : bytes.error();
      },
      [this, done](const QString& fault) { strip_->say(fault.isEmpty() ? done : fault, false, !fault.isEmpty()); });
}

QString MainWindow::ask_for_drawing(const QString& title, const QString& kinds) {
  return file_to_read(this, title, "folders/drawings", kinds + tr(";;All files (*)"));
}

void MainWindow::choose_rows_file(bool to_read) {
  const QString kinds = tr("Spreadsheets (*.csv *.xlsx *.CSV *.XLSX);;All files (*)");
  const ConditionTable* table = tables_page().model().table();
  const QString file =
      to_read ? file_to_read(this, tr("Import rows"), "folders/tables", kinds)
              : file_to_write(this, {tr("Export rows"), "folders/tables",
                                     safe_file_name(table ? text_of(table->name) : QString()) + QStringLiteral(".xlsx"),
                                     kinds, QStringLiteral(".xlsx")});
  if (file.isEmpty()) return;
  to_read ? tables_page().read_rows(file) : tables_page().write_rows(file);
}

void MainWindow::choose_chart_file(const QString& ending, bool large) {
  const QString name = tr("Chart, %1").arg(operation_text(workspace_->context()));
  const QString with_point = QLatin1Char('.') + ending;
  const QString file = file_to_write(this, {tr("Save the chart"), "folders/tables", safe_file_name(name) + with_point,
                                            QLatin1Char('*') + with_point, with_point});
  if (!file.isEmpty()) tables_page().chart_pane().save(file, large);
}

void MainWindow::choose_outline() {
  const QString file = ask_for_drawing(tr("Import a profile"), tr("Outlines (*.dxf *.DXF *.svg *.SVG)"));
  if (!file.isEmpty()) cutter_bench_->form().outline().read_file(file);
}

void MainWindow::choose_holder_outline() {
  const QString file = ask_for_drawing(tr("Import a holder outline"), tr("Outlines (*.dxf *.DXF *.svg *.SVG)"));
  if (!file.isEmpty()) holders_page().read_outline(file);
}

void MainWindow::choose_program(bool each_setup) {
  if (!workspace_->job()) return;
  if (workspace_->is_trying())
    return strip_->say(tr("Accept or discard the trial first: programs are written from accepted values."), false,
                       true);
  const QString file = file_to_write(this, {each_setup ? tr("Write a program for each setup") : tr("Write the program"),
                                            "folders/programs", jobs_page().proposed_file() + QStringLiteral(".nc"),
                                            tr("Programs (*.nc);;All files (*)"), QStringLiteral(".nc")});
  if (!file.isEmpty()) jobs_page().write_program(file, each_setup);
}

void MainWindow::choose_foreign_program() {
  const QString file = file_to_read(this, tr("Open a program made elsewhere"), "folders/programs",
                                    tr("Programs (%1);;All files (*)")
                                        .arg(program_endings().join(QLatin1Char(' ')) + QLatin1Char(' ') +
                                             program_endings().join(QLatin1Char(' ')).toUpper()));
  if (file.isEmpty()) return;
  show_page(jobs);
  jobs_page().open_program(file);
}

void MainWindow::choose_retuned() {
  if (!workspace_->program()) return;
  const QString file =
      file_to_write(this, {tr("Write the retuned program"), "folders/programs", jobs_page().retune().proposed_file(),
                           tr("All files (*)"), QString(), QFileDialog::DontConfirmOverwrite});
  if (!file.isEmpty()) jobs_page().retune().write(file);
}

void MainWindow::choose_retune_report() {
  const RetunedProgram* program = workspace_->program();
  if (!program) return;
  const QString name = QFileInfo(text_of(program->name)).completeBaseName() + QStringLiteral("-report.pdf");
  const QString file = file_to_write(
      this, {tr("Save the report"), "folders/programs", safe_file_name(name), tr("PDF (*.pdf);;HTML (*.html)"), {}});
  if (!file.isEmpty()) jobs_page().retune().write_report(file);
}

void MainWindow::choose_program_folder() {
  const QString folder = folder_to_use(this, tr("Open all programs in a folder"), "folders/programs");
  if (!folder.isEmpty()) jobs_page().programs().folders().open_folder(folder);
}

void MainWindow::choose_folder_for_programs() {
  const QString folder = folder_to_use(this, tr("Write all programs to"), "folders/retuned");
  if (!folder.isEmpty()) jobs_page().programs().folders().write_all(folder);
}

void MainWindow::choose_watched_folder() {
  const QString from = folder_to_use(this, tr("Watch which folder?"), "folders/programs");
  if (from.isEmpty()) return;
  const QString to = folder_to_use(this, tr("Write the retuned programs to"), "folders/retuned");
  if (!to.isEmpty()) jobs_page().programs().folders().watch(from, to);
}

void MainWindow::choose_sheet(bool portrait) {
  if (!workspace_->job()) return;
  if (workspace_->is_trying())
    return strip_->say(tr("Accept or discard the trial first: the setup sheet is made from accepted values."), false,
                       true);
  const QString file = file_to_write(this, {tr("Save the setup sheet"),
                                            "folders/programs",
                                            jobs_page().proposed_file() + QStringLiteral(".pdf"),
                                            tr("PDF (*.pdf);;HTML (*.html)"),
                                            {}});
  if (!file.isEmpty()) jobs_page().write_sheet(file, portrait);
}

}  // namespace pecorra
