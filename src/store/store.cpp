#include "store/store.h"

#include <sqlite3.h>
#include <QCoreApplication>
#include <QFile>
#include <QFileInfo>
#include <QSqlDatabase>
#include <QSqlDriver>
#include <QSqlError>
#include <QSqlQuery>
#include <QUuid>
#include <QVariant>
#include <nlohmann/json.hpp>

#include "store/migrations.h"

namespace pecorra {
namespace {

StoreFault fault_of(int code, const QString& detail, const QString& file) {
  StoreFault fault;
  fault.file = file;
  fault.detail = detail;
  // Result codes of SQLite, the extended part left off.
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

// The connection as the library itself knows it: very many rows go in and out by its own statements, without a copy of
// each text in another encoding.
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
  // Texts have to stand until the step.
  void bind(int at, std::string_view text) {
    sqlite3_bind_text(statement_, at, text.data(), static_cast<int>(text.size()), SQLITE_STATIC);
  }
  void bind(int at, std::int64_t number) { sqlite3_bind_int64(statement_, at, number); }
  void bind_bytes(int at, std::string_view bytes) {
    sqlite3_bind_blob(statement_, at, bytes.data(), static_cast<int>(bytes.size()), SQLITE_STATIC);
  }
  void bind_null(int at) { sqlite3_bind_null(statement_, at); }
  // A row is there.
  bool step() { return statement_ && (last_ = sqlite3_step(statement_)) == SQLITE_ROW; }
  // For statements without rows; afterwards it can be bound anew.
  bool run() {
    const bool done = statement_ && (last_ = sqlite3_step(statement_)) == SQLITE_DONE;
    sqlite3_reset(statement_);
    return done;
  }
  bool is_done() const { return last_ == SQLITE_DONE; }
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
  return {from.dump(), to.dump()};
}

}  // namespace

QString StoreFault::sentence() const {
  const auto tr = [](const char* source) { return QCoreApplication::translate("Store", source); };
  const QString name = QFileInfo(file).fileName();
  switch (trouble) {
    case StoreTrouble::missing: return tr("There is no file “%1”.").arg(file);
    case StoreTrouble::not_a_shop: return tr("“%1” is no Pecorra shop. It was left as it is.").arg(name);
    case StoreTrouble::newer_version:
      return tr("“%1” was written by a newer Pecorra (shop version %2, this program reads up to %3). It was left as it "
                "is.")
          .arg(name)
          .arg(version)
          .arg(Store::version);
    case StoreTrouble::damaged:
      return tr("“%1” is damaged and was left as it is. Use the backup beside it. (%2)").arg(name, detail);
    case StoreTrouble::read_only:
      return tr("“%1” can only be read: the file or its folder is write-protected.").arg(name);
    case StoreTrouble::locked:
      return tr("“%1” is locked by another program. Try again when it has finished.").arg(name);
    case StoreTrouble::disk_full:
      return tr("The disk is full: the change to “%1” is not saved yet. Free some space.").arg(name);
    case StoreTrouble::conflict: return tr("The same thing was changed by another program at the same time.");
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
  store->file_ = file;
  store->read_only_ = read_only;
  store->connection_ = QStringLiteral("shop-") + QUuid::createUuid().toString(QUuid::Id128);
  QSqlDatabase database = QSqlDatabase::addDatabase(QStringLiteral("QSQLITE"), store->connection_);
  QString options = QStringLiteral("QSQLITE_BUSY_TIMEOUT=2000;QSQLITE_ENABLE_REGEXP=0");
  if (read_only) {
    // Nothing may be created beside a write-protected file; without a journal it can be read as it stands.
    options += QStringLiteral(";QSQLITE_OPEN_READONLY;QSQLITE_OPEN_URI");
    const bool quiet = QFileInfo(file + QStringLiteral("-wal")).size() == 0;
    database.setDatabaseName(QStringLiteral("file:") +
                             QString::fromLatin1(QFileInfo(file).absoluteFilePath().toUtf8().toPercentEncoding("/")) +
                             (quiet ? QStringLiteral("?immutable=1") : QString()));
  } else {
    database.setDatabaseName(file);
  }
  database.setConnectOptions(options);
  if (!database.open()) {
    const StoreFault fault = fault_of(database.lastError(), file);
    return tl::unexpected(fault);
  }
  return store;
}

tl::expected<std::unique_ptr<Store>, StoreFault> Store::create(const QString& file) {
  if (QFileInfo::exists(file)) {
    StoreFault fault;
    fault.file = file;
    fault.detail = QCoreApplication::translate("Store", "a file of this name is there already");
    return tl::unexpected(fault);
  }
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
  const bool read_only = !info.isWritable() || !QFileInfo(info.absolutePath()).isWritable();
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
  if (*found > version) {
    plain.trouble = StoreTrouble::newer_version;
    plain.version = static_cast<int>(*found);
    return tl::unexpected(plain);
  }
  // Small files are checked whole; large ones as they are read.
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
      const QString backup = QStringLiteral("%1.version-%2").arg(file).arg(from);
      if (!QFileInfo::exists(backup))
        if (const auto fault =
                exec(database,
                     QStringLiteral("VACUUM INTO '%1'").arg(QString(backup).replace('\'', QLatin1String("''"))), file))
          return tl::unexpected(*fault);
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
  return number(database, QStringLiteral("SELECT coalesce(max(rowid), 0) FROM object"), file_).value_or(0);
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

tl::expected<std::int64_t, StoreFault> Store::commit(const StoredChange& change) {
  StoreFault fault;
  fault.file = file_;
  if (read_only_) {
    fault.trouble = StoreTrouble::read_only;
    return tl::unexpected(fault);
  }
  QSqlDatabase database = QSqlDatabase::database(connection_, false);
  if (const auto begun = exec(database, QStringLiteral("BEGIN IMMEDIATE"), file_)) return tl::unexpected(*begun);
  auto give_up = [&](StoreFault why) -> tl::expected<std::int64_t, StoreFault> {
    exec(database, QStringLiteral("ROLLBACK"), file_);
    return tl::unexpected(std::move(why));
  };
  sqlite3* handle = handle_of(database);
  Statement head(handle, "INSERT INTO change (at, who, label) VALUES (?, ?, ?)");
  head.bind(1, change.when);
  head.bind(2, change.who);
  head.bind(3, change.label);
  if (!head.run()) return give_up(fault_now());
  const std::int64_t seq = sqlite3_last_insert_rowid(handle);
  Statement removal(handle, "DELETE FROM object WHERE id = ? AND revision = ?");
  Statement addition(
      handle, "INSERT INTO object (id, kind, revision, body, seq) VALUES (?, ?, 1, ?, ?) ON CONFLICT DO NOTHING");
  Statement update(handle,
                   "UPDATE object SET body = ?, revision = revision + 1, seq = ? WHERE id = ? AND revision = ?");
  Statement history(handle, "INSERT INTO edit (seq, object, kind, before, after) VALUES (?, ?, ?, ?, ?)");
  for (const StoredEdit& edit : change.edits) {
    const std::string id = edit.id.text();
    Statement& statement = edit.after.empty() ? removal : edit.base_revision == 0 ? addition : update;
    if (edit.after.empty()) {
      removal.bind(1, id);
      removal.bind(2, edit.base_revision);
    } else if (edit.base_revision == 0) {
      addition.bind(1, id);
      addition.bind(2, key_of(edit.kind));
      addition.bind(3, edit.after);
      addition.bind(4, seq);
    } else {
      update.bind(1, edit.after);
      update.bind(2, seq);
      update.bind(3, id);
      update.bind(4, edit.base_revision);
    }
    if (!statement.run()) return give_up(fault_now());
    if (sqlite3_changes(handle) != 1) {
      fault.trouble = StoreTrouble::conflict;
      fault.object = edit.id;
      return give_up(fault);
    }
    const auto [before, after] = differences(edit.before, edit.after);
    history.bind(1, seq);
    history.bind(2, id);
    history.bind(3, key_of(edit.kind));
    if (before.empty()) history.bind_null(4);
    else history.bind(4, before);
    if (after.empty()) history.bind_null(5);
    else history.bind(5, after);
    if (!history.run()) return give_up(fault_now());
  }
  if (const auto failed = exec(database, QStringLiteral("COMMIT"), file_)) return give_up(*failed);
  return seq;
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

}  // namespace pecorra
