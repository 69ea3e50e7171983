// The operations proposed for features, with their cutters and why: seen, and left out one by one, before they are
// added.
#pragma once

#include <QLabel>
#include <QPushButton>
#include <QTableView>

#include "app/workspace.h"
#include "shop/chain_edit.h"

namespace pecorra {

class FitColumns;

class ChainSheet : public QWidget {
  Q_OBJECT
 public:
  ChainSheet(Workspace& workspace, QWidget* parent = nullptr);
  void show_chain(std::vector<ProposedOperation> chain, const QString& title);
  bool is_empty() const;
  QTableView& table() { return *table_; }
  void pick(int row, bool picked);
  // Adds what is ticked in one step.
  void take();
  void leave();
  // Height that shows all of it.
  int wanted_height() const;

 signals:
  void done();
  void taken(int count);

 protected:
  void keyPressEvent(QKeyEvent* event) override;

 private:
  class Model;
  void refresh();
  void say_why();

  Workspace& workspace_;
  Model* model_;
  QLabel *title_, *why_;
  QTableView* table_;
  FitColumns* columns_;
  QPushButton *take_, *leave_;
};

}  // namespace pecorra
