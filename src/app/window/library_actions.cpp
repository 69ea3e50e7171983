// Cutters in and out of files, and what is done with many of them.
#include <QDate>
#include <QFileInfo>

#include "app/cutters/cutter_import.h"
#include "app/cutters/shared_lines.h"
#include "app/cutters/stock_sheet.h"
#include "app/widgets/file_choice.h"
#include "app/window/main_window.h"
#include "formats/sheet/sheet_file.h"
#include "shop/task.h"
#include "shop/words.h"
#include "store/write_file.h"

namespace pecorra {

void MainWindow::choose_cutters_to_read(const std::optional<Id>& library) {
  const QString file = file_to_read(
      this, tr("Import cutters"), "folders/libraries",
      tr("Cutters (*.json *.csv *.txt *.tsv *.xlsx *.xml *.pdf *.JSON *.CSV *.XLSX *.XML);;All files (*)"));
  if (file.isEmpty()) return;
  show_page(cutters);
  cutters_page_->import_file(file, library);
}

void MainWindow::choose_cutters_to_write(const std::optional<Id>& library) {
  const Library* of = library ? workspace_->state().libraries.find(*library) : nullptr;
  const QString name = safe_file_name(of ? text_of(of->name) : tr("Cutters"));
  QStringList kinds;
  for (const Choice& c : choices_of<CutterFormat>())
    kinds << QStringLiteral("%1 (*.%2)")
                 .arg(label_text(c.label), c.key == "mtconnect" ? QStringLiteral("xml") : text_of(c.key));
  const QString file =
      file_to_write(this, {tr("Export cutters"), "folders/libraries", name, kinds.join(QStringLiteral(";;")), {}});
  if (file.isEmpty()) return;
  write_cutters(file, library);
}

void MainWindow::write_cutters(const QString& file, const std::optional<Id>& library) {
  const auto format = format_of_file(file);
  if (!format)
    return strip_->say(tr("“.%1” is not a supported file type; use .json, .csv, .xlsx, .xml, .dxf or .svg")
                           .arg(QFileInfo(file).suffix()),
                       false, true);
  // Of a library, or what is selected.
  auto state = std::make_shared<const ShopState>(workspace_->state());
  std::vector<Id> ids;
  if (library) {
    for (const Cutter& c : state->cutters)
      if (c.library == *library) ids.push_back(c.id);
  } else if (const auto selected = cutters_page_->selected(); selected.size() > 1) {
    ids = selected;
  } else {
    ids = cutters_page_->shown();
  }
  workspace_->tasks().run(
      this, tr("Writing %1").arg(QFileInfo(file).fileName()),
      [state, ids, library, format = *format, file, units = workspace_->units()](Task&) {
        std::vector<const Cutter*> chosen;
        for (const Id& id : ids)
          if (const Cutter* c = state->cutters.find(id)) chosen.push_back(c);
        std::stable_sort(chosen.begin(), chosen.end(),
                         [](const Cutter* a, const Cutter* b) { return a->number < b->number; });
        return write_cutter_file(*state, library ? state->libraries.find(*library) : nullptr, chosen, format, file,
                                 units);
      },
      [this, file, count = ids.size()](const Written& written) {
        const QString name = QFileInfo(file).fileName();
        if (!written.fault.isEmpty()) return strip_->say(tr("%1: %2").arg(name, written.fault), false, true);
        strip_->say(written.left_out.isEmpty() ? tr("%1 cutters exported to %2").arg(count).arg(name)
                                               : tr("%1 cutters exported to %2, without %3")
                                                     .arg(count)
                                                     .arg(name, written.left_out.join(QStringLiteral(", "))),
                    false);
      });
}

void MainWindow::choose_stock_sheet() {
  const QString file = file_to_write(this, {tr("Stock-taking sheet for the cutters shown"),
                                            "folders/libraries",
                                            tr("Stock") + QStringLiteral(".pdf"),
                                            tr("To print or to fill in (*.pdf);;Table (*.csv)"),
                                            {}});
  if (file.isEmpty()) return;
  write_stock_sheet(file);
}

void MainWindow::write_stock_sheet(const QString& file) {
  constexpr std::size_t empty_lines = 24;
  auto state = std::make_shared<const ShopState>(workspace_->state());
  const auto library = cutters_page_->libraries().current();
  const Library* of = library ? state->libraries.find(*library) : nullptr;
  const QString title = of ? tr("Stock: %1").arg(text_of(of->name)) : tr("Stock of cutters");
  const QString subtitle = tr("%1 · printed %2 · written down by ______________________ on ______________")
                               .arg(text_of(state->shop_settings().name), QDate::currentDate().toString(Qt::ISODate));
  const PaperLook look{Look::get().text(10), Look::get().text(10, true), Look::get().day()};
  workspace_->tasks().run(
      this, tr("Writing %1").arg(QFileInfo(file).fileName()),
      [state, ids = cutters_page_->shown(), units = workspace_->units(), file, title, subtitle, look](Task&) {
        std::vector<const Cutter*> chosen;
        for (const Id& id : ids)
          if (const Cutter* c = state->cutters.find(id)) chosen.push_back(c);
        const Sheet sheet = stock_sheet(*state, chosen, units, empty_lines);
        if (file.endsWith(QLatin1String(".csv"), Qt::CaseInsensitive))
          return write_file(file, QByteArray::fromStdString(csv_text(sheet)));
        const auto pdf = stock_sheet_pdf(sheet, title, subtitle, look);
        return pdf ? write_file(file, QByteArray::fromStdString(*pdf)) : reader_text(pdf.error());
      },
      [this, file](const QString& fault) {
        strip_->say(
            fault.isEmpty()
                ? tr("%1 saved; once filled in, read it back with “Import cutters”").arg(QFileInfo(file).fileName())
                : fault,
            false, !fault.isEmpty());
      });
}

void MainWindow::choose_shared_file(const Id& id) {
  const Library* library = workspace_->state().libraries.find(id);
  if (!library) return;
  const SharedLibrary* shared = cutters_page_->shared().shared(id);
  // An existing file is not overwritten: both sides are merged.
  const QString file = file_to_write(
      this, {shared ? tr("Where the shared file of %1 is").arg(text_of(library->name))
                    : tr("Share %1 as a file").arg(text_of(library->name)),
             "folders/shared",
             shared ? text_of(shared->file) : safe_file_name(text_of(library->name)) + QStringLiteral(".json"),
             tr("Pecorra library (*.json)"), QStringLiteral(".json"), QFileDialog::DontConfirmOverwrite});
  if (file.isEmpty()) return;
  if (shared) cutters_page_->shared().set_file(id, file);
  else cutters_page_->shared().share(id, file);
}

void MainWindow::choose_shared_library() {
  const QString file = file_to_read(this, tr("Open a shared library"), "folders/shared",
                                    tr("Pecorra library (*.json *.JSON);;All files (*)"));
  if (file.isEmpty()) return;
  show_page(cutters);
  cutters_page_->shared().open(file);
}

void MainWindow::make_library_commands(
    const std::function<void(const QString&, const QString&, const QString&, std::function<void()>)>& add) {
  const auto on_cutters = [this](auto work) {
    return [this, work] {
      show_page(cutters);
      work(*cutters_page_);
    };
  };
  add(QStringLiteral("new_library"), tr("New library"), {},
      on_cutters([](CuttersPage& p) { p.libraries().new_library(); }));
  add(QStringLiteral("library_actions"), tr("Library: rename, copy, switch on or off, delete"), {},
      on_cutters([](CuttersPage& p) { p.libraries().open_actions(p.libraries().current()); }));
  add(QStringLiteral("open_shared"), tr("Open a shared library: a file used by several computers"), {},
      [this] { choose_shared_library(); });
  add(QStringLiteral("look_at_shared"), tr("Review changes by others in a shared library"), {},
      on_cutters([](CuttersPage& p) {
        const std::optional<Id> library = p.shared().to_look_at();
        p.look_at_shared(library ? *library : p.libraries().current().value_or(Id{}));
      }));
  add(QStringLiteral("read_cutters"), tr("Import cutters from JSON, CSV, XLSX or MTConnect"), QStringLiteral("Ctrl+I"),
      [this] { choose_cutters_to_read(cutters_page_->libraries().current()); });
  add(QStringLiteral("write_cutters"), tr("Export cutters as JSON, CSV, XLSX, MTConnect, DXF or SVG"),
      QStringLiteral("Ctrl+Shift+S"), [this] { choose_cutters_to_write(cutters_page_->libraries().current()); });
  add(QStringLiteral("stock_sheet"), tr("Stock-taking sheet, to print or to fill in, as PDF or CSV"), {},
      [this] { choose_stock_sheet(); });
  add(QStringLiteral("change_many"), tr("Change one property of the selected cutters"), QStringLiteral("Ctrl+R"),
      on_cutters([](CuttersPage& p) { p.change_many(); }));
  add(QStringLiteral("move_cutters"), tr("Move the selected cutters to another library"), QStringLiteral("Ctrl+M"),
      on_cutters([](CuttersPage& p) { p.choose_target(false); }));
  add(QStringLiteral("copy_cutters"), tr("Copy the selected cutters to a library"), QStringLiteral("Ctrl+Shift+V"),
      on_cutters([](CuttersPage& p) { p.choose_target(true); }));
  add(QStringLiteral("favourite"), tr("Add the selected cutters to favourites, or remove them"),
      QStringLiteral("Ctrl+Shift+F"), on_cutters([](CuttersPage& p) { p.mark_favourites(); }));
  add(QStringLiteral("free_numbers"), tr("Renumber by the number blocks: shows the plan first"), {},
      on_cutters([](CuttersPage& p) { p.free_numbers(); }));
  add(QStringLiteral("narrow"), tr("Filter the list of cutters by a property"), QStringLiteral("Ctrl+Alt+F"),
      on_cutters([](CuttersPage& p) { p.choose_filter(); }));
  add(QStringLiteral("history"), tr("History of the cutter, and where it is used"), QStringLiteral("Ctrl+H"), [this] {
    show_page(cutters);
    set_bench_folded(false);
    cutter_bench_->show_side(CutterBench::history);
  });
}

}  // namespace pecorra
