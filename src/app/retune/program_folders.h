// Whole folders of programs made elsewhere: taken into the shop at once, written at once, and a folder that is watched.
#pragma once

#include <QLabel>
#include <QTimer>
#include <QWidget>

#include "app/workspace.h"
#include "shop/retune_folder.h"

namespace pecorra {

class ProgramFolders : public QWidget {
  Q_OBJECT
 public:
  explicit ProgramFolders(Workspace& workspace, QWidget* parent = nullptr);

  // Keeps those that the shop does not know yet, for the material and machine in front; one step back undoes it.
  void open_folder(const QString& folder);
  // Each program that the shop keeps, where every T has a cutter; none over itself.
  void write_all(const QString& to);
  // From then on, also after a restart, until it is stopped.
  void watch(const QString& from, const QString& to);
  void stop_watching();
  bool is_watching() const { return watch_ != nullptr; }
  bool is_idle() const { return !task_; }

 signals:
  void said(const QString& what, bool fault);

 private:
  void start();
  void look();
  void show_watch();
  FolderWish wish() const;

  Workspace& workspace_;
  QLabel* text_;
  QTimer* timer_;
  TaskPointer task_, look_;
  std::shared_ptr<FolderWatch> watch_;
  Id material_, machine_;
  double pace_ = 100;
  int written_ = 0;
};

}  // namespace pecorra
