// One step from each version of the shop's database to the next, on raw data. Steps are never changed once released.
#pragma once

#include <QSqlDatabase>
#include <QSqlError>
#include <QString>
#include <optional>

struct sqlite3;

namespace pecorra {

// The tables of the newest version, into an empty database.
QSqlError create_schema(QSqlDatabase& database);
// The step from `version` to `version` + 1, inside the caller's transaction.
QSqlError migrate_one(QSqlDatabase& database, int version);
// The first table, index, trigger or view that a shop of this version does not have, or that is missing, in words.
std::optional<QString> foreign_schema(sqlite3* database, int version);

}  // namespace pecorra
