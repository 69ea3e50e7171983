// Draws every main view of the open shop to PNG files.
#pragma once

#include <QStringList>

namespace pecorra {

class MainWindow;

// Returns the names of the files written; `fault` says why one could not be.
QStringList draw_views(MainWindow& window, const QString& folder, QString& fault);

}  // namespace pecorra
