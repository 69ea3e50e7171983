// The commands of pecorra-cli. Each writes its answer to standard output and returns the exit code of cli.md:
// 0 answered, 2 the input is wrong (faults on standard error, nothing written), 1 anything else.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/mechanics/cut.h"
#include "formats/json/json_text.h"
#include "formats/json/objects.h"

namespace pecorra::cli {

inline constexpr int answered = 0, failed = 1, wrong_input = 2;
inline constexpr std::size_t longest_request = 4u << 20;  // on standard input

struct ValueOptions {
  std::string text, as, from = "mm";
};
int value(const ValueOptions& options);

int compute();

struct ResolveOptions {
  std::string shop, library, material, machine, operation, source, recipe;
  int number = 0;
  std::optional<double> ap_mm, ae_mm, pace;
};
int resolve(const ResolveOptions& options);

struct ChartOptions {
  std::string shop, machine, operation, format = "json";
};
int chart(const ChartOptions& options);

struct ShortlistOptions {
  std::string shop, machine, material, tool_material, by = "cost";
};
// The feature is on standard input.
int shortlist(const ShortlistOptions& options);

struct ServeOptions {
  std::string shop, token_file, address = "127.0.0.1", certificate, key;
  int port = 7480;
};
// Until it is interrupted.
int serve(const ServeOptions& options);

struct ProgramOptions {
  std::string shop, job, out, dialect, unit, setup;
  std::optional<std::string> verify;  // empty: the file of -o
  bool skip_faulty = false;
};
int program(const ProgramOptions& options);

struct RetuneOptions {
  std::string shop, material, machine, in, out, feeds, report;
  std::vector<std::string> tools, operations, ap, ae, skip;  // each for a T, "5=…", or a section of it, "5#2=…"
  std::optional<double> stock_top_mm;
  bool check = false, arc_centres = false, watch = false;
};
// S and F of a program made elsewhere, or of a folder of them, by the tables.
int retune(const RetuneOptions& options);

struct SheetOptions {
  std::string shop, job, out, unit;
  bool portrait = false;
};
int sheet(const SheetOptions& options);

struct DialectOptions {
  std::string shop, show, read;
};
int dialect(const DialectOptions& options);

struct JobOptions {
  std::string shop, job, operation, file, after, material, machine;
  std::optional<double> pace;
  bool keep = false, dry_run = false, from_faced = false;
};
int job_new(const JobOptions& options);
int job_show(const JobOptions& options);
int job_check(const JobOptions& options);
int job_update(const JobOptions& options);
int job_features(const JobOptions& options);
int toolpath(const JobOptions& options);

struct MachineOptions {
  std::string shop, machine, file;
};
int machine_new(const MachineOptions& options);
int machine_show(const MachineOptions& options);

int demo(const std::string& out);

struct RowsOptions {
  std::string shop, table, file;
  bool dry_run = false, conflicts = false;  // conflicts: taken too
};
// Rows of a table in from CSV or XLSX with a report, and out.
int import_rows(const RowsOptions& options);
int export_rows(const RowsOptions& options);

struct ExportOptions {
  std::string shop, library, format = "json", out;
  std::optional<int> number;  // one cutter alone
};
int export_library(const ExportOptions& options);

struct ImportOptions {
  std::string shop, library, file;
  bool dry_run = false, conflicts = false, inch = false;
};
int import_library(const ImportOptions& options);

struct AssemblyOptions {
  std::string shop, library, name, holder;  // holder and stick-out: tried instead of what is kept
  int number = 0;
  std::optional<double> stickout_mm, wall_height_mm, draft_deg;
};
int assembly(const AssemblyOptions& options);

int duplicates(const std::string& shop);

struct MergeOptions {
  std::string shop, library, gone_library;
  int keep = 0, gone = 0;
};
int merge(const MergeOptions& options);

int check(const std::string& file);

int say(const FormatFaults& faults);
void write_headroom(JsonText& out, const std::vector<Headroom>& headroom);
void write_message(JsonText& out, const Message& message);
void write_message(JsonText& out, Severity severity, std::string_view code, std::string_view text);
// The same, for a document.
Json headroom_json(const std::vector<Headroom>& headroom);
Json messages_json(const std::vector<Message>& messages);

}  // namespace pecorra::cli
