// History of a cutter, restoring any version, and where the cutter is used.
#pragma once

#include <QLabel>
#include <QPushButton>
#include <QTableView>

#include "app/widgets/text_model.h"
#include "app/workspace.h"
#include "shop/history.h"

namespace pecorra {

class HistoryPanel : public QWidget {
  Q_OBJECT
 public:
  HistoryPanel(Workspace& workspace, QWidget* parent = nullptr);
  // Read in the background when shown.
  void show_cutter(const Id& cutter);
  const std::vector<PastState>& past() const { return past_; }
  // The cutter as it was after that entry, as one step that can be undone.
  void go_back(std::size_t entry);

 signals:
  void said(const QString& what, bool fault);
  void job_wanted(const pecorra::Id& job, int operation);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void read();

  Workspace& workspace_;
  Id cutter_;
  bool is_stale_ = true;
  std::vector<PastState> past_;
  std::vector<CutterUse> uses_;
  TextModel *entries_, *used_;
  QTableView *entry_table_, *used_table_;
  QLabel *title_, *empty_;
  QPushButton* back_;
};

}  // namespace pecorra
