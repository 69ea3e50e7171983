// A file system layer for SQLite that remembers what was synchronised and what was not. After a "power cut" every
// access fails, and the disk as it would be found can be written out: without, with, or with half of what was not
// synchronised.
#pragma once

#include <string>

namespace test {

enum class Unsynced { dropped, kept, torn };

// Registers the layer as SQLite's default.
void install_cut_vfs();
// Starts counting: the power goes at the n-th write, truncation, deletion or synchronisation (0: never).
void cut_power_at(long n);
bool power_is_off();
long operations_counted();
// Forgets everything; what stands on the disk now counts as synchronised.
void start_afresh();
// Writes the files of `folder` as they would be found after the cut into `target`.
void write_found_files(const std::string& folder, const std::string& target, Unsynced unsynced);

}  // namespace test
