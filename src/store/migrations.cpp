#include "store/migrations.h"

#include <QSqlQuery>
#include <QStringList>

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

// Which change wrote an object last: another program's changes are read without reading everything.
const QStringList version_1_to_2{
    QStringLiteral("ALTER TABLE object ADD COLUMN seq INTEGER NOT NULL DEFAULT 0"),
    QStringLiteral("UPDATE object SET seq = coalesce((SELECT max(seq) FROM edit WHERE edit.object = object.id), 0)"),
    QStringLiteral("CREATE INDEX object_seq ON object(seq)"), QStringLiteral("CREATE INDEX edit_seq ON edit(seq)")};

// What the shop remembers beside its objects: no change of anybody, and without a history.
const QStringList version_2_to_3{
    QStringLiteral("CREATE TABLE kept (key TEXT PRIMARY KEY, bytes BLOB NOT NULL) STRICT")};

}  // namespace

QSqlError create_schema(QSqlDatabase& database) {
  QSqlError error = run(database, version_1);
  for (int from = 1; from < Store::version && !error.isValid(); ++from) error = migrate_one(database, from);
  return error;
}

QSqlError migrate_one(QSqlDatabase& database, int version) {
  switch (version) {
    case 1: return run(database, version_1_to_2);
    case 2: return run(database, version_2_to_3);
    default: return {};
  }
}

}  // namespace pecorra
