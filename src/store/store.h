// A shop in SQLite: one row for each object with its revision, and one durable transaction with a history entry for
// each accepted change. A Store belongs to the thread that opened it. It blocks; windows use StoreThread.
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
  // The last change its maker had seen; negative: unknown. Cutter numbers and library names stay unique against
  // everything written since.
  std::int64_t known_seq = -1;
  // It may build on a change that was refused: an object counts as unchanged only if it equals `before`.
  bool compare_bodies = false;
};

// The outcome of a change.
struct Accepted {
  std::int64_t seq = 0;
  bool alone = true;                 // nobody else wrote since known_seq
  std::vector<StoredObject> merged;  // objects that now differ from the change, as they include others' changes
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
  taken,     // the number or name has been taken meanwhile
  replaced,  // the shop's file was replaced or removed
  io
};

struct StoreFault {
  StoreTrouble trouble = StoreTrouble::io;
  QString file;
  QString detail;   // the database's own message
  int version = 0;  // of a newer shop
  // Of a conflict: the object, and what is stored now.
  ObjectKind kind = ObjectKind::cutter;
  Id object;
  Clash clash;
  QString sentence() const;
};

class Store {
 public:
  static constexpr int version = 4;
  static constexpr int application_id = 0x50454352;  // "PECR"

  // An existing shop; older versions are migrated after a backup beside the file.
  static tl::expected<std::unique_ptr<Store>, StoreFault> open(const QString& file);
  // A new shop; a file of that name must not exist.
  static tl::expected<std::unique_ptr<Store>, StoreFault> create(const QString& file);
  ~Store();

  tl::expected<std::vector<StoredObject>, StoreFault> load() const;
  // Called for each object; the text is valid until the next call. `count`: roughly how many there are.
  struct RawObject {
    ObjectKind kind;
    Id id;
    std::int64_t revision;
    std::string_view body;
  };
  std::optional<StoreFault> load_each(const std::function<void(const RawObject&)>& take) const;
  // At least the number of objects.
  std::int64_t most_objects() const;
  // All or nothing, and on disk when it returns. If another program was first, the change is merged with what is
  // stored, value by value; it is refused only where both changed the same value.
  tl::expected<Accepted, StoreFault> commit(const StoredChange& change);
  // Moves everything from the log into the file and onto the disk, so that the file can be renamed.
  std::optional<StoreFault> finish();
  // How bodies are merged; merged_body by default.
  using Merge = std::function<tl::expected<std::string, Clash>(ObjectKind kind, const std::string& before,
                                                               const std::string& after, const std::string& theirs)>;
  void set_merge(Merge merge) { merge_ = std::move(merge); }
  tl::expected<std::vector<StoredObject>, StoreFault> objects_of(ObjectKind kind) const;
  // The objects as stored; an empty body for one that is not there.
  tl::expected<std::vector<StoredObject>, StoreFault> objects(const std::vector<StoredEdit>& edits) const;
  // Whether the name still leads to the file that was opened.
  bool is_in_place() const;
  // True when another connection has written since the last call.
  bool changed_outside();
  // Everything written after change `seq`; deletions have an empty body.
  tl::expected<std::vector<StoredObject>, StoreFault> changed_since(std::int64_t seq) const;
  std::int64_t last_seq() const;
  tl::expected<std::vector<HistoryEntry>, StoreFault> history(const std::optional<Id>& object, int most) const;

  // The last change of any of these objects, or of one that named `owner` and was deleted; seq 0: none.
  struct LastChange {
    std::int64_t seq = 0;
    std::string when;
  };
  tl::expected<LastChange, StoreFault> last_change(const std::vector<Id>& objects, const Id& owner) const;

  // A value remembered besides the objects, without history; empty if there is none. Other programs are not notified.
  tl::expected<std::string, StoreFault> kept(const std::string& key) const;
  std::optional<StoreFault> keep(const std::string& key, std::string_view bytes);

  // Simulates a full disk: 1 stops the database from growing, 0 lets it grow again.
  void set_page_limit_for_tests(int on);

  bool is_read_only() const { return read_only_; }
  QString file() const { return file_; }

 private:
  Store() = default;
  bool says(const StoredEdit& edit, const std::string& theirs) const;  // its previous value
  StoreFault fault_now() const;                                        // of the connection's last failure
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
