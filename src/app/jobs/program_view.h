// The program as text: comments grey, S and F in the accent colour. A list of lines, so that a program of any length is
// there at once; lines are selected, copied and found. Each knows its operation and move.
#pragma once

#include <QAbstractListModel>
#include <QListView>
#include <functional>
#include <map>
#include <memory>
#include <vector>

#include "core/program/program.h"

namespace pecorra {

class ProgramLines : public QAbstractListModel {
  Q_OBJECT
 public:
  using QAbstractListModel::QAbstractListModel;
  // False: it is what is shown.
  bool show_program(std::shared_ptr<const WrittenProgram> program);
  int rowCount(const QModelIndex& parent = {}) const override {
    return parent.isValid() ? 0 : static_cast<int>(starts_.size());
  }
  QVariant data(const QModelIndex& index, int role) const override;
  QString line(int row) const;
  int longest() const { return longest_; }  // letters
  // Where the operation of this number in the job begins; -1: nowhere.
  int row_of_operation(int number) const;
  // The last row that this move is written in; -1: none is.
  int row_of_move(int number, int move) const;
  // Of a row: the number of its operation, 0 without one, and its move, negative without one.
  std::pair<int, int> origin(int row) const;
  // The next row from there that holds the text, in any letters; -1: none.
  int find(const QString& text, int from, bool backwards) const;

 private:
  std::shared_ptr<const WrittenProgram> program_;
  std::vector<std::uint32_t> starts_;
  std::map<int, int> operations_;
  int longest_ = 0;
};

class ProgramView : public QListView {
  Q_OBJECT
 public:
  explicit ProgramView(QWidget* parent = nullptr);
  void show_program(std::shared_ptr<const WrittenProgram> program);
  // Scrolls to where the operation begins, counted from 1, and highlights its first line.
  void show_operation(int number);
  // Highlights the block of a move and keeps it in sight.
  void show_move(int number, int move);
  // From the selected line on; false: it is nowhere.
  bool find(const QString& text, bool backwards);
  int lit_row() const { return lit_; }
  const QString& found_text() const { return found_; }
  // What is said about a word of an operation's block: S or F.
  using Explain = std::function<QString(int number, int move, QChar letter)>;
  void explain_with(Explain explain) { explain_ = std::move(explain); }
  ProgramLines& lines() { return *lines_; }

 signals:
  // By the user: a block of this operation, and its move where it has one.
  void block_chosen(int number, int move);
  void find_wanted();

 protected:
  void keyPressEvent(QKeyEvent* event) override;
  void paintEvent(QPaintEvent* event) override;
  bool viewportEvent(QEvent* event) override;
  void currentChanged(const QModelIndex& now, const QModelIndex& before) override;

 private:
  void light(int row);
  ProgramLines* lines_;
  Explain explain_;
  QString found_;
  int operation_ = 0, lit_ = -1;
  bool following_ = false;
};

}  // namespace pecorra
