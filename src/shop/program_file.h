// What a program says of the job it was made from, and whether it still is what the job would write.
#pragma once

#include <QString>
#include <string>
#include <vector>

#include "core/job/job.h"
#include "shop/state.h"

namespace pecorra {

// "Revision 148 of 2026-11-29 14:02": the last change of anything in the job, never the time of writing. Empty without
// a file, or where it cannot be read. Reads the disk.
std::string revision_text(const QString& shop_file, const Job& job);

// The job's own, else one made from its id that is always the same.
int program_number(const JobHead& job);
// For a new job: one above the highest of the others.
int next_program_number(const ShopState& state);

// Programs that were written from a job, the newest first; a file once.
struct ProgramFile {
  std::string file, revision, when;
};
// Both block. Remembered beside the shop's objects, without history; not at all where the shop cannot be written.
void remember_program(const QString& shop_file, const Job& job, const QString& file);
std::vector<ProgramFile> programs_written(const QString& shop_file, const Id& job);

// Line by line, at most so many: "line 12: S3000 M3, the job would write S2800 M3". Empty: the same bytes.
std::vector<std::string> program_differences(const std::string& found, const std::string& wanted,
                                             std::size_t most = 200);

}  // namespace pecorra
