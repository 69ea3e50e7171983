// pecorra-cli: the core on the command line.
#include <CLI/CLI.hpp>
#include <QCoreApplication>
#include <clocale>
#include <iostream>
#include <new>

#include "cli/commands.h"
#include "formats/json/library_schema.h"

namespace {

using namespace pecorra;

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
  CLI::App app{"Pecorra on the command line: cutters, conditions, programs. JSON in, JSON out."};
  app.require_subcommand(1);
  app.set_version_flag("--version", PECORRA_VERSION);

  cli::ValueOptions value;
  auto* value_command = app.add_subcommand("value", "The number that a written length means");
  value_command->add_option("TEXT", value.text, "As people write it: 1-1/8 in, 12,5 mm, 10 thou")->required();
  value_command->add_option("--as", value.as, "Unit of the answer")->required();
  value_command->add_option("--from", value.from, "Unit of a bare number");

  auto* compute_command = app.add_subcommand("compute", "Calculates one cut; the request is read from standard input");

  cli::ResolveOptions resolve;
  auto* resolve_command = app.add_subcommand("resolve", "The cutting conditions of a cutter, with their trail");
  resolve_command->add_option("--shop", resolve.shop)->required();
  resolve_command->add_option("--library", resolve.library)->required();
  resolve_command->add_option("--number", resolve.number)->required();
  resolve_command->add_option("--material", resolve.material)->required();
  resolve_command->add_option("--machine", resolve.machine)->required();
  resolve_command->add_option("--operation", resolve.operation)->required();
  resolve_command->add_option("--ap", resolve.ap_mm, "Depth of cut, mm");
  resolve_command->add_option("--ae", resolve.ae_mm, "Width of cut, mm");
  resolve_command->add_option("--pace", resolve.pace, "100 is the target");
  resolve_command->add_option("--recipe", resolve.recipe);
  resolve_command->add_option("--source", resolve.source, "Follow only this source");

  cli::ChartOptions chart;
  auto* chart_command = app.add_subcommand("chart", "Every cutter in every material");
  chart_command->add_option("--shop", chart.shop)->required();
  chart_command->add_option("--machine", chart.machine)->required();
  chart_command->add_option("--operation", chart.operation)->required();
  chart_command->add_option("--format", chart.format, "json or csv");

  cli::ProgramOptions program;
  auto* program_command = app.add_subcommand("program", "Writes the program of a job");
  program_command->add_option("--shop", program.shop)->required();
  program_command->add_option("--job", program.job)->required();
  program_command->add_option("-o", program.out)->required();
  program_command->add_option("--dialect", program.dialect);
  program_command->add_flag("--skip-faulty", program.skip_faulty, "Leave out operations in error");

  std::string demo_out;
  auto* demo_command = app.add_subcommand("demo", "Writes the demo shop");
  demo_command->add_option("OUT", demo_out)->required();

  cli::ExportOptions exported;
  auto* export_command = app.add_subcommand("export", "Writes a library, or one of its cutters");
  export_command->add_option("--shop", exported.shop)->required();
  export_command->add_option("--library", exported.library)->required();
  export_command->add_option("--format", exported.format, "json, csv, xlsx, mtconnect, dxf or svg");
  export_command->add_option("--number", exported.number, "This cutter alone");
  export_command->add_option("OUT", exported.out)->required();

  cli::ImportOptions imported;
  auto* import_command = app.add_subcommand("import", "Takes cutters from JSON, CSV, XLSX or MTConnect into a library");
  import_command->add_option("--shop", imported.shop)->required();
  import_command->add_option("--library", imported.library, "Made when it is not there")->required();
  import_command->add_option("FILE", imported.file)->required();
  import_command->add_flag("--dry-run", imported.dry_run, "Only says what would happen");
  import_command->add_flag("--conflicts", imported.conflicts, "Takes lines in conflict too");
  import_command->add_flag("--inch", imported.inch, "Numbers without a unit are inches");

  cli::AssemblyOptions assembly;
  auto* assembly_command = app.add_subcommand(
      "assembly", "Gauge length, reach beside a wall, weight and stiffness of a cutter in its holder");
  assembly_command->add_option("--shop", assembly.shop)->required();
  assembly_command->add_option("--library", assembly.library)->required();
  assembly_command->add_option("--number", assembly.number)->required();
  assembly_command->add_option("--name", assembly.name, "One of several assemblies of the cutter");
  assembly_command->add_option("--holder", assembly.holder, "Another holder, tried");
  assembly_command->add_option("--stickout", assembly.stickout_mm, "Another stick-out, tried, mm");
  assembly_command->add_option("--wall-height", assembly.wall_height_mm, "Of a wall beside it, mm");
  assembly_command->add_option("--draft", assembly.draft_deg, "How far the wall leans away, degrees");

  std::string duplicates_shop;
  auto* duplicates_command = app.add_subcommand("duplicates", "Cutters that are probably one and the same");
  duplicates_command->add_option("--shop", duplicates_shop)->required();

  cli::MergeOptions merged;
  auto* merge_command = app.add_subcommand("merge", "Makes one cutter of two; jobs and assemblies go over");
  merge_command->add_option("--shop", merged.shop)->required();
  merge_command->add_option("--library", merged.library)->required();
  merge_command->add_option("--keep", merged.keep, "Number of the cutter that stays")->required();
  merge_command->add_option("--gone", merged.gone, "Number of the cutter that goes")->required();
  merge_command->add_option("--gone-library", merged.gone_library, "Its library, where it is another");

  cli::RowsOptions rows_in, rows_out;
  auto* import_rows_command = app.add_subcommand("import-rows", "Takes rows from CSV or XLSX into a table");
  auto* export_rows_command = app.add_subcommand("export-rows", "Writes a table's rows as CSV or XLSX");
  for (auto [command, options] : {std::pair{import_rows_command, &rows_in}, {export_rows_command, &rows_out}}) {
    command->add_option("--shop", options->shop)->required();
    command->add_option("--table", options->table, "Its name or id")->required();
    command->add_option("FILE", options->file)->required();
  }
  import_rows_command->add_flag("--dry-run", rows_in.dry_run, "Only says what would happen");
  import_rows_command->add_flag("--conflicts", rows_in.conflicts, "Takes rows in conflict too");

  std::string checked;
  auto* check_command = app.add_subcommand("check", "What is wrong in a file: a shop, a library, a drawing");
  check_command->add_option("FILE", checked)->required();

  auto* schema_command = app.add_subcommand("schema", "The JSON Schema of library files");

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
      std::cout << library_schema_text();
      return cli::answered;
    }
    QCoreApplication qt(argc, argv);
    std::setlocale(LC_NUMERIC, "C");
    if (*resolve_command) return cli::resolve(resolve);
    if (*chart_command) return cli::chart(chart);
    if (*program_command) return cli::program(program);
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
    std::cerr << "pecorra-cli: there is not enough memory for this\n";
  } catch (const std::exception& error) {
    std::cerr << "pecorra-cli: this should not happen: " << error.what() << "\n";
  }
  // What could not be written was not answered.
  if (!std::cout.flush() && code == cli::answered) {
    std::cerr << "pecorra-cli: the answer could not be written\n";
    code = cli::failed;
  }
  return code;
}
