// The line at the bottom: what was done last, with undo; warnings; whether everything is saved.
#pragma once

#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QTimer>
#include <QWidget>

#include "app/workspace.h"

namespace pecorra {

class Strip : public QWidget {
  Q_OBJECT
 public:
  Strip(Workspace& workspace, QWidget* parent = nullptr);
  void say(const QString& what, bool can_be_undone, bool fault = false);
  QString said() const { return what_->text(); }

 signals:
  void undo_clicked();
  void drafts_clicked();
  void save_as_clicked();

 private:
  void refresh();
  void show_work();

  Workspace& workspace_;
  QLabel *what_, *saved_, *work_;
  QProgressBar* progress_;
  QPushButton *undo_, *warnings_, *cancel_, *save_as_;
  QTimer work_timer_;
  QString trouble_;
};

}  // namespace pecorra
