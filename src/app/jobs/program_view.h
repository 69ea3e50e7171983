// The program as text: comments grey, S and F in the accent colour.
#pragma once

#include <QPlainTextEdit>

namespace pecorra {

class ProgramView : public QPlainTextEdit {
  Q_OBJECT
 public:
  explicit ProgramView(QWidget* parent = nullptr);
  void show_program(const QString& program);
  // Scrolls to the operation's comment, counted from 1, and highlights its first line.
  void show_operation(int number);

 private:
  int operation_ = 0;
};

}  // namespace pecorra
