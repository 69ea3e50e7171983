// Asking for a file: in the folder where the last one of its kind was, which is remembered.
#pragma once

#include <QFileDialog>
#include <QString>

namespace pecorra {

// A name without what some file system does not take in one.
QString safe_file_name(QString name);

// `folder_key` is one of "folders/…" in the settings. Empty: nothing was chosen.
QString file_to_read(QWidget* parent, const QString& title, const char* folder_key, const QString& kinds);

QString folder_to_use(QWidget* parent, const QString& title, const char* folder_key);

struct FileToWrite {
  QString title;
  const char* folder_key = "";
  QString name;    // proposed, without a folder; a whole path stands for itself
  QString kinds;   // as a file dialog wants them
  QString ending;  // added where none is typed, with its point; empty: that of the kind chosen
  QFileDialog::Options options{};
};
QString file_to_write(QWidget* parent, const FileToWrite& wish);

}  // namespace pecorra
