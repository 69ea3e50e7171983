// Version 3 kept a job as one object; since version 4 its setup, drawing, operations and trails are objects of their
// own.
#pragma once

#include <QSqlDatabase>
#include <QSqlError>

namespace pecorra {

QSqlError split_jobs(QSqlDatabase& database);

}  // namespace pecorra
