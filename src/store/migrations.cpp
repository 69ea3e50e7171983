#include "store/migrations.h"

#include <sqlite3.h>

#include <QCoreApplication>
#include <QSqlQuery>
#include <QStringList>
#include <set>
#include <string>
#include <tuple>
#include <vector>

#include "store/job_migration.h"
#include "store/store.h"

namespace pecorra {
namespace {

QSqlError run(QSqlDatabase& database, const QStringList& statements) {
  for (const QString& statement : statements) {
    QSqlQuery query(database);
    if (!query.exec(statement)) return query.lastError();
  }
  return {};
}

const QStringList version_1{
    QStringLiteral("CREATE TABLE object (id TEXT PRIMARY KEY, kind TEXT NOT NULL, revision INTEGER NOT NULL, "
                   "body TEXT NOT NULL) STRICT"),
    QStringLiteral("CREATE TABLE change (seq INTEGER PRIMARY KEY, at TEXT NOT NULL, who TEXT NOT NULL, "
                   "label TEXT NOT NULL) STRICT"),
    QStringLiteral("CREATE TABLE edit (seq INTEGER NOT NULL REFERENCES change(seq), object TEXT NOT NULL, "
                   "kind TEXT NOT NULL, before TEXT, after TEXT) STRICT"),
    QStringLiteral("CREATE INDEX edit_object ON edit(object)")};

// The change that wrote each object last, so that another program's changes can be read without reading everything.
const QStringList version_1_to_2{
    QStringLiteral("ALTER TABLE object ADD COLUMN seq INTEGER NOT NULL DEFAULT 0"),
    QStringLiteral("UPDATE object SET seq = coalesce((SELECT max(seq) FROM edit WHERE edit.object = object.id), 0)"),
    QStringLiteral("CREATE INDEX object_seq ON object(seq)"), QStringLiteral("CREATE INDEX edit_seq ON edit(seq)")};

// What the shop remembers besides its objects. Nobody's change, so it has no history.
const QStringList version_2_to_3{
    QStringLiteral("CREATE TABLE kept (key TEXT PRIMARY KEY, bytes BLOB NOT NULL) STRICT")};

// A job's parts are objects of their own; no table changes.
const QStringList version_3_to_4;

// From nothing to version 1, and from each version to the next.
const QStringList* const steps[] = {&version_1, &version_1_to_2, &version_2_to_3, &version_3_to_4};
static_assert(std::size(steps) == Store::version);

// Type, name and definition of everything in a database.
using Schema = std::set<std::tuple<std::string, std::string, std::string>>;
std::optional<Schema> schema_of(sqlite3* database) {
  sqlite3_stmt* rows = nullptr;
  if (sqlite3_prepare_v2(database, "SELECT type, name, coalesce(sql, '') FROM sqlite_schema", -1, &rows, nullptr) !=
      SQLITE_OK)
    return std::nullopt;
  Schema schema;
  int more = SQLITE_ROW;
  while ((more = sqlite3_step(rows)) == SQLITE_ROW && schema.size() < 1000) {
    const auto text = [&](int column) {
      const auto* found = reinterpret_cast<const char*>(sqlite3_column_text(rows, column));
      return std::string(found ? found : "");
    };
    // SQLite's own tables have reserved names.
    if (text(1).rfind("sqlite_", 0) != 0) schema.emplace(text(0), text(1), text(2));
  }
  sqlite3_finalize(rows);
  return more == SQLITE_DONE ? std::optional(schema) : std::nullopt;
}

// The schema of this version, built once from the statements that create a shop.
const Schema& expected_schema(int version) {
  static const std::vector<Schema> all = [] {
    std::vector<Schema> made;
    sqlite3* memory = nullptr;
    if (sqlite3_open(":memory:", &memory) == SQLITE_OK)
      for (const QStringList* step : steps) {
        for (const QString& statement : *step)
          sqlite3_exec(memory, statement.toUtf8().constData(), nullptr, nullptr, nullptr);
        made.push_back(schema_of(memory).value_or(Schema{}));
      }
    sqlite3_close(memory);
    made.resize(std::size(steps));
    return made;
  }();
  return all[static_cast<std::size_t>(version) - 1];
}

}  // namespace

QSqlError create_schema(QSqlDatabase& database) {
  QSqlError error;
  for (int from = 0; from < Store::version && !error.isValid(); ++from) error = migrate_one(database, from);
  return error;
}

QSqlError migrate_one(QSqlDatabase& database, int version) {
  if (QSqlError error = run(database, *steps[version]); error.isValid()) return error;
  return version == 3 ? split_jobs(database) : QSqlError{};
}

std::optional<QString> foreign_schema(sqlite3* database, int version) {
  const auto found = schema_of(database);
  if (!found) return QString::fromUtf8(sqlite3_errmsg(database));
  const Schema& expected = expected_schema(version);
  for (const auto& entry : *found)
    if (!expected.contains(entry))
      return QCoreApplication::translate("Store", "%1 “%2” is not one of a shop")
          .arg(QString::fromStdString(std::get<0>(entry)), QString::fromStdString(std::get<1>(entry)));
  for (const auto& entry : expected)
    if (!found->contains(entry))
      return QCoreApplication::translate("Store", "%1 “%2” is missing")
          .arg(QString::fromStdString(std::get<0>(entry)), QString::fromStdString(std::get<1>(entry)));
  return std::nullopt;
}

}  // namespace pecorra
