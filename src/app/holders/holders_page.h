// The shop's holders; new ones from the generic set, from a DXF outline, or empty.
#pragma once

#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTableView>

#include "app/holders/holder_model.h"
#include "app/widgets/text_model.h"

namespace pecorra {

class FitColumns;
class PickList;

class HoldersPage : public QWidget {
  Q_OBJECT
 public:
  HoldersPage(Workspace& workspace, QWidget* parent = nullptr);

  void new_holder();  // asks what to start from
  void add_holder(Holder holder);
  // The outer outline of the drawing becomes the stations: x the radius, y the distance from the face.
  void read_outline(const QString& file);
  void delete_holder();
  void focus_filter() {
    filter_->setFocus();
    filter_->selectAll();
  }
  void select(const Id& holder);
  Id selected() const;
  QTableView& table() { return *table_; }

 signals:
  void selection_changed(const pecorra::Id& holder);
  void cutter_wanted(const pecorra::Id& cutter);
  void outline_wanted();
  void holder_started();  // an empty one: its stations are typed next
  void said(const QString& what, bool fault);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void refresh_title();
  void refresh_cutters();

  Workspace& workspace_;
  HolderModel* model_;
  QTableView* table_;
  FitColumns* columns_;
  // Below: what the selected one holds.
  QLabel* held_title_;
  TextModel* held_;
  QTableView* held_table_;
  std::vector<Id> held_cutters_;
  QLabel *count_, *empty_;
  QLineEdit* filter_;
  QPushButton* new_;
  PickList* kinds_;
  Id kept_;  // selected before the list was made anew
};

}  // namespace pecorra
