// Lines of a program that are not understood, with the reason; folded under a notice until asked for.
#pragma once

#include <QLabel>
#include <QPushButton>
#include <QTableView>

#include "app/widgets/text_model.h"
#include "shop/retune_file.h"

namespace pecorra {

class FitColumns;

class LeftAloneList : public QWidget {
  Q_OBJECT
 public:
  explicit LeftAloneList(QWidget* parent = nullptr);
  // What is to be decided, and the lines of the program; hidden where there is neither.
  void say(const QString& text, const std::shared_ptr<const RetunedFile>& program);
  void set_open(bool open);
  TextModel& model() { return *model_; }

 signals:
  void block_chosen(std::size_t block);

 private:
  QLabel* text_;
  QPushButton* fold_;
  TextModel* model_;
  QTableView* table_;
  FitColumns* columns_;
  std::shared_ptr<const RetunedFile> program_;
  std::vector<std::size_t> blocks_;
};

}  // namespace pecorra
