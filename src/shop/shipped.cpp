#include "shop/shipped.h"

#include <QCoreApplication>
#include <QDir>
#include <QFileInfo>

namespace pecorra {

QString shipped_folder(const QString& name) {
  const QString installed = QCoreApplication::applicationDirPath() + QStringLiteral("/../share/pecorra/");
  for (const QString& folder : {installed, QStringLiteral(PECORRA_DATA "/")})
    if (const QFileInfo found(folder + name); found.isDir()) return QDir::cleanPath(found.absoluteFilePath());
  return {};
}

}  // namespace pecorra
