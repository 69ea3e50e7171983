// The program as text: comments grey, S and F in the accent colour. A list of lines, so that a program of any length is
// there at once; lines are selected and copied.
#pragma once

#include <QAbstractListModel>
#include <QListView>
#include <map>
#include <vector>

namespace pecorra {

class ProgramLines : public QAbstractListModel {
  Q_OBJECT
 public:
  using QAbstractListModel::QAbstractListModel;
  // False: it is what is shown.
  bool show_text(const QString& text);
  int rowCount(const QModelIndex& parent = {}) const override {
    return parent.isValid() ? 0 : static_cast<int>(lines_.size());
  }
  QVariant data(const QModelIndex& index, int role) const override;
  int longest() const { return longest_; }  // letters
  // Where the operation of this number begins; -1: nowhere.
  int row_of_operation(int number) const;

 private:
  QString text_;
  std::vector<QStringView> lines_;
  std::map<int, int> operations_;
  int longest_ = 0;
};

class ProgramView : public QListView {
  Q_OBJECT
 public:
  explicit ProgramView(QWidget* parent = nullptr);
  void show_program(const QString& program);
  // Scrolls to the operation's comment, counted from 1, and highlights its first line.
  void show_operation(int number);
  int lit_row() const { return lit_; }

 protected:
  void keyPressEvent(QKeyEvent* event) override;
  void paintEvent(QPaintEvent* event) override;

 private:
  ProgramLines* lines_;
  int operation_ = 0, lit_ = -1;
};

}  // namespace pecorra
