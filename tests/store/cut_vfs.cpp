#include "cut_vfs.h"

#include <sqlite3.h>

#include <cstring>
#include <filesystem>
#include <fstream>
#include <map>
#include <optional>
#include <sstream>
#include <vector>

namespace test {
namespace {

namespace fs = std::filesystem;

struct Pending {
  sqlite3_int64 offset;
  std::string bytes;
  bool truncation = false;
};
struct Known {
  std::optional<std::string> durable;  // nothing: the file is not there
  std::vector<Pending> pending;
};

sqlite3_vfs* real = nullptr;
std::map<std::string, Known> files;
long counted = 0, cut_at = 0;
bool off = false;

std::optional<std::string> slurp(const std::string& name) {
  std::ifstream in(name, std::ios::binary);
  if (!in) return std::nullopt;
  std::ostringstream text;
  text << in.rdbuf();
  return text.str();
}

Known& known(const std::string& name) {
  const auto [at, added] = files.try_emplace(name);
  if (added) at->second.durable = slurp(name);
  return at->second;
}

// True when the power goes now.
bool counts() {
  if (off) return true;
  ++counted;
  if (cut_at > 0 && counted >= cut_at) off = true;
  return off;
}

void put_into(std::string& image, const Pending& p) {
  if (p.truncation) {
    image.resize(static_cast<std::size_t>(p.offset));
    return;
  }
  const std::size_t end = static_cast<std::size_t>(p.offset) + p.bytes.size();
  if (image.size() < end) image.resize(end, '\0');
  std::memcpy(image.data() + p.offset, p.bytes.data(), p.bytes.size());
}

struct CutFile {
  sqlite3_file base;
  std::string* name;
  sqlite3_file* inner() { return reinterpret_cast<sqlite3_file*>(this + 1); }
};
CutFile* of(sqlite3_file* f) { return reinterpret_cast<CutFile*>(f); }
sqlite3_file* in(sqlite3_file* f) { return of(f)->inner(); }

int close_file(sqlite3_file* f) {
  const int code = in(f)->pMethods ? in(f)->pMethods->xClose(in(f)) : SQLITE_OK;
  delete of(f)->name;
  of(f)->name = nullptr;
  return code;
}
int read_file(sqlite3_file* f, void* to, int n, sqlite3_int64 at) {
  return off ? SQLITE_IOERR : in(f)->pMethods->xRead(in(f), to, n, at);
}
int write_file(sqlite3_file* f, const void* from, int n, sqlite3_int64 at) {
  Known& k = known(*of(f)->name);
  const bool was_off = off;
  if (counts()) {
    if (!was_off)
      k.pending.push_back({at, std::string(static_cast<const char*>(from),
                                           static_cast<std::size_t>(n))});  // on its way when the power went
    return SQLITE_IOERR;
  }
  k.pending.push_back({at, std::string(static_cast<const char*>(from), static_cast<std::size_t>(n))});
  return in(f)->pMethods->xWrite(in(f), from, n, at);
}
int truncate_file(sqlite3_file* f, sqlite3_int64 size) {
  Known& k = known(*of(f)->name);
  if (counts()) return SQLITE_IOERR;
  k.pending.push_back({size, {}, true});
  return in(f)->pMethods->xTruncate(in(f), size);
}
int sync_file(sqlite3_file* f, int flags) {
  if (counts()) return SQLITE_IOERR;
  Known& k = known(*of(f)->name);
  std::string image = k.durable.value_or(std::string());
  for (const Pending& p : k.pending) put_into(image, p);
  k.durable = std::move(image);
  k.pending.clear();
  return in(f)->pMethods->xSync(in(f), flags);
}
int file_size(sqlite3_file* f, sqlite3_int64* size) {
  return off ? SQLITE_IOERR : in(f)->pMethods->xFileSize(in(f), size);
}
int lock_file(sqlite3_file* f, int level) { return in(f)->pMethods->xLock(in(f), level); }
int unlock_file(sqlite3_file* f, int level) { return in(f)->pMethods->xUnlock(in(f), level); }
int check_lock(sqlite3_file* f, int* out) { return in(f)->pMethods->xCheckReservedLock(in(f), out); }
int control(sqlite3_file* f, int what, void* arg) {
  return what == SQLITE_FCNTL_VFSNAME ? SQLITE_NOTFOUND : in(f)->pMethods->xFileControl(in(f), what, arg);
}
int sector(sqlite3_file* f) { return in(f)->pMethods->xSectorSize(in(f)); }
// No promise about writes being whole or in order: the hardest disk.
int characteristics(sqlite3_file*) { return 0; }
int shm_map(sqlite3_file* f, int page, int size, int extend, void volatile** out) {
  return in(f)->pMethods->xShmMap(in(f), page, size, extend, out);
}
int shm_lock(sqlite3_file* f, int offset, int n, int flags) {
  return in(f)->pMethods->xShmLock(in(f), offset, n, flags);
}
void shm_barrier(sqlite3_file* f) { in(f)->pMethods->xShmBarrier(in(f)); }
int shm_unmap(sqlite3_file* f, int remove) { return in(f)->pMethods->xShmUnmap(in(f), remove); }

const sqlite3_io_methods methods = {2,           close_file, read_file,       write_file,  truncate_file,
                                    sync_file,   file_size,  lock_file,       unlock_file, check_lock,
                                    control,     sector,     characteristics, shm_map,     shm_lock,
                                    shm_barrier, shm_unmap,  nullptr,         nullptr};

int open_file(sqlite3_vfs*, const char* name, sqlite3_file* f, int flags, int* out) {
  if (off) return SQLITE_CANTOPEN;
  const int code = real->xOpen(real, name, in(f), flags, out);
  if (code != SQLITE_OK) {
    f->pMethods = nullptr;
    return code;
  }
  of(f)->name = new std::string(name ? name : "");
  if (name) {
    Known& k = known(*of(f)->name);
    if (!k.durable && slurp(*of(f)->name)) k.durable = std::string();  // its name is in the folder, its content is not
  }
  f->pMethods = &methods;
  return SQLITE_OK;
}
int delete_file(sqlite3_vfs*, const char* name, int sync_folder) {
  if (counts()) return SQLITE_IOERR;
  known(name) = {};
  return real->xDelete(real, name, sync_folder);
}
int access_file(sqlite3_vfs*, const char* name, int flags, int* out) { return real->xAccess(real, name, flags, out); }
int full_path(sqlite3_vfs*, const char* name, int n, char* out) { return real->xFullPathname(real, name, n, out); }

}  // namespace

void install_cut_vfs() {
  real = sqlite3_vfs_find(nullptr);
  static sqlite3_vfs layer = *real;
  layer.zName = "cut";
  layer.szOsFile = static_cast<int>(sizeof(CutFile)) + real->szOsFile;
  layer.pNext = nullptr;
  layer.xOpen = open_file;
  layer.xDelete = delete_file;
  layer.xAccess = access_file;
  layer.xFullPathname = full_path;
  sqlite3_vfs_register(&layer, 1);
}

void cut_power_at(long n) {
  counted = 0;
  cut_at = n;
  off = false;
}
bool power_is_off() { return off; }
long operations_counted() { return counted; }

void start_afresh() {
  files.clear();
  cut_power_at(0);
}

void write_found_files(const std::string& folder, const std::string& target, Unsynced unsynced) {
  fs::create_directories(target);
  for (const auto& [name, k] : files) {
    const fs::path path(name);
    if (path.parent_path() != fs::path(folder) || path.extension() == ".pecorra-shm" || name.ends_with("-shm"))
      continue;
    if (!k.durable && (unsynced == Unsynced::dropped || k.pending.empty())) continue;
    std::string image = k.durable.value_or(std::string());
    for (std::size_t i = 0; i < k.pending.size(); ++i) {
      if (unsynced == Unsynced::dropped) break;
      if (unsynced == Unsynced::torn) {
        if (i % 2 == 0) continue;  // out of order: some came through, some did not
        Pending half = k.pending[i];
        if (!half.truncation) half.bytes.resize(half.bytes.size() / 2);
        put_into(image, half);
        continue;
      }
      put_into(image, k.pending[i]);
    }
    std::ofstream out(fs::path(target) / path.filename(), std::ios::binary);
    out << image;
  }
}

}  // namespace test
