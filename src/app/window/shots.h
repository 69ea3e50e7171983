// Draws every main view of the open shop to PNG files.
#pragma once

#include <QStringList>
#include <functional>

namespace pecorra {

class MainWindow;

// Returns the names of the files written; `fault` says why one could not be. `look` is called for each view as it
// stands.
QStringList draw_views(MainWindow& window, const QString& folder, QString& fault,
                       const std::function<void(const char* view)>& look = {});

}  // namespace pecorra
