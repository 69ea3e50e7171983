// A shop on SQLite: every object as one row with its revision, every accepted change as one durable transaction with a
// history entry. A Store belongs to the thread that opened it. Blocking; windows use StoreThread.
#pragma once

#include <QByteArray>
#include <QString>
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <tl/expected.hpp>
#include <vector>

#include "core/base/id.h"
#include "core/stored/stored_kinds.h"
#include "store/merge.h"

namespace pecorra {

struct StoredObject {
  ObjectKind kind = ObjectKind::cutter;
  Id id;
  std::int64_t revision = 0;
  std::string body;  // JSON; empty: deleted
};

struct StoredEdit {
  ObjectKind kind = ObjectKind::cutter;
  Id id;
  std::int64_t base_revision = 0;  // 0: the object is new
  std::string before;              // JSON, empty for a new object
  std::string after;               // JSON, empty to delete
};

struct StoredChange {
  std::string label;  // what was done, for people
  std::string who;
  std::string when;  // ISO 8601
  std::vector<StoredEdit> edits;
  // The last change that whoever made this one had seen; negative: it is not known. Numbers of cutters and names of
  // libraries stay unique against all that was written since.
  std::int64_t known_seq = -1;
  // It may stand on a change that was refused: an object is taken as unchanged only when it says what `before` says.
  bool compare_bodies = false;
};

// The outcome of a change.
struct Accepted {
  std::int64_t seq = 0;
  bool alone = true;                 // nobody else wrote since known_seq
  std::vector<StoredObject> merged;  // objects that are now otherwise than the change says: others' changes are in them
};

struct HistoryEntry {
  std::int64_t seq = 0;
  std::string when, who, label;
  ObjectKind kind = ObjectKind::cutter;
  Id id;
  std::string before, after;  // JSON objects of the keys that changed; whole objects when made or deleted
};

enum class StoreTrouble {
  missing,
  not_a_shop,
  newer_version,
  damaged,
  read_only,
  locked,
  disk_full,
  conflict,  // both changed one value, or one deleted what the other changed
  taken,     // the number or the name was given to something else meanwhile
  replaced,  // another file stands where the shop was opened, or none
  io
};

struct StoreFault {
  StoreTrouble trouble = StoreTrouble::io;
  QString file;
  QString detail;   // of the database, for those who want to know
  int version = 0;  // of a newer shop
  // Of a conflict: the object and what stands there now.
  ObjectKind kind = ObjectKind::cutter;
  Id object;
  Clash clash;
  QString sentence() const;
};

class Store {
 public:
  static constexpr int version = 3;
  static constexpr int application_id = 0x50454352;  // "PECR"

  // An existing shop; older versions are migrated after a backup beside the file.
  static tl::expected<std::unique_ptr<Store>, StoreFault> open(const QString& file);
  // A new shop; a file of that name must not exist.
  static tl::expected<std::unique_ptr<Store>, StoreFault> create(const QString& file);
  ~Store();

  tl::expected<std::vector<StoredObject>, StoreFault> load() const;
  // Each object as it is read; the text stands until the next one. `count` is known before the first: about how many
  // come.
  struct RawObject {
    ObjectKind kind;
    Id id;
    std::int64_t revision;
    std::string_view body;
  };
  std::optional<StoreFault> load_each(const std::function<void(const RawObject&)>& take) const;
  // Not fewer than there are objects.
  std::int64_t most_objects() const;
  // All of it or nothing, synchronised before it returns. Where another program was first, the change is brought
  // together with what stands, value by value; it is refused only where both changed the same value.
  tl::expected<Accepted, StoreFault> commit(const StoredChange& change);
  // Everything is in the file itself and on the disk, nothing in the log beside it: it can be given another name.
  std::optional<StoreFault> finish();
  // How bodies are brought together; merged_body where nothing else is set.
  using Merge = std::function<tl::expected<std::string, Clash>(ObjectKind kind, const std::string& before,
                                                               const std::string& after, const std::string& theirs)>;
  void set_merge(Merge merge) { merge_ = std::move(merge); }
  tl::expected<std::vector<StoredObject>, StoreFault> objects_of(ObjectKind kind) const;
  // The objects as they stand; with an empty body where they are not there.
  tl::expected<std::vector<StoredObject>, StoreFault> objects(const std::vector<StoredEdit>& edits) const;
  // The same file still has the name under which it was opened.
  bool is_in_place() const;
  // True when another connection has written since the last call.
  bool changed_outside();
  // What was written after change `seq`, deletions with an empty body.
  tl::expected<std::vector<StoredObject>, StoreFault> changed_since(std::int64_t seq) const;
  std::int64_t last_seq() const;
  tl::expected<std::vector<HistoryEntry>, StoreFault> history(const std::optional<Id>& object, int most) const;

  // What is remembered beside the objects, without a history; empty where nothing is. No other program is told of it.
  tl::expected<std::string, StoreFault> kept(const std::string& key) const;
  std::optional<StoreFault> keep(const std::string& key, std::string_view bytes);

  // Stands for a full disk: the database may not grow beyond its pages of now (1), or may again (0).
  void set_page_limit_for_tests(int on);

  bool is_read_only() const { return read_only_; }
  QString file() const { return file_; }

 private:
  Store() = default;
  bool says(const StoredEdit& edit, const std::string& theirs) const;  // what it said before
  StoreFault fault_now() const;  // of the last thing that failed on the connection
  static tl::expected<std::unique_ptr<Store>, StoreFault> connect(const QString& file, bool read_only);
  static tl::expected<std::unique_ptr<Store>, StoreFault> open_as(const QString& file, bool read_only);

  QString file_;
  QString connection_;
  Merge merge_;
  std::uint64_t device_ = 0, inode_ = 0;
  bool read_only_ = false;
  std::int64_t data_version_ = 0;
};

}  // namespace pecorra
