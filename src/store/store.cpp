#include "store/store.h"

#include <fcntl.h>
#include <sqlite3.h>
#include <sys/stat.h>
#include <unistd.h>
#include <QCoreApplication>
#include <QFile>
#include <QFileInfo>
#include <QRandomGenerator>
#include <QSqlDatabase>
#include <QSqlDriver>
#include <QSqlError>
#include <QSqlQuery>
#include <QUuid>
#include <QVariant>
#include <algorithm>
#include <cerrno>
#include <map>
#include <nlohmann/json.hpp>
#include <unordered_set>

#include "store/migrations.h"

namespace pecorra {
namespace {

StoreFault fault_of(int code, const QString& detail, const QString& file) {
  StoreFault fault;
  fault.file = file;
  fault.detail = detail;
  // SQLite result codes without their extended part.
  switch (code & 0xff) {
    case 5:
    case 6: fault.trouble = StoreTrouble::locked; break;
    case 8: fault.trouble = StoreTrouble::read_only; break;
    case 11: fault.trouble = StoreTrouble::damaged; break;
    case 13: fault.trouble = StoreTrouble::disk_full; break;
    case 26: fault.trouble = StoreTrouble::not_a_shop; break;
    default: fault.trouble = StoreTrouble::io;
  }
  return fault;
}

StoreFault fault_of(const QSqlError& error, const QString& file) {
  return fault_of(error.nativeErrorCode().toInt(), error.text(), file);
}

// SQLite's own handle: large numbers of rows are read and written through it, which saves converting every text to
// UTF-16 and back.
sqlite3* handle_of(const QSqlDatabase& database) {
  const QVariant handle = database.driver()->handle();
  return handle.isValid() && qstrcmp(handle.typeName(), "sqlite3*") == 0 ? *static_cast<sqlite3* const*>(handle.data())
                                                                         : nullptr;
}

class Statement {
 public:
  Statement(sqlite3* database, const char* sql) { sqlite3_prepare_v2(database, sql, -1, &statement_, nullptr); }
  ~Statement() { sqlite3_finalize(statement_); }
  Statement(const Statement&) = delete;
  Statement& operator=(const Statement&) = delete;
  // Texts must stay valid until the statement is stepped.
  void bind(int at, std::string_view text) {
    sqlite3_bind_text(statement_, at, text.data(), static_cast<int>(text.size()), SQLITE_STATIC);
  }
  void bind(int at, std::int64_t number) { sqlite3_bind_int64(statement_, at, number); }
  void bind_bytes(int at, std::string_view bytes) {
    sqlite3_bind_blob(statement_, at, bytes.data(), static_cast<int>(bytes.size()), SQLITE_STATIC);
  }
  void bind_null(int at) { sqlite3_bind_null(statement_, at); }
  // True if there is a row.
  bool step() { return statement_ && (last_ = sqlite3_step(statement_)) == SQLITE_ROW; }
  // For statements that return no rows; can be bound again afterwards.
  bool run() {
    const bool done = statement_ && (last_ = sqlite3_step(statement_)) == SQLITE_DONE;
    sqlite3_reset(statement_);
    return done;
  }
  bool is_done() const { return last_ == SQLITE_DONE; }
  void reset() { sqlite3_reset(statement_); }
  // Of texts and blobs alike.
  std::string_view text(int column) const {
    const auto* bytes = static_cast<const char*>(sqlite3_column_blob(statement_, column));
    return bytes ? std::string_view(bytes, static_cast<std::size_t>(sqlite3_column_bytes(statement_, column)))
                 : std::string_view();
  }
  std::int64_t number(int column) const { return sqlite3_column_int64(statement_, column); }

 private:
  sqlite3_stmt* statement_ = nullptr;
  int last_ = SQLITE_ERROR;
};

std::optional<StoreFault> exec(QSqlDatabase& database, const QString& sql, const QString& file) {
  QSqlQuery query(database);
  if (query.exec(sql)) return std::nullopt;
  return fault_of(query.lastError(), file);
}

tl::expected<qint64, StoreFault> number(QSqlDatabase& database, const QString& sql, const QString& file) {
  QSqlQuery query(database);
  if (!query.exec(sql)) return tl::unexpected(fault_of(query.lastError(), file));
  return query.next() ? query.value(0).toLongLong() : 0;
}

QString text(const std::string& s) { return QString::fromUtf8(s.data(), static_cast<qsizetype>(s.size())); }
std::string bytes(const QVariant& v) { return v.toString().toStdString(); }

// The keys in which two objects differ; whole objects where one is missing.
std::pair<std::string, std::string> differences(const std::string& before, const std::string& after) {
  if (before.empty() || after.empty()) return {before, after};
  using Json = nlohmann::json;
  const Json a = Json::parse(before, nullptr, false), b = Json::parse(after, nullptr, false);
  if (!a.is_object() || !b.is_object()) return {before, after};
  Json from = Json::object(), to = Json::object();
  for (const auto& [key, value] : a.items())
    if (!b.contains(key) || b[key] != value) from[key] = value;
  for (const auto& [key, value] : b.items())
    if (!a.contains(key) || a[key] != value) to[key] = value;
  const auto text = [](const Json& json) { return json.dump(-1, ' ', false, Json::error_handler_t::replace); };
  return {text(from), text(to)};
}

}  // namespace

QString StoreFault::sentence() const {
  const auto tr = [](const char* source) { return QCoreApplication::translate("Store", source); };
  const QString name = QFileInfo(file).fileName();
  switch (trouble) {
    case StoreTrouble::missing: return tr("There is no file “%1”.").arg(file);
    case StoreTrouble::not_a_shop: return tr("“%1” is not a Pecorra shop. It was not changed.").arg(name);
    case StoreTrouble::newer_version:
      return tr("“%1” was written by a newer Pecorra (shop version %2, this program reads up to %3). It was not "
                "changed.")
          .arg(name)
          .arg(version)
          .arg(Store::version);
    case StoreTrouble::damaged:
      return tr("“%1” is damaged and was not changed. Use the backup next to it. (%2)").arg(name, detail);
    case StoreTrouble::read_only: return tr("“%1” is read-only: the file or its folder is write-protected.").arg(name);
    case StoreTrouble::locked:
      return tr("“%1” is locked by another program. Try again when it has finished.").arg(name);
    case StoreTrouble::disk_full:
      return tr("The disk is full: the change to “%1” is not saved yet. Free some space.").arg(name);
    case StoreTrouble::conflict:
      return clash.property.empty()
                 ? tr("Another program changed or deleted this first; its change stands.")
                 : tr("Another program changed %1 first; it is now %2.")
                       .arg(text(clash.property), clash.theirs.empty() ? tr("nothing") : text(clash.theirs));
    case StoreTrouble::taken: return tr("Another program has already used %1.").arg(text(clash.ours));
    case StoreTrouble::replaced:
      return tr("“%1” was replaced, moved or deleted while it was open. Nothing is lost: save it as a new shop.")
          .arg(name);
    case StoreTrouble::io: break;
  }
  return tr("“%1” cannot be read or written: %2").arg(name, detail);
}

Store::~Store() {
  QSqlDatabase::database(connection_, false).close();
  QSqlDatabase::removeDatabase(connection_);
}

tl::expected<std::unique_ptr<Store>, StoreFault> Store::connect(const QString& file, bool read_only) {
  std::unique_ptr<Store> store(new Store);
  store->file_ = QFileInfo(file).absoluteFilePath();  // never a URI, and independent of the working directory
  store->read_only_ = read_only;
  store->connection_ = QStringLiteral("shop-") + QUuid::createUuid().toString(QUuid::Id128);
  QSqlDatabase database = QSqlDatabase::addDatabase(QStringLiteral("QSQLITE"), store->connection_);
  QString options = QStringLiteral("QSQLITE_BUSY_TIMEOUT=2000;QSQLITE_ENABLE_REGEXP=0;QSQLITE_OPEN_URI");
  // Opening never creates a file, even if it vanishes between the check and the opening.
  QString how = QStringLiteral("?mode=rw");
  if (read_only) {
    // Nothing can be created beside a write-protected file; without a log it can be read as it is.
    options += QStringLiteral(";QSQLITE_OPEN_READONLY");
    const bool quiet = QFileInfo(file + QStringLiteral("-wal")).size() == 0;
    how = quiet ? QStringLiteral("?immutable=1") : QStringLiteral("?vfs=unix-none");
  }
  database.setDatabaseName(QStringLiteral("file:") + QString::fromLatin1(store->file_.toUtf8().toPercentEncoding("/")) +
                           how);
  database.setConnectOptions(options);
  if (!database.open()) {
    const StoreFault fault = fault_of(database.lastError(), file);
    return tl::unexpected(fault);
  }
  sqlite3* handle = handle_of(database);
  if (!handle) {
    StoreFault fault;
    fault.file = file;
    return tl::unexpected(fault);
  }
  // The file can come from anywhere: no code in it is ever run.
  for (const int off : {SQLITE_DBCONFIG_TRUSTED_SCHEMA, SQLITE_DBCONFIG_ENABLE_TRIGGER, SQLITE_DBCONFIG_ENABLE_VIEW})
    sqlite3_db_config(handle, off, 0, nullptr);
  sqlite3_db_config(handle, SQLITE_DBCONFIG_DEFENSIVE, 1, nullptr);
  exec(database, QStringLiteral("PRAGMA cell_size_check = ON"), file);
  // Reads a log that was left behind without the shared-memory file, which cannot be created here.
  if (read_only) exec(database, QStringLiteral("PRAGMA locking_mode = EXCLUSIVE"), file);
  struct stat opened {};
  if (::stat(QFile::encodeName(store->file_).constData(), &opened) == 0) {
    store->device_ = opened.st_dev;
    store->inode_ = opened.st_ino;
  }
  return store;
}

tl::expected<std::unique_ptr<Store>, StoreFault> Store::create(const QString& file) {
  // Must be new: no link is followed and nothing is overwritten.
  const int handle =
      ::open(QFile::encodeName(file).constData(), O_RDWR | O_CREAT | O_EXCL | O_NOFOLLOW | O_CLOEXEC, 0666);
  if (handle < 0) {
    StoreFault fault;
    fault.file = file;
    fault.detail = errno == EEXIST ? QCoreApplication::translate("Store", "a file with this name already exists")
                                   : qt_error_string(errno);
    if (errno == ENOSPC || errno == EDQUOT) fault.trouble = StoreTrouble::disk_full;
    return tl::unexpected(fault);
  }
  ::close(handle);
  auto store = connect(file, false);
  if (!store) return store;
  QSqlDatabase database = QSqlDatabase::database((*store)->connection_, false);
  std::optional<StoreFault> fault;
  for (const QString& sql : {QStringLiteral("PRAGMA journal_mode = WAL"), QStringLiteral("PRAGMA synchronous = FULL"),
                             QStringLiteral("PRAGMA foreign_keys = ON"), QStringLiteral("BEGIN IMMEDIATE"),
                             QStringLiteral("PRAGMA application_id = %1").arg(application_id),
                             QStringLiteral("PRAGMA user_version = %1").arg(version)})
    if (!fault) fault = exec(database, sql, file);
  if (!fault)
    if (const QSqlError error = create_schema(database); error.isValid()) fault = fault_of(error, file);
  if (!fault) fault = exec(database, QStringLiteral("COMMIT"), file);
  if (fault) return tl::unexpected(*fault);
  (*store)->changed_outside();
  return store;
}

namespace {

// A copy of the shop with the same permissions. It gets its name only once it is complete and on disk.
std::optional<StoreFault> back_up(QSqlDatabase& database, const QString& file, const QString& backup) {
  struct stat shop {};
  const QString making = backup + QLatin1Char('.') + QString::number(QRandomGenerator::system()->generate64(), 36) +
                         QStringLiteral(".part");
  const QByteArray part = QFile::encodeName(making);
  const auto failed = [&](int error) {
    ::unlink(part.constData());
    StoreFault fault =
        fault_of(error == ENOSPC || error == EDQUOT ? SQLITE_FULL : SQLITE_IOERR, qt_error_string(error), backup);
    return fault;
  };
  if (::stat(QFile::encodeName(file).constData(), &shop) != 0) return failed(errno);
  const int handle = ::open(part.constData(), O_RDWR | O_CREAT | O_EXCL | O_NOFOLLOW | O_CLOEXEC, 0600);
  if (handle < 0) return failed(errno);
  std::optional<StoreFault> fault = exec(
      database, QStringLiteral("VACUUM INTO '%1'").arg(QString(making).replace('\'', QLatin1String("''"))), backup);
  if (fault) ::unlink(part.constData());
  else if (::fchmod(handle, shop.st_mode & 0777) != 0 || ::fsync(handle) != 0 ||
           ::rename(part.constData(), QFile::encodeName(backup).constData()) != 0)
    fault = failed(errno);
  ::close(handle);
  return fault;
}

}  // namespace

tl::expected<std::unique_ptr<Store>, StoreFault> Store::open(const QString& file) {
  const QFileInfo info(file);
  StoreFault plain;
  plain.file = file;
  if (!info.isFile()) {
    plain.trouble = StoreTrouble::missing;
    return tl::unexpected(plain);
  }
  if (!info.isReadable()) {
    plain.trouble = StoreTrouble::io;
    plain.detail = QCoreApplication::translate("Store", "no permission to read it");
    return tl::unexpected(plain);
  }
  {
    QFile header(file);
    if (header.open(QIODevice::ReadOnly)) {
      const QByteArray start = header.read(16);
      if (start != QByteArray("SQLite format 3\0", 16)) {
        plain.trouble = StoreTrouble::not_a_shop;
        return tl::unexpected(plain);
      }
    }
  }
  if (!info.isWritable() || !QFileInfo(info.absolutePath()).isWritable()) return open_as(file, true);
  auto store = open_as(file, false);
  if (store) return store;
  // A full or failing disk can still be read.
  const StoreTrouble trouble = store.error().trouble;
  if (trouble != StoreTrouble::disk_full && trouble != StoreTrouble::io && trouble != StoreTrouble::read_only)
    return store;
  auto as_it_stands = open_as(file, true);
  return as_it_stands ? std::move(as_it_stands) : std::move(store);
}

tl::expected<std::unique_ptr<Store>, StoreFault> Store::open_as(const QString& file, bool read_only) {
  const QFileInfo info(file);
  StoreFault plain;
  plain.file = file;
  auto store = connect(file, read_only);
  if (!store) return store;
  QSqlDatabase database = QSqlDatabase::database((*store)->connection_, false);
  const auto application = number(database, QStringLiteral("PRAGMA application_id"), file);
  if (!application) return tl::unexpected(application.error());
  if (*application != application_id) {
    plain.trouble = StoreTrouble::not_a_shop;
    return tl::unexpected(plain);
  }
  const auto found = number(database, QStringLiteral("PRAGMA user_version"), file);
  if (!found) return tl::unexpected(found.error());
  if (*found < 1) {
    plain.trouble = StoreTrouble::damaged;
    plain.detail = QCoreApplication::translate("Store", "there is no shop of version %1").arg(*found);
    return tl::unexpected(plain);
  }
  if (*found > version) {
    plain.trouble = StoreTrouble::newer_version;
    plain.version = static_cast<int>(*found);
    return tl::unexpected(plain);
  }
  // Checked before anything is used: our tables are there and nothing else.
  if (const auto other = foreign_schema(handle_of(database), static_cast<int>(*found))) {
    plain.trouble = StoreTrouble::damaged;
    plain.detail = *other;
    return tl::unexpected(plain);
  }
  // Small files are checked as a whole, large ones while they are read.
  if (info.size() < (8 << 20)) {
    QSqlQuery check(database);
    const bool ran = check.exec(QStringLiteral("PRAGMA quick_check(1)")) && check.next();
    if (!ran) return tl::unexpected(fault_of(check.lastError(), file));
    if (check.value(0).toString() != QLatin1String("ok")) {
      plain.trouble = StoreTrouble::damaged;
      plain.detail = check.value(0).toString();
      return tl::unexpected(plain);
    }
  }
  if (!read_only) {
    for (const QString& sql : {QStringLiteral("PRAGMA journal_mode = WAL"), QStringLiteral("PRAGMA synchronous = FULL"),
                               QStringLiteral("PRAGMA foreign_keys = ON")})
      if (const auto fault = exec(database, sql, file)) return tl::unexpected(*fault);
    for (int from = static_cast<int>(*found); from < version; ++from) {
      const QString backup = QStringLiteral("%1.version-%2").arg((*store)->file_).arg(from);
      if (QFileInfo(backup).size() == 0)
        if (const auto fault = back_up(database, (*store)->file_, backup)) return tl::unexpected(*fault);
      if (const auto fault = exec(database, QStringLiteral("BEGIN IMMEDIATE"), file)) return tl::unexpected(*fault);
      const QSqlError error = migrate_one(database, from);
      std::optional<StoreFault> fault;
      if (error.isValid()) fault = fault_of(error, file);
      if (!fault) fault = exec(database, QStringLiteral("PRAGMA user_version = %1").arg(from + 1), file);
      if (!fault) fault = exec(database, QStringLiteral("COMMIT"), file);
      if (fault) {
        exec(database, QStringLiteral("ROLLBACK"), file);
        return tl::unexpected(*fault);
      }
    }
  } else if (*found < version) {
    plain.trouble = StoreTrouble::read_only;
    return tl::unexpected(plain);
  }
  (*store)->changed_outside();
  return store;
}

namespace {

tl::expected<std::vector<StoredObject>, StoreFault> read_objects(QSqlQuery& query, const QString& file) {
  std::vector<StoredObject> objects;
  while (query.next()) {
    const auto kind = object_kind_from(bytes(query.value(1)));
    const auto id = Id::parse(bytes(query.value(0)));
    if (!kind || !id) continue;  // of a kind that only a later version knows
    objects.push_back({*kind, *id, query.value(2).toLongLong(), bytes(query.value(3))});
  }
  if (query.lastError().isValid()) return tl::unexpected(fault_of(query.lastError(), file));
  return objects;
}

}  // namespace

tl::expected<std::vector<StoredObject>, StoreFault> Store::load() const {
  std::vector<StoredObject> objects;
  if (const auto fault = load_each([&](const RawObject& o) {
        objects.push_back({o.kind, o.id, o.revision, std::string(o.body)});
      }))
    return tl::unexpected(*fault);
  return objects;
}

StoreFault Store::fault_now() const {
  sqlite3* handle = handle_of(QSqlDatabase::database(connection_, false));
  return fault_of(sqlite3_extended_errcode(handle), QString::fromUtf8(sqlite3_errmsg(handle)), file_);
}

std::optional<StoreFault> Store::load_each(const std::function<void(const RawObject&)>& take) const {
  Statement rows(handle_of(QSqlDatabase::database(connection_, false)),
                 "SELECT id, kind, revision, body FROM object ORDER BY rowid");
  while (rows.step()) {
    const auto kind = object_kind_from(rows.text(1));
    const auto id = Id::parse(rows.text(0));
    if (!kind || !id) continue;  // of a kind that only a later version knows
    take({*kind, *id, rows.number(2), rows.text(3)});
  }
  return rows.is_done() ? std::nullopt : std::optional(fault_now());
}

std::int64_t Store::most_objects() const {
  QSqlDatabase database = QSqlDatabase::database(connection_, false);
  // A row number can be any integer, but a row takes at least some bytes.
  constexpr qint64 least_bytes = 60;
  const qint64 fit = (QFileInfo(file_).size() + QFileInfo(file_ + QStringLiteral("-wal")).size()) / least_bytes;
  const qint64 rows = number(database, QStringLiteral("SELECT coalesce(max(rowid), 0) FROM object"), file_).value_or(0);
  return std::clamp<qint64>(rows, 0, fit);
}

tl::expected<std::vector<StoredObject>, StoreFault> Store::changed_since(std::int64_t seq) const {
  const QSqlDatabase database = QSqlDatabase::database(connection_, false);
  QSqlQuery query(database);
  query.prepare(QStringLiteral("SELECT id, kind, revision, body FROM object WHERE seq > ? ORDER BY seq"));
  query.addBindValue(static_cast<qint64>(seq));
  if (!query.exec()) return tl::unexpected(fault_of(query.lastError(), file_));
  auto objects = read_objects(query, file_);
  if (!objects) return objects;
  QSqlQuery gone(database);
  gone.prepare(
      QStringLiteral("SELECT DISTINCT object, edit.kind, 0, '' FROM edit WHERE seq > ? AND after IS NULL AND object "
                     "NOT IN (SELECT id FROM object)"));
  gone.addBindValue(static_cast<qint64>(seq));
  if (!gone.exec()) return tl::unexpected(fault_of(gone.lastError(), file_));
  auto deleted = read_objects(gone, file_);
  if (!deleted) return deleted;
  objects->insert(objects->end(), deleted->begin(), deleted->end());
  return objects;
}

std::int64_t Store::last_seq() const {
  QSqlDatabase database = QSqlDatabase::database(connection_, false);
  return number(database, QStringLiteral("SELECT coalesce(max(seq), 0) FROM change"), file_).value_or(0);
}

bool Store::changed_outside() {
  QSqlDatabase database = QSqlDatabase::database(connection_, false);
  const auto now = number(database, QStringLiteral("PRAGMA data_version"), file_);
  if (!now || *now == data_version_) return false;
  data_version_ = *now;
  return true;
}

namespace {

// What others have written since a change was made, as far as the change depends on it.
class Meanwhile {
 public:
  void add(const StoredObject& object) {
    written_.push_back(&object);
    if (object.body.empty()) gone_.insert(object.id);
  }
  // The first of our edits that conflicts with it.
  std::optional<StoreFault> fault_of(const std::vector<StoredEdit>& edits) {
    if (written_.empty()) return std::nullopt;
    for (const StoredEdit& edit : edits) {
      auto fault = edit.after.empty() ? still_used(edit) : taken(edit);
      if (!fault && !edit.after.empty() && !gone_.empty()) fault = points_nowhere(edit);
      if (fault) return fault;
    }
    return std::nullopt;
  }

 private:
  using Json = nlohmann::json;
  using Key = std::pair<std::string, std::string>;  // what has to be unique, and within what
  static Key key_of_body(ObjectKind kind, const std::string& body) {
    if (kind != ObjectKind::cutter && kind != ObjectKind::library) return {};
    const Json json = Json::parse(body, nullptr, false);
    if (!json.is_object()) return {};
    const auto text = [&](const char* key) {
      return json.contains(key) ? json[key].dump(-1, ' ', false, Json::error_handler_t::replace) : std::string();
    };
    if (kind == ObjectKind::library) return {text("name"), "library"};
    return {text("number"), text("library")};
  }
  std::optional<StoreFault> taken(const StoredEdit& edit) {
    const Key key = key_of_body(edit.kind, edit.after);
    if (key.first.empty() || (!edit.before.empty() && key == key_of_body(edit.kind, edit.before))) return std::nullopt;
    if (!indexed_) {
      indexed_ = true;
      for (const StoredObject* o : written_)
        if (Key k = key_of_body(o->kind, o->body); !k.first.empty()) holder_[std::move(k)] = o;
    }
    const auto found = holder_.find(key);
    if (found == holder_.end() || found->second->id == edit.id) return std::nullopt;
    return fault(StoreTrouble::taken, edit,
                 {edit.kind == ObjectKind::library ? "name" : "number", key.first, found->second->body});
  }
  std::optional<StoreFault> still_used(const StoredEdit& edit) const {
    const std::string id = edit.id.text();
    for (const StoredObject* o : written_)
      if (o->id != edit.id && o->body.find(id) != std::string::npos)
        return fault(StoreTrouble::conflict, edit, {"", "", o->body});
    return std::nullopt;
  }
  std::optional<StoreFault> points_nowhere(const StoredEdit& edit) const {
    for (const Id& id : gone_)
      if (const std::string text = id.text();
          id != edit.id && edit.after.find(text) != std::string::npos && edit.before.find(text) == std::string::npos)
        return fault(StoreTrouble::conflict, edit, {"", text, ""});
    return std::nullopt;
  }
  static StoreFault fault(StoreTrouble trouble, const StoredEdit& edit, Clash clash) {
    StoreFault f;
    f.trouble = trouble;
    f.kind = edit.kind;
    f.object = edit.id;
    f.clash = std::move(clash);
    return f;
  }
  std::vector<const StoredObject*> written_;
  std::unordered_set<Id> gone_;
  std::map<Key, const StoredObject*> holder_;
  bool indexed_ = false;
};

}  // namespace

tl::expected<std::vector<StoredObject>, StoreFault> Store::objects(const std::vector<StoredEdit>& edits) const {
  Statement row(handle_of(QSqlDatabase::database(connection_, false)),
                "SELECT revision, body FROM object WHERE id = ?");
  std::vector<StoredObject> found;
  for (const StoredEdit& edit : edits) {
    const std::string id = edit.id.text();
    row.bind(1, id);
    const bool there = row.step();
    if (!there && !row.is_done()) return tl::unexpected(fault_now());
    found.push_back({edit.kind, edit.id, there ? row.number(0) : 0, there ? std::string(row.text(1)) : std::string()});
    row.reset();
  }
  return found;
}

tl::expected<std::vector<StoredObject>, StoreFault> Store::objects_of(ObjectKind kind) const {
  QSqlQuery query(QSqlDatabase::database(connection_, false));
  query.prepare(QStringLiteral("SELECT id, kind, revision, body FROM object WHERE kind = ? ORDER BY rowid"));
  query.addBindValue(QString::fromLatin1(key_of(kind).data(), static_cast<qsizetype>(key_of(kind).size())));
  if (!query.exec()) return tl::unexpected(fault_of(query.lastError(), file_));
  return read_objects(query, file_);
}

std::optional<StoreFault> Store::finish() {
  sqlite3* handle = handle_of(QSqlDatabase::database(connection_, false));
  int in_log = -1, moved = -1;
  if (sqlite3_wal_checkpoint_v2(handle, nullptr, SQLITE_CHECKPOINT_TRUNCATE, &in_log, &moved) != SQLITE_OK)
    return fault_now();
  if (in_log > 0) return fault_of(SQLITE_BUSY, QString(), file_);
  return std::nullopt;
}

bool Store::is_in_place() const {
  struct stat now {};
  return ::stat(QFile::encodeName(file_).constData(), &now) == 0 && now.st_dev == device_ && now.st_ino == inode_;
}

bool Store::says(const StoredEdit& edit, const std::string& theirs) const {
  if (theirs == edit.before) return true;
  // An earlier version may have written the same in a different form.
  const auto now = merge_ ? merge_(edit.kind, edit.before, edit.before, theirs)
                          : tl::expected<std::string, Clash>(tl::unexpected(Clash{}));
  return now && *now == edit.before;
}

tl::expected<Accepted, StoreFault> Store::commit(const StoredChange& change) {
  StoreFault fault;
  fault.file = file_;
  if (read_only_) {
    fault.trouble = StoreTrouble::read_only;
    return tl::unexpected(fault);
  }
  if (!is_in_place()) {
    fault.trouble = StoreTrouble::replaced;
    return tl::unexpected(fault);
  }
  QSqlDatabase database = QSqlDatabase::database(connection_, false);
  if (const auto begun = exec(database, QStringLiteral("BEGIN IMMEDIATE"), file_)) return tl::unexpected(*begun);
  auto give_up = [&](StoreFault why) -> tl::expected<Accepted, StoreFault> {
    exec(database, QStringLiteral("ROLLBACK"), file_);
    why.file = file_;
    return tl::unexpected(std::move(why));
  };
  Accepted accepted;
  if (change.known_seq >= 0 && last_seq() > change.known_seq) {
    accepted.alone = false;
    const auto written = changed_since(change.known_seq);
    if (!written) return give_up(written.error());
    Meanwhile meanwhile;
    for (const StoredObject& o : *written) meanwhile.add(o);
    if (const auto clash = meanwhile.fault_of(change.edits)) return give_up(*clash);
  }
  sqlite3* handle = handle_of(database);
  Statement head(handle, "INSERT INTO change (at, who, label) VALUES (?, ?, ?)");
  head.bind(1, change.when);
  head.bind(2, change.who);
  head.bind(3, change.label);
  if (!head.run()) return give_up(fault_now());
  accepted.seq = sqlite3_last_insert_rowid(handle);
  Statement standing(handle, "SELECT revision, body FROM object WHERE id = ?");
  Statement removal(handle, "DELETE FROM object WHERE id = ? AND revision = ?");
  Statement addition(
      handle, "INSERT INTO object (id, kind, revision, body, seq) VALUES (?, ?, 1, ?, ?) ON CONFLICT DO NOTHING");
  Statement update(handle,
                   "UPDATE object SET body = ?, revision = revision + 1, seq = ? WHERE id = ? AND revision = ?");
  Statement history(handle, "INSERT INTO edit (seq, object, kind, before, after) VALUES (?, ?, ?, ?, ?)");
  for (const StoredEdit& edit : change.edits) {
    const std::string id = edit.id.text();
    // True: done. False: the object is not what the change expects.
    const auto write = [&](std::int64_t base, const std::string& body) -> std::optional<bool> {
      Statement& statement = body.empty() ? removal : base == 0 ? addition : update;
      if (body.empty()) {
        removal.bind(1, id);
        removal.bind(2, base);
      } else if (base == 0) {
        addition.bind(1, id);
        addition.bind(2, key_of(edit.kind));
        addition.bind(3, body);
        addition.bind(4, accepted.seq);
      } else {
        update.bind(1, body);
        update.bind(2, accepted.seq);
        update.bind(3, id);
        update.bind(4, base);
      }
      if (!statement.run()) return std::nullopt;
      return sqlite3_changes(handle) == 1;
    };
    const std::string* before = &edit.before;
    const std::string* after = &edit.after;
    std::string theirs, merged;
    std::optional<bool> done = false;
    if (!change.compare_bodies) {
      done = write(edit.base_revision, edit.after);
      if (!done) return give_up(fault_now());
    }
    if (!*done) {
      standing.bind(1, id);
      const bool there = standing.step();
      if (!there && !standing.is_done()) return give_up(fault_now());
      const std::int64_t revision = there ? standing.number(0) : 0;
      if (there) theirs = standing.text(1);
      standing.reset();
      if (!there && edit.after.empty()) continue;  // they deleted it as well
      fault.trouble = StoreTrouble::conflict;
      fault.kind = edit.kind;
      fault.object = edit.id;
      if (there && !edit.before.empty() && theirs != edit.before && !edit.after.empty()) {
        auto both =
            merge_ ? merge_(edit.kind, edit.before, edit.after, theirs) : merged_body(edit.before, edit.after, theirs);
        if (!both) {
          fault.clash = both.error();
          return give_up(fault);
        }
        merged = std::move(*both);
        before = &theirs;
        after = &merged;
      } else if (there != !edit.before.empty() || (there && !says(edit, theirs))) {
        fault.clash = {"", edit.after, theirs};
        return give_up(fault);
      }
      done = write(revision, *after);
      if (!done || !*done) return give_up(fault_now());
      // Its revision is not the expected one.
      if (!after->empty()) accepted.merged.push_back({edit.kind, edit.id, revision + 1, *after});
    }
    if (!has_history(edit.kind)) continue;
    const auto [from, to] = differences(*before, *after);
    history.bind(1, accepted.seq);
    history.bind(2, id);
    history.bind(3, key_of(edit.kind));
    if (from.empty()) history.bind_null(4);
    else history.bind(4, from);
    if (to.empty()) history.bind_null(5);
    else history.bind(5, to);
    if (!history.run()) return give_up(fault_now());
  }
  if (const auto failed = exec(database, QStringLiteral("COMMIT"), file_)) return give_up(*failed);
  if (!is_in_place()) {  // it went into a file that no longer has a name
    fault.trouble = StoreTrouble::replaced;
    return tl::unexpected(fault);
  }
  return accepted;
}

tl::expected<std::string, StoreFault> Store::kept(const std::string& key) const {
  Statement row(handle_of(QSqlDatabase::database(connection_, false)), "SELECT bytes FROM kept WHERE key = ?");
  row.bind(1, key);
  if (row.step()) return std::string(row.text(0));
  if (!row.is_done()) return tl::unexpected(fault_now());
  return std::string();
}

std::optional<StoreFault> Store::keep(const std::string& key, std::string_view bytes) {
  Statement row(handle_of(QSqlDatabase::database(connection_, false)),
                "INSERT INTO kept (key, bytes) VALUES (?, ?) ON CONFLICT (key) DO UPDATE SET bytes = excluded.bytes");
  row.bind(1, key);
  row.bind_bytes(2, bytes);
  return row.run() ? std::nullopt : std::optional(fault_now());
}

void Store::set_page_limit_for_tests(int on) {
  QSqlDatabase database = QSqlDatabase::database(connection_, false);
  exec(database, QStringLiteral("PRAGMA max_page_count = %1").arg(on ? 1 : 1073741823), file_);
}

tl::expected<std::vector<HistoryEntry>, StoreFault> Store::history(const std::optional<Id>& object, int most) const {
  QSqlQuery query(QSqlDatabase::database(connection_, false));
  query.prepare(QStringLiteral(
      "SELECT change.seq, at, who, label, edit.kind, object, before, after FROM edit JOIN change USING (seq) "
      "WHERE ? = '' OR object = ? ORDER BY change.seq DESC LIMIT ?"));
  for (int i = 0; i < 2; ++i) query.addBindValue(object ? text(object->text()) : QString(QLatin1String("")));
  query.addBindValue(most);
  if (!query.exec()) return tl::unexpected(fault_of(query.lastError(), file_));
  std::vector<HistoryEntry> entries;
  while (query.next())
    entries.push_back({query.value(0).toLongLong(), bytes(query.value(1)), bytes(query.value(2)), bytes(query.value(3)),
                       object_kind_from(bytes(query.value(4))).value_or(ObjectKind::cutter),
                       Id::parse(bytes(query.value(5))).value_or(Id{}), bytes(query.value(6)), bytes(query.value(7))});
  return entries;
}

tl::expected<Store::LastChange, StoreFault> Store::last_change(const std::vector<Id>& objects, const Id& owner) const {
  sqlite3* handle = handle_of(QSqlDatabase::database(connection_, false));
  LastChange last;
  Statement written(handle, "SELECT seq FROM object WHERE id = ?");
  for (const Id& id : objects) {
    const std::string name = id.text();
    written.bind(1, name);
    if (written.step()) last.seq = std::max(last.seq, written.number(0));
    else if (!written.is_done()) return tl::unexpected(fault_now());
    written.reset();
  }
  Statement deleted(handle, "SELECT max(seq) FROM edit WHERE after IS NULL AND instr(before, ?) > 0");
  const std::string owned = owner.text();
  deleted.bind(1, owned);
  if (!deleted.step()) return tl::unexpected(fault_now());
  last.seq = std::max(last.seq, deleted.number(0));
  Statement when(handle, "SELECT at FROM change WHERE seq = ?");
  when.bind(1, last.seq);
  if (when.step()) last.when = when.text(0);
  return last;
}

}  // namespace pecorra
