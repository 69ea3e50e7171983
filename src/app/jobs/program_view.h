// The program as text: comments quiet, S and F in woad.
#pragma once

#include <QPlainTextEdit>

namespace pecorra {

class ProgramView : public QPlainTextEdit {
  Q_OBJECT
 public:
  explicit ProgramView(QWidget* parent = nullptr);
  void show_program(const QString& program);
  // Scrolls to the comment of the operation, counted from 1, and lights its first line.
  void show_operation(int number);

 private:
  int operation_ = 0;
};

}  // namespace pecorra
