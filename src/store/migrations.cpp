#include "store/migrations.h"

#include <QSqlQuery>
#include <QStringList>

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

}  // namespace

QSqlError create_schema(QSqlDatabase& database) {
  const QSqlError error = run(database, version_1);
  return error.isValid() ? error : run(database, version_1_to_2);
}

QSqlError migrate_one(QSqlDatabase& database, int version) {
  return version == 1 ? run(database, version_1_to_2) : QSqlError();
}

}  // namespace pecorra
