// pecorra-cli: the core on the command line.
#include <CLI/CLI.hpp>
#include <QCoreApplication>
#include <clocale>
#include <iostream>
#include <new>

#include "cli/commands.h"
#include "formats/json/job_schema.h"
#include "formats/json/library_schema.h"
#include "formats/paper/paper.h"
#include "shop/dialects.h"
#include "shop/machine_file.h"

namespace {

using namespace pecorra;

constexpr const char* exit_codes =
    "Exit codes: 0 answered; 2 the input is wrong, faults are on standard error and nothing was written; 1 anything "
    "else.";

// TEXT may begin with a minus, which the option parser would take for an option: put it behind "--".
std::vector<std::string> arranged(int argc, char** argv) {
  std::vector<std::string> arguments(argv + 1, argv + argc);
  if (arguments.empty() || arguments[0] != "value") return arguments;
  std::vector<std::string> options{"value"}, texts;
  for (std::size_t i = 1; i < arguments.size(); ++i) {
    const std::string& a = arguments[i];
    if ((a == "--as" || a == "--from") && i + 1 < arguments.size()) {
      options.push_back(a + "=" + arguments[++i]);
    } else if (a == "--") {
      texts.insert(texts.end(), arguments.begin() + static_cast<std::ptrdiff_t>(i) + 1, arguments.end());
      break;
    } else if (a.rfind("--as=", 0) == 0 || a.rfind("--from=", 0) == 0 || a == "--help" || a == "-h") {
      options.push_back(a);
    } else {
      texts.push_back(a);
    }
  }
  options.push_back("--");
  options.insert(options.end(), texts.begin(), texts.end());
  return options;
}

}  // namespace

int main(int argc, char** argv) {
  CLI::App app{"Pecorra on the command line: cutters, conditions, programs. JSON in, JSON out.", "pecorra-cli"};
  app.require_subcommand(1);
  app.set_version_flag("--version", PECORRA_VERSION, "Print the version");
  app.set_help_flag("-h,--help", "Print this help");
  app.footer(exit_codes);
  const auto command = [&](const char* name, const char* about, const char* example) {
    auto* added = app.add_subcommand(name, about);
    added->footer(std::string("Example:\n  pecorra-cli ") + name + " " + example + "\n\n" + exit_codes);
    return added;
  };
  const auto add_shop = [](CLI::App* to, std::string& file) {
    to->add_option("--shop", file, "Shop file, NAME.pecorra")->required();
  };
  const auto add_cutter = [](CLI::App* to, std::string& library, int& number) {
    to->add_option("--library", library, "Library of the cutter, name or id")->required();
    to->add_option("--number", number, "Number of the cutter in its library")->required();
  };

  cli::ValueOptions value;
  auto* value_command = command("value", "Convert a length as people write it", "'1-1/8 in' --as mm");
  value_command->add_option("TEXT", value.text, "A length, such as 1-1/8 in, 12,5 mm or 10 thou")->required();
  value_command->add_option("--as", value.as, "Unit of the answer: mm, cm, m, um, in, ft or thou")->required();
  value_command->add_option("--from", value.from, "Unit of a number without one");

  auto* compute_command = command("compute", "Calculate one cut from a JSON request on standard input", "< cut.json");

  cli::ResolveOptions resolve;
  auto* resolve_command =
      command("resolve", "The cutting conditions of a cutter, with their trail",
              "--shop demo.pecorra --library 'Iron and steels' --number 219 --material '42CrMo4 +QT' "
              "--machine 'Fettler 6' --operation side_rough");
  add_shop(resolve_command, resolve.shop);
  add_cutter(resolve_command, resolve.library, resolve.number);
  resolve_command->add_option("--material", resolve.material, "Work material, name or id")->required();
  resolve_command->add_option("--machine", resolve.machine, "Machine, name or id")->required();
  resolve_command->add_option("--operation", resolve.operation, "Operation, such as side_rough or drill")->required();
  resolve_command->add_option("--ap", resolve.ap_mm, "Depth of cut, mm");
  resolve_command->add_option("--ae", resolve.ae_mm, "Width of cut, mm");
  resolve_command->add_option("--pace", resolve.pace, "10 (careful) to 200 (bold); 100 is the target");
  resolve_command->add_option("--recipe", resolve.recipe, "Follow this recipe of the cutter");
  resolve_command->add_option("--source", resolve.source, "Follow only this source, such as shop_table");

  cli::ChartOptions chart;
  auto* chart_command = command("chart", "Speeds and feeds of every cutter in every material",
                                "--shop demo.pecorra --machine 'Fettler 6' --operation side_rough --format csv");
  add_shop(chart_command, chart.shop);
  chart_command->add_option("--machine", chart.machine, "Machine, name or id")->required();
  chart_command->add_option("--operation", chart.operation, "Operation, such as side_rough or drill")->required();
  chart_command->add_option("--format", chart.format, "json (default) or csv");

  cli::ShortlistOptions shortlist;
  auto* shortlist_command =
      command("shortlist", "Which cutters can do a feature, ranked by cost or time; the feature is on standard input",
              "--shop demo.pecorra --machine 'Fettler 6' --material C45 --by time < feature.json");
  add_shop(shortlist_command, shortlist.shop);
  shortlist_command->add_option("--machine", shortlist.machine, "Machine, name or id")->required();
  shortlist_command->add_option("--material", shortlist.material, "Work material, name or id")->required();
  shortlist_command->add_option("--tool-material", shortlist.tool_material, "Only these, such as carbide");
  shortlist_command->add_option("--by", shortlist.by, "cost (default) or time");

  cli::ServeOptions serve;
  auto* serve_command = command("serve", "Answer resolve, chart and shortlist over HTTP for scripts, until interrupted",
                                "--shop demo.pecorra --token-file token.txt");
  add_shop(serve_command, serve.shop);
  serve_command->add_option("--port", serve.port, "Port, 7480 by default; 0: any that is free");
  serve_command->add_option("--token-file", serve.token_file,
                            "File of the token that requests bring; made if missing. Without it, one is made and "
                            "printed");
  serve_command->add_option("--address", serve.address, "127.0.0.1 by default; any other needs TLS");
  serve_command->add_option("--certificate", serve.certificate, "Certificate chain for TLS, PEM");
  serve_command->add_option("--key", serve.key, "Its private key, PEM");

  cli::RetuneOptions retune;
  auto* retune_command = command("retune", "Give a program made elsewhere speeds and feeds by the tables",
                                 "--shop demo.pecorra --material C45 --machine 'Fettler 6' IN.nc -o OUT.nc");
  add_shop(retune_command, retune.shop);
  retune_command->add_option("--material", retune.material, "Material, name or id")->required();
  retune_command->add_option("--machine", retune.machine, "Machine, name or id")->required();
  retune_command->add_option("IN", retune.in, "Program to read, or a folder of them")->required();
  retune_command->add_option("-o", retune.out,
                             "File or folder to write; a file that is there is renamed beside it first");
  const auto for_tools = [&](const char* name, std::vector<std::string>& into, const char* about) {
    retune_command->add_option(name, into, about)->expected(1)->allow_extra_args(false)->take_all();
  };
  for_tools("--tool", retune.tools, "T=LIBRARY/NUMBER: which cutter a T is");
  for_tools("--operation", retune.operations, "T=OPERATION, such as 5=slot; 5#2=slot is for the second section of T5");
  for_tools("--ap", retune.ap, "T=MM: its depth of cut");
  for_tools("--ae", retune.ae, "T=MM: its width of cut");
  for_tools("--skip", retune.skip, "T: keeps its S and F");
  retune_command->add_option("--stock-top", retune.stock_top_mm, "Z of the top of the stock in the program, mm");
  retune_command->add_option(
      "--feeds", retune.feeds,
      "Of plunges, ramps and leads: table (default), or proportion, their share of the cutting feed");
  retune_command->add_flag("--arc-centres", retune.arc_centres, "Slow down inside arcs, so that the edge has the feed");
  retune_command->add_option("--report", retune.report, "Report on paper, .pdf or .html");
  retune_command->add_flag("--watch", retune.watch, "Retune what is put into the folder IN, until interrupted");
  retune_command->add_flag("--check", retune.check, "Only report; writes no program");

  cli::ProgramOptions program;
  cli::SheetOptions sheet;
  auto* sheet_command = command("sheet", "Write the setup sheet of a job, PDF or HTML",
                                "--shop demo.pecorra --job 'Roller end cap' -o cap.pdf");
  add_shop(sheet_command, sheet.shop);
  sheet_command->add_option("--job", sheet.job, "Job, name or id")->required();
  sheet_command->add_option("-o", sheet.out, "File to write, .pdf or .html")->required();
  sheet_command->add_option("--unit", sheet.unit, "mm or inch; default: the program's");
  sheet_command->add_flag("--portrait", sheet.portrait, "A4 portrait; default: landscape");

  cli::DialectOptions dialect;
  auto* dialect_command =
      command("dialect", "Dialects of programs: listed, shown, taken into a shop", "--shop demo.pecorra --show plain");
  add_shop(dialect_command, dialect.shop);
  dialect_command->add_option("--show", dialect.show, "Write this one as a file, by its key");
  dialect_command->add_option("--read", dialect.read, "Take this file into the shop; one of its key is replaced");

  auto* program_command =
      command("program", "Write the program of a job", "--shop demo.pecorra --job 'Spindle rail' -o rail.nc");
  add_shop(program_command, program.shop);
  program_command->add_option("--job", program.job, "Job, name or id")->required();
  program_command->add_option("-o", program.out, "File to write");
  program_command->add_option("--dialect", program.dialect, "Dialect of the control; default: the machine's");
  program_command->add_option("--unit", program.unit, "mm or inch; default: the job's");
  program_command->add_option("--setup", program.setup, "Of this setup alone, name or number; default: all of them");
  auto* verify_option = program_command->add_option(
      "--verify", program.verify, "Compare this file, or that of -o, with what the job would write; writes nothing");
  verify_option->expected(0, 1);
  program_command->add_flag("--skip-faulty", program.skip_faulty, "Skip operations in error");

  cli::JobOptions job;
  auto* job_command = command("job", "Jobs: made from files, shown, checked and updated",
                              "check --shop demo.pecorra --job 'Spindle rail'");
  job_command->require_subcommand(1);
  const auto job_part = [&](const char* name, const char* help) {
    auto* part = job_command->add_subcommand(name, help);
    if (std::string_view(name) != "features") add_shop(part, job.shop);
    if (std::string_view(name) == "new" || std::string_view(name) == "features")
      part->add_option("FILE", job.file, std::string_view(name) == "new" ? "Job file, JSON" : "Drawing, DXF or SVG")
          ->required();
    else part->add_option("--job", job.job, "Job, name or id")->required();
    return part;
  };
  auto* job_new_command = job_part("new", "Make a job from a file");
  auto* job_show_command = job_part("show", "Write a job as a file");
  auto* job_check_command = job_part("check", "What is wrong with a job, and what changed at its sources");
  auto* job_update_command = job_part("update", "Take what changed at the sources, or keep the copy");
  job_update_command->add_option("--operation", job.operation, "Only this operation: its number from 1, or its name");
  job_update_command->add_flag("--keep", job.keep, "Keep the job's copy, and ask no more");
  job_update_command->add_option("--after", job.after, "Move the operation behind this one: its number or name")
      ->excludes("--keep");
  job_update_command
      ->add_flag("--from-faced", job.from_faced,
                 "Count depths from the surface that was faced, where they start above it")
      ->excludes("--keep");
  job_update_command->add_option("--material", job.material, "Another material: every value is taken anew");
  job_update_command->add_option("--machine", job.machine, "Another machine: every value is taken anew");
  job_update_command->add_option("--pace", job.pace, "Another pace: every value is taken anew")
      ->check(CLI::Range(1.0, 1000.0));
  job_update_command->add_flag("--dry-run", job.dry_run, "Say old and new, and change nothing");
  auto* job_features_command = job_part("features", "List the lines of a drawing");
  auto* toolpath_command =
      command("toolpath", "The moves of a job's operations", "--shop demo.pecorra --job 'Spindle rail' --operation 1");
  add_shop(toolpath_command, job.shop);
  toolpath_command->add_option("--job", job.job, "Job, name or id")->required();
  toolpath_command->add_option("--operation", job.operation, "Only this operation: its number from 1, or its name");

  cli::MachineOptions machine;
  auto* machine_command = command("machine", "Machines: made from files, and shown as files",
                                  "show --shop demo.pecorra --machine 'Fettler 6'");
  machine_command->require_subcommand(1);
  auto* machine_new_command = machine_command->add_subcommand("new", "Make a machine from a file");
  add_shop(machine_new_command, machine.shop);
  machine_new_command->add_option("FILE", machine.file, "Machine, JSON; see schema --machine")->required();
  auto* machine_show_command = machine_command->add_subcommand("show", "Write a machine as a file");
  add_shop(machine_show_command, machine.shop);
  machine_show_command->add_option("--machine", machine.machine, "Machine, name or id")->required();

  std::string demo_out;
  auto* demo_command = command("demo", "Write the demo shop", "demo.pecorra");
  demo_command->add_option("OUT", demo_out, "File to write")->required();

  cli::ExportOptions exported;
  auto* export_command = command("export", "Export a library, or one of its cutters",
                                 "--shop demo.pecorra --library 'Iron and steels' --format xlsx cutters.xlsx");
  add_shop(export_command, exported.shop);
  export_command->add_option("--library", exported.library, "Library, name or id")->required();
  export_command->add_option("--format", exported.format, "json, csv, xlsx, mtconnect, dxf or svg");
  export_command->add_option("--number", exported.number, "Only the cutter with this number");
  export_command->add_option("OUT", exported.out, "File to write")->required();

  cli::ImportOptions imported;
  auto* import_command = command("import", "Import cutters from JSON, CSV, XLSX or MTConnect into a library",
                                 "--shop demo.pecorra --library Incoming list.csv --dry-run");
  add_shop(import_command, imported.shop);
  import_command->add_option("--library", imported.library, "Library to import into; made if missing")->required();
  import_command->add_option("FILE", imported.file, "File to read")->required();
  import_command->add_flag("--dry-run", imported.dry_run, "Report what would change, change nothing");
  import_command->add_flag("--conflicts", imported.conflicts, "Also apply lines in conflict");
  import_command->add_flag("--inch", imported.inch, "Numbers without a unit are inches");

  cli::AssemblyOptions assembly;
  auto* assembly_command =
      command("assembly", "Gauge length, reach beside a wall, weight and stiffness of a cutter in its holder",
              "--shop demo.pecorra --library 'Iron and steels' --number 219 --wall-height 40 --draft 1");
  add_shop(assembly_command, assembly.shop);
  add_cutter(assembly_command, assembly.library, assembly.number);
  assembly_command->add_option("--name", assembly.name, "Assembly, if the cutter has several");
  assembly_command->add_option("--holder", assembly.holder, "Try another holder");
  assembly_command->add_option("--stickout", assembly.stickout_mm, "Try another stick-out, mm");
  assembly_command->add_option("--wall-height", assembly.wall_height_mm, "Height of a wall beside it, mm");
  assembly_command->add_option("--draft", assembly.draft_deg, "Draft angle of the wall, degrees");

  std::string duplicates_shop;
  auto* duplicates_command = command("duplicates", "List possible duplicates among the cutters", "--shop demo.pecorra");
  add_shop(duplicates_command, duplicates_shop);

  cli::MergeOptions merged;
  auto* merge_command = command("merge", "Merge two cutters; jobs and assemblies switch to the one that is kept",
                                "--shop demo.pecorra --library 'Iron and steels' --keep 219 --gone 222");
  add_shop(merge_command, merged.shop);
  merge_command->add_option("--library", merged.library, "Library of the cutter to keep")->required();
  merge_command->add_option("--keep", merged.keep, "Number of the cutter to keep")->required();
  merge_command->add_option("--gone", merged.gone, "Number of the cutter to delete")->required();
  merge_command->add_option("--gone-library", merged.gone_library, "Library of the cutter to delete, if another");

  cli::RowsOptions rows_in, rows_out;
  auto* import_rows_command = command("import-rows", "Import rows from CSV or XLSX into a table",
                                      "--shop demo.pecorra --table 'Carbide end mills, our own' rows.csv --dry-run");
  auto* export_rows_command = command("export-rows", "Export a table's rows as CSV or XLSX",
                                      "--shop demo.pecorra --table 'Carbide end mills, our own' rows.xlsx");
  for (auto [rows_command, options] : {std::pair{import_rows_command, &rows_in}, {export_rows_command, &rows_out}}) {
    add_shop(rows_command, options->shop);
    rows_command->add_option("--table", options->table, "Table, name or id")->required();
    rows_command->add_option("FILE", options->file, "CSV or XLSX file")->required();
  }
  import_rows_command->add_flag("--dry-run", rows_in.dry_run, "Report what would change, change nothing");
  import_rows_command->add_flag("--conflicts", rows_in.conflicts, "Also apply rows in conflict");

  std::string checked;
  auto* check_command = command("check", "Report what is wrong in any file that Pecorra reads", "demo.pecorra");
  check_command->add_option("FILE", checked, "A shop, library, sheet of rows, stock-taking sheet, drawing or dialect")
      ->required();

  auto* schema_command = command("schema", "Print the JSON Schema of library files, job files, machines or dialects",
                                 "--job > job.schema.json");
  bool job_schema = false, dialect_schema = false, machine_schema = false;
  schema_command->add_flag("--job", job_schema, "Of job files");
  schema_command->add_flag("--dialect", dialect_schema, "Of dialects");
  schema_command->add_flag("--machine", machine_schema, "Of machines");

  std::vector<std::string> arguments = arranged(argc, argv);
  std::reverse(arguments.begin(), arguments.end());
  try {
    app.parse(std::move(arguments));
  } catch (const CLI::ParseError& error) {
    if (error.get_exit_code() == 0) return app.exit(error);
    std::cerr << "arguments: " << error.what() << "\n";
    return cli::wrong_input;
  }

  const auto answer = [&] {
    if (*value_command) return cli::value(value);
    if (*compute_command) return cli::compute();
    if (*schema_command) {
      std::cout << (dialect_schema   ? dialect_schema_text()
                    : machine_schema ? machine_schema_text()
                    : job_schema     ? job_schema_text()
                                     : library_schema_text());
      return cli::answered;
    }
    // What draws needs an application of its own.
    const auto drawn =
        *sheet_command || !retune.report.empty() ? paper() : tl::expected<const Paper*, FormatFault>(nullptr);
    const std::unique_ptr<QCoreApplication> qt(drawn && *drawn ? (*drawn)->application(argc, argv)
                                                               : new QCoreApplication(argc, argv));
    std::setlocale(LC_NUMERIC, "C");
    if (*resolve_command) return cli::resolve(resolve);
    if (*chart_command) return cli::chart(chart);
    if (*shortlist_command) return cli::shortlist(shortlist);
    if (*serve_command) return cli::serve(serve);
    if (*retune_command) return cli::retune(retune);
    if (*program_command) return cli::program(program);
    if (*dialect_command) return cli::dialect(dialect);
    if (*sheet_command) return cli::sheet(sheet);
    if (*job_new_command) return cli::job_new(job);
    if (*job_show_command) return cli::job_show(job);
    if (*job_check_command) return cli::job_check(job);
    if (*job_update_command) return cli::job_update(job);
    if (*job_features_command) return cli::job_features(job);
    if (*toolpath_command) return cli::toolpath(job);
    if (*machine_new_command) return cli::machine_new(machine);
    if (*machine_show_command) return cli::machine_show(machine);
    if (*demo_command) return cli::demo(demo_out);
    if (*export_command) return cli::export_library(exported);
    if (*import_command) return cli::import_library(imported);
    if (*assembly_command) return cli::assembly(assembly);
    if (*duplicates_command) return cli::duplicates(duplicates_shop);
    if (*merge_command) return cli::merge(merged);
    if (*import_rows_command) return cli::import_rows(rows_in);
    if (*export_rows_command) return cli::export_rows(rows_out);
    return cli::check(checked);
  };
  int code = cli::failed;
  try {
    code = answer();
  } catch (const std::bad_alloc&) {
    std::cerr << "pecorra-cli: not enough memory\n";
  } catch (const std::exception& error) {
    std::cerr << "pecorra-cli: internal error: " << error.what() << "\n";
  }
  // An answer that could not be written is a failure.
  if (!std::cout.flush() && code == cli::answered) {
    std::cerr << "pecorra-cli: the answer could not be written\n";
    code = cli::failed;
  }
  return code;
}
