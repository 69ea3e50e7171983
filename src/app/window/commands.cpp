// Every action of the window with its key, as listed by find-anything.
#include <QSettings>
#include <QShortcut>

#include "app/look/look.h"
#include "app/window/main_window.h"
#include "app/window/opening.h"
#include "shop/demo.h"
#include "shop/words.h"

namespace pecorra {

void MainWindow::make_commands() {
  auto add = [this](const QString& id, const QString& text, const QString& keys, std::function<void()> run) {
    commands_.push_back({id, text, keys, std::move(run)});
    for (const QString& sequence : keys.split(QStringLiteral(", "), Qt::SkipEmptyParts)) {
      auto* shortcut = new QShortcut(QKeySequence(sequence), this);
      connect(shortcut, &QShortcut::activated, this, commands_.back().run);
    }
  };
  auto add_in = [this](const QString& id, const QString& text, const QString& keys, std::function<void()> run) {
    commands_.push_back({id, text, keys, std::move(run)});
  };
  add(QStringLiteral("find"), tr("Find anything"), QStringLiteral("Ctrl+K"),
      [this] { find_->open_over(this, commands_); });
  add(QStringLiteral("undo"), tr("Undo"), QStringLiteral("Ctrl+Z"), [this] { shop_->undo(); });
  add(QStringLiteral("redo"), tr("Redo"), QStringLiteral("Ctrl+Shift+Z, Ctrl+Y"), [this] { shop_->redo(); });
  add(QStringLiteral("cutters"), tr("Page: Cutters"), QStringLiteral("Ctrl+1"), [this] { show_page(cutters); });
  add(QStringLiteral("holders"), tr("Page: Holders"), QStringLiteral("Ctrl+2"), [this] { show_page(holders); });
  add(QStringLiteral("tables"), tr("Page: Tables"), QStringLiteral("Ctrl+3"), [this] { show_page(tables); });
  add(QStringLiteral("jobs"), tr("Page: Jobs"), QStringLiteral("Ctrl+4"), [this] { show_page(jobs); });
  add(QStringLiteral("shop"), tr("Page: Shop"), QStringLiteral("Ctrl+7"), [this] { show_page(stores); });
  add(QStringLiteral("materials"), tr("Page: Materials"), QStringLiteral("Ctrl+5"), [this] { show_page(materials); });
  add(QStringLiteral("machines"), tr("Page: Machines"), QStringLiteral("Ctrl+6"), [this] { show_page(machines); });
  for (const auto& [index, id, text] : {std::tuple{1, "magazines", tr("Machines: magazines")},
                                        {2, "dialects", tr("Machines: dialects of programs")},
                                        {3, "proven_steps", tr("Machines: proven steps")}})
    add(QLatin1String(id), text, {}, [this, section = index] {
      show_page(machines);
      parts_page(machines).show_section(section);
    });
  for (const auto& [index, id, text] : {std::tuple{PartsPage::inserts, "inserts", tr("Shop: inserts")},
                                        {PartsPage::collets, "collets", tr("Shop: collets")},
                                        {PartsPage::tool_materials, "tool_materials", tr("Shop: tool materials")},
                                        {PartsPage::coatings, "coatings", tr("Shop: coatings")},
                                        {PartsPage::to_buy, "to_buy", tr("Shop: items to buy")},
                                        {PartsPage::names, "names", tr("Shop: names of cutters, rounding")},
                                        {PartsPage::number_blocks, "number_blocks", tr("Shop: number blocks")},
                                        {PartsPage::never, "never", tr("Shop: what must never be done")}})
    add(QLatin1String(id), text, {}, [this, section = index] {
      show_page(stores);
      shop_page().show_section(section);
    });
  add(QStringLiteral("material"), tr("Change the material"), QStringLiteral("Alt+M"),
      [this] { context_line_->choose_material(); });
  add(QStringLiteral("machine"), tr("Change the machine"), QStringLiteral("Alt+N"),
      [this] { context_line_->choose_machine(); });
  add(QStringLiteral("operation"), tr("Change the operation or job"), QStringLiteral("Alt+O"),
      [this] { context_line_->choose_operation(); });
  add(QStringLiteral("pace"), tr("Change the pace"), QStringLiteral("Alt+P"), [this] { context_line_->choose_pace(); });
  add(QStringLiteral("units"), tr("Switch between mm and inch"), QStringLiteral("Ctrl+U"),
      [this] { context_line_->toggle_units(); });
  add(QStringLiteral("choose_units"), tr("Feed units: mm/min, m/min, mm/s, in/min, ft/min"), {},
      [this] { context_line_->choose_units(); });
  add(QStringLiteral("bench"), tr("Show or hide the bench"), QStringLiteral("F9"),
      [this] { set_bench_folded(benches_->isVisible()); });
  add(QStringLiteral("night"), tr("Night shift: dark or light"), QStringLiteral("Ctrl+Shift+D"), [] {
    Look::get().set_night(!Look::get().is_night());
    QSettings().setValue(QStringLiteral("look/night"), Look::get().is_night());
  });
  add(QStringLiteral("new_cutter"), tr("New cutter"), QStringLiteral("Ctrl+N"), [this] {
    show_page(cutters);
    cutters_page_->new_cutter();
  });
  for (const CutterKind kind : cutter_kinds())
    add(QStringLiteral("new_%1").arg(text_of(key_of(kind))),
        tr("New %1").arg(within_sentence(label_text(label_of(kind)))), {}, [this, kind] {
          show_page(cutters);
          cutters_page_->make_cutter(kind);
        });
  add(QStringLiteral("copy_cutter"), tr("Copy the cutter, material, machine, part, operation, feature or job"),
      QStringLiteral("Ctrl+D"), [this] {
        if (page() == jobs) return jobs_page().copy_something();
        if (page() >= materials) return parts_page(page()).copy_part();
        if (page() == tables && tables_page().view() == TablesPage::recipes)
          return tables_page().recipe_section().copy();
        show_page(cutters);
        cutters_page_->copy_cutter();
      });
  add_in(QStringLiteral("delete_cutter"), tr("Delete the cutter"), QStringLiteral("Del"), [this] {
    show_page(cutters);
    cutters_page_->delete_cutter();
  });
  add_in(QStringLiteral("sizes"), tr("Sizes of the cutter"), QStringLiteral("Return"),
         [this] { emit cutters_page_->open_sizes(); });
  for (const auto& [column, text] : {std::pair{CutterModel::number, tr("Sort cutters by number")},
                                     {CutterModel::name, tr("Sort cutters by name")},
                                     {CutterModel::diameter, tr("Sort cutters by diameter")},
                                     {CutterModel::speed, tr("Sort cutters by spindle speed")},
                                     {CutterModel::feed, tr("Sort cutters by table feed")}})
    add(QStringLiteral("sort_%1").arg(column), text, {}, [this, by = column] {
      show_page(cutters);
      cutters_page_->sort_by(by);
    });
  add(QStringLiteral("columns"), tr("Columns of the cutter list"), {}, [this] {
    show_page(cutters);
    cutters_page_->choose_columns();
  });
  add(QStringLiteral("alike"), tr("Possible duplicates"), {}, [this] {
    show_page(cutters);
    cutters_page_->show_alike();
  });
  make_library_commands(add);
  add(QStringLiteral("ghost"), tr("Compare with another cutter drawn behind"), QStringLiteral("Ctrl+G"), [this] {
    show_page(cutters);
    set_bench_folded(false);
    cutter_bench_->choose_ghost();
  });
  add(QStringLiteral("picture"), tr("Save the cutter's drawing: SVG, DXF, PDF"), {}, [this] { choose_picture(); });
  add(QStringLiteral("assembly"), tr("Assembly of the cutter: holder, stick-out, wall"), QStringLiteral("Ctrl+Shift+H"),
      [this] {
        show_page(cutters);
        set_bench_folded(false);
        cutter_bench_->show_side(CutterBench::assembly);
        cutter_bench_->assembly_panel().focus_field(QStringLiteral("holder"));
      });
  add(QStringLiteral("what_if"), tr("What if: try depth, width, speed, fz, stick-out; the curves of the cut"),
      QStringLiteral("Ctrl+B"), [this] { show_cut_board(!is_cut_board_shown()); });
  add(QStringLiteral("first_change"), tr("Apply the smallest change that meets the tightest limit"),
      QStringLiteral("Ctrl+Shift+I"), [this] { take_first_change(); });
  add(QStringLiteral("usual"), tr("Discard the trial values of this cut"), {}, [this] { workspace_->try_what_if({}); });
  add(QStringLiteral("cut_sheet"), tr("Cut sheet of the current cut: PDF"), QStringLiteral("Ctrl+Shift+P"),
      [this] { choose_cut_sheet(); });
  add(QStringLiteral("curves"), tr("Save the curves of the current cut: PNG, PDF, CSV"), {},
      [this] { choose_curves_file(); });
  add(QStringLiteral("new_holder"), tr("New holder"), {}, [this] {
    show_page(holders);
    holders_page().new_holder();
  });
  add_in(QStringLiteral("delete_holder"), tr("Delete the holder"), QStringLiteral("Del"),
         [this] { holders_page().delete_holder(); });
  add_in(QStringLiteral("delete_part"), tr("Delete the material, machine, insert, collet or coating"),
         QStringLiteral("Del"), [this] {
           if (page() >= materials) parts_page(page()).remove_part();
         });
  add(QStringLiteral("filter"), tr("Filter the list"), QStringLiteral("Ctrl+F"), [this] {
    if (page() == tables) return tables_page().focus_filter();
    if (page() == holders) return holders_page().focus_filter();
    if (page() == jobs) {
      jobs_page().show_view(JobsPage::all_jobs);
      return jobs_page().jobs().focus_filter();
    }
    if (page() >= materials) return parts_page(page()).focus_filter();
    show_page(cutters);
    cutters_page_->focus_filter();
  });
  add(QStringLiteral("look_at"), tr("Next cutter that needs attention: drafts and warnings"), QStringLiteral("F8"),
      [this] {
        show_page(cutters);
        cutters_page_->show_next_to_look_at();
      });
  add(QStringLiteral("chart"), tr("Chart: cutters × materials"), QStringLiteral("Ctrl+Shift+C"), [this] {
    show_page(tables);
    tables_page().show_view(TablesPage::chart);
  });
  add(QStringLiteral("rows"), tr("Rows of the tables"), QStringLiteral("Ctrl+Shift+R"), [this] {
    show_page(tables);
    tables_page().show_view(TablesPage::rows);
  });
  add(QStringLiteral("recipes"), tr("Recipes of the cutters"), QStringLiteral("Ctrl+Shift+E"), [this] {
    show_page(tables);
    tables_page().show_view(TablesPage::recipes);
  });
  add(QStringLiteral("compare"), tr("Compare two cutters, materials or tables"), QStringLiteral("Ctrl+Shift+M"),
      [this] {
        show_page(tables);
        tables_page().show_view(TablesPage::compare);
      });
  add(QStringLiteral("chart_cutter"), tr("Chart: this cutter's operations × materials"), {}, [this] {
    show_page(tables);
    tables_page().show_view(TablesPage::chart);
    tables_page().chart_pane().show_rows(ChartRows::operations);
  });
  add(QStringLiteral("wall_chart"), tr("Save the chart: PDF, XLSX, CSV"), {}, [this] {
    show_page(tables);
    tables_page().show_view(TablesPage::chart);
    tables_page().chart_pane().choose_saving();
  });
  add(QStringLiteral("read_rows"), tr("Import rows from CSV or XLSX into the table"), {}, [this] {
    show_page(tables);
    tables_page().show_view(TablesPage::rows);
    choose_rows_file(true);
  });
  add(QStringLiteral("write_rows"), tr("Export the table's rows as CSV or XLSX"), {}, [this] {
    show_page(tables);
    tables_page().show_view(TablesPage::rows);
    choose_rows_file(false);
  });
  add(QStringLiteral("data_sheet"), tr("A row from a data sheet: rpm and table feed"), QStringLiteral("Ctrl+Shift+T"),
      [this] {
        show_page(tables);
        tables_page().row_from_data_sheet();
      });
  add(QStringLiteral("delete_table"), tr("Delete the table"), {}, [this] {
    show_page(tables);
    tables_page().delete_table();
  });
  add(QStringLiteral("keep_recipe"), tr("Save what the cutter runs at as a recipe"), QStringLiteral("Ctrl+Shift+K"),
      [this] {
        show_page(cutters);
        cutter_bench_->keep_recipe();
      });
  add_in(QStringLiteral("delete_recipe"), tr("Delete the recipe"), QStringLiteral("Del"),
         [this] { tables_page().recipe_section().remove(); });
  add(QStringLiteral("add_row"), tr("Add a row to the table"), QStringLiteral("Ctrl+Return"), [this] {
    if (page() == tables) tables_page().add_row();
  });
  add_in(QStringLiteral("delete_row"), tr("Delete the row"), QStringLiteral("Del"),
         [this] { tables_page().delete_row(); });
  add(QStringLiteral("new_table"), tr("New table"), {}, [this] {
    show_page(tables);
    tables_page().new_table();
  });
  add(QStringLiteral("new_job"), tr("New job, from a drawing or without one"), QStringLiteral("Ctrl+J"), [this] {
    show_page(jobs);
    jobs_page().new_job();
  });
  for (const auto& [view, id, text, keys] :
       {std::tuple{JobsPage::all_jobs, "all_jobs", tr("All jobs"), QStringLiteral("Alt+Left")},
        {JobsPage::operations, "job_operations", tr("Job: operations"), QStringLiteral("Alt+1")},
        {JobsPage::features, "job_features", tr("Job: features"), QStringLiteral("Alt+2")},
        {JobsPage::setups, "job_setups", tr("Job: setups, stock, zero point, clamps"), QStringLiteral("Alt+3")}})
    add(QLatin1String(id), text, keys, [this, view = view] {
      show_page(jobs);
      jobs_page().show_view(view);
    });
  add(QStringLiteral("new_feature"), tr("New feature"), QStringLiteral("Ctrl+Shift+G"), [this] {
    show_page(jobs);
    jobs_page().show_view(JobsPage::features);
    set_bench_folded(false);
    jobs_page().add_something();
  });
  add(QStringLiteral("new_setup"), tr("New setup"), {}, [this] {
    show_page(jobs);
    jobs_page().show_view(JobsPage::setups);
    jobs_page().add_something();
  });
  add_in(QStringLiteral("copy_operations"), tr("Copy operations for another job"), QStringLiteral("Ctrl+C"),
         [this] { jobs_page().copy_to_clipboard(); });
  add_in(QStringLiteral("paste_operations"), tr("Paste operations, or places of holes"), QStringLiteral("Ctrl+V"),
         [this] { jobs_page().paste(); });
  add(QStringLiteral("new_operation"), tr("New operation"), QStringLiteral("Ctrl+Shift+N"), [this] {
    show_page(jobs);
    if (jobs_page().view() == JobsPage::all_jobs) jobs_page().show_view(JobsPage::operations);
    jobs_page().new_operation();
  });
  add(QStringLiteral("propose"), tr("Propose operations for the features"), QStringLiteral("Ctrl+Shift+O"), [this] {
    show_page(jobs);
    jobs_page().propose_chain();
  });
  add(QStringLiteral("pick_cutter"), tr("Pick a cutter for the operation"), QStringLiteral("Ctrl+P"), [this] {
    show_page(jobs);
    set_bench_folded(false);
    if (jobs_page().view() == JobsPage::retuning) return section_bench_->pick_cutter();
    job_bench().pick_cutter();
  });
  add(QStringLiteral("own"), tr("Own values or follow table"), QStringLiteral("Ctrl+L"), [this] {
    if (page() == jobs) job_bench().toggle_own();
  });
  add(QStringLiteral("earlier"), tr("Move operation up"), QStringLiteral("Alt+Up"), [this] {
    if (page() == jobs) jobs_page().move_operation(-1);
  });
  add(QStringLiteral("later"), tr("Move operation down"), QStringLiteral("Alt+Down"), [this] {
    if (page() == jobs) jobs_page().move_operation(1);
  });
  add(QStringLiteral("next_line"), tr("Next line, or next diameter, of the drawing"), QStringLiteral("Ctrl+Shift+L"),
      [this] {
        if (page() == jobs) jobs_page().next_line();
      });
  add(QStringLiteral("changed_lines"), tr("Accept changed lines"), {}, [this] {
    if (page() == jobs) jobs_page().accept_lines();
  });
  add_in(QStringLiteral("delete_operation"), tr("Delete the operations, features, setup or job"), QStringLiteral("Del"),
         [this] { jobs_page().delete_something(); });
  add(QStringLiteral("delete_job"), tr("Delete the job"), {}, [this] {
    show_page(jobs);
    jobs_page().delete_job();
  });
  add(QStringLiteral("program"), tr("Write the program, of the job or retuned"), QStringLiteral("Ctrl+E"), [this] {
    show_page(jobs);
    jobs_page().view() == JobsPage::retuning ? choose_retuned() : choose_program();
  });
  add(QStringLiteral("open_program"), tr("Open a program made elsewhere, for speeds and feeds"),
      QStringLiteral("Ctrl+Alt+R"), [this] { choose_foreign_program(); });
  const auto on_programs = [this](void (MainWindow::*choose)()) {
    return [this, choose] {
      show_page(jobs);
      if (jobs_page().view() == JobsPage::retuning) jobs_page().show_view(JobsPage::all_jobs);
      (this->*choose)();
    };
  };
  add(QStringLiteral("open_program_folder"), tr("Open all programs in a folder to retune them"), {},
      on_programs(&MainWindow::choose_program_folder));
  add(QStringLiteral("write_programs"), tr("Write all programs made elsewhere, retuned"), {},
      on_programs(&MainWindow::choose_folder_for_programs));
  add(QStringLiteral("watch_folder"), tr("Watch a folder and retune what is put into it"), {},
      on_programs(&MainWindow::choose_watched_folder));
  add(QStringLiteral("retune_report"), tr("Save the report on the program"), {}, [this] {
    if (page() == jobs && jobs_page().view() == JobsPage::retuning) choose_retune_report();
  });
  add(QStringLiteral("read_program_again"), tr("Reload the program being retuned"), QStringLiteral("F5"), [this] {
    if (page() == jobs && jobs_page().view() == JobsPage::retuning) jobs_page().retune().read_again();
  });
  add(QStringLiteral("take_section_in"), tr("Retune the section that is left out"), {}, [this] {
    if (page() == jobs && jobs_page().view() == JobsPage::retuning) jobs_page().retune().leave_out(false);
  });
  add(QStringLiteral("order"), tr("Order operations for few cutter changes"), {}, [this] {
    show_page(jobs);
    jobs_page().propose_order();
  });
  add(QStringLiteral("source_changes"), tr("What changed at the job's sources"), {}, [this] {
    show_page(jobs);
    jobs_page().show_source_changes();
  });
  add(QStringLiteral("save_proven_step"), tr("Save as a proven step"), {}, [this] {
    if (page() == jobs) jobs_page().save_proven_step();
  });
  add(QStringLiteral("use_proven_step"), tr("Use a proven step"), QStringLiteral("Ctrl+Alt+P"), [this] {
    if (page() == jobs) jobs_page().use_proven_step();
  });
  add(QStringLiteral("update_proven_step"), tr("Update the proven step from the selected operations"), {}, [this] {
    if (page() == jobs) jobs_page().update_proven_step();
  });
  add(QStringLiteral("program_each_setup"), tr("Write a program for each setup"), {}, [this] {
    show_page(jobs);
    choose_program(true);
  });
  add(QStringLiteral("setup_sheet"), tr("Save the job's setup sheet"), QStringLiteral("Ctrl+Alt+E"), [this] {
    show_page(jobs);
    choose_sheet(false);
  });
  add(QStringLiteral("setup_sheet_portrait"), tr("Save the job's setup sheet, portrait"), {}, [this] {
    show_page(jobs);
    choose_sheet(true);
  });
  add(QStringLiteral("play"), tr("Play the job, or pause"), QStringLiteral("Ctrl+Space"), [this] {
    show_page(jobs);
    jobs_page().play_bar().set_playing(!jobs_page().play_bar().is_playing());
  });
  add(QStringLiteral("find_in_program"), tr("Find in the program"), QStringLiteral("Ctrl+Alt+S"), [this] {
    show_page(jobs);
    jobs_page().find_in_program();
  });
  add(QStringLiteral("accept"), tr("Accept the trial, or update from library"), QStringLiteral("Ctrl+Shift+A"), [this] {
    if (page() != jobs) return;
    workspace_->is_trying() ? workspace_->accept_trial() : jobs_page().update_from_library();
  });
  add(QStringLiteral("drop"), tr("Discard trial"), {}, [this] { workspace_->drop_trial(); });
  add(QStringLiteral("open"), tr("Open a shop"), QStringLiteral("Ctrl+O"), [this] { choose_shop(); });
  add(QStringLiteral("new_shop"), tr("New shop"), {}, [this] { make_shop(); });
  add(QStringLiteral("save_as_new_shop"), tr("Save as a new shop"), {}, [this] { choose_new_shop(); });
  add(QStringLiteral("demo"), tr("Open the demo shop"), {}, [this] { open_shop(demo_file()); });
  add(QStringLiteral("try"), tr("Three things to try"), {}, [this] { show_things_to_try(true); });
  add(QStringLiteral("quit"), tr("Quit Pecorra"), QStringLiteral("Ctrl+Q"), [this] { close(); });
}

}  // namespace pecorra
