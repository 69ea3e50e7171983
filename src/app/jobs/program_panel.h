// The program with a line to find something in it.
#pragma once

#include <QLabel>
#include <QLineEdit>
#include <QWidget>

#include "app/jobs/program_view.h"

namespace pecorra {

class ProgramPanel : public QWidget {
  Q_OBJECT
 public:
  explicit ProgramPanel(QWidget* parent = nullptr);
  ProgramView& view() { return *view_; }
  void open_find();

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  void find(bool backwards);
  ProgramView* view_;
  QWidget* find_row_;
  QLineEdit* text_;
  QLabel* none_;
};

}  // namespace pecorra
