#include "app/widgets/file_choice.h"

#include <QFileInfo>
#include <QSettings>

#include "shop/shipped.h"

namespace pecorra {
namespace {

// At first drawings are where those of the demo are.
QString remembered_folder(const char* key) {
  const QString known = QSettings().value(QString::fromLatin1(key)).toString();
  return known.isEmpty() && qstrcmp(key, "folders/drawings") == 0 ? shipped_folder(QStringLiteral("demo")) : known;
}

void remember_folder(const char* key, const QString& file) {
  QSettings().setValue(QString::fromLatin1(key), QFileInfo(file).absolutePath());
}

// ".svg" of "Drawings (*.svg *.dxf)"
QString first_ending(const QString& kind) {
  const qsizetype star = kind.indexOf(QLatin1String("(*"));
  if (star < 0) return {};
  qsizetype end = star + 2;
  while (end < kind.size() && kind[end] != QLatin1Char(' ') && kind[end] != QLatin1Char(')')) ++end;
  return kind.mid(star + 2, end - star - 2);
}

}  // namespace

QString safe_file_name(QString name) {
  for (QChar& c : name)
    if (QStringLiteral("/\\:*?\"<>|").contains(c)) c = QLatin1Char('-');
  return name;
}

QString file_to_read(QWidget* parent, const QString& title, const char* folder_key, const QString& kinds) {
  QString file = QFileDialog::getOpenFileName(parent, title, remembered_folder(folder_key), kinds);
  if (!file.isEmpty()) remember_folder(folder_key, file);
  return file;
}

QString folder_to_use(QWidget* parent, const QString& title, const char* folder_key) {
  QString folder = QFileDialog::getExistingDirectory(parent, title, remembered_folder(folder_key));
  if (!folder.isEmpty()) QSettings().setValue(QString::fromLatin1(folder_key), folder);
  return folder;
}

QString file_to_write(QWidget* parent, const FileToWrite& wish) {
  QString start = wish.name;
  const QString folder = remembered_folder(wish.folder_key);
  if (!folder.isEmpty() && QFileInfo(start).isRelative()) start.prepend(folder + QLatin1Char('/'));
  QString kind = wish.kinds.section(QStringLiteral(";;"), 0, 0);
  QString file = QFileDialog::getSaveFileName(parent, wish.title, start, wish.kinds, &kind, wish.options);
  if (file.isEmpty()) return file;
  if (QFileInfo(file).suffix().isEmpty()) file += wish.ending.isEmpty() ? first_ending(kind) : wish.ending;
  remember_folder(wish.folder_key, file);
  return file;
}

}  // namespace pecorra
