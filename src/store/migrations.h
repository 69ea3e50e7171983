// One step from each version of the shop's database to the next, on raw data. Steps are never changed once released.
#pragma once

#include <QSqlDatabase>
#include <QSqlError>

namespace pecorra {

// The tables of the newest version, into an empty database.
QSqlError create_schema(QSqlDatabase& database);
// The step from `version` to `version` + 1, inside the caller's transaction.
QSqlError migrate_one(QSqlDatabase& database, int version);

}  // namespace pecorra
