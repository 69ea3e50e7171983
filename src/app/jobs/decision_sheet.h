// Rows that are looked at before something is done with them, in place of a list: what it is, what can be done, Esc.
#pragma once

#include <QLabel>
#include <QPushButton>
#include <QTableView>
#include <functional>
#include <vector>

#include "app/widgets/text_model.h"

namespace pecorra {

class FitColumns;

class DecisionSheet : public QWidget {
  Q_OBJECT
 public:
  struct Action {
    QString text, help;
    // Of the rows that are selected; the first one is also done by Enter.
    std::function<void(const std::vector<int>& rows)> act;
    bool of_all = false;  // whatever is selected
  };
  struct Content {
    QString title, note;
    QStringList headings;
    QList<int> right_aligned;
    int stretch = 1;  // the column that takes the room that is left
    std::vector<QStringList> lines;
    QStringList details;  // of the row in front, before the note
    std::map<std::pair<int, int>, Tone> lit;
    std::vector<Action> actions;
    std::function<void(int row)> look;  // at a row
  };
  explicit DecisionSheet(QWidget* parent = nullptr);
  void show_content(Content content);
  bool is_empty() const { return lines_ == 0; }
  void close_sheet();
  QTableView& table() { return *table_; }
  int wanted_height() const;
  // As its button does.
  void act(int action);

 signals:
  void closed();

 protected:
  void keyPressEvent(QKeyEvent* event) override;

 private:
  std::vector<int> selected() const;
  void say_details(int row);
  Content content_;
  int lines_ = 0;
  QLabel *title_, *note_;
  QWidget* buttons_;
  QTableView* table_;
  TextModel* model_;
  FitColumns* columns_;
};

}  // namespace pecorra
