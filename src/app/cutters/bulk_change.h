// Changes one property of many cutters at once, with an old → new line for each; also renumbers cutters that break a
// number block.
#pragma once

#include <QLineEdit>

#include "app/widgets/change_preview.h"

namespace pecorra {

class PickList;

class BulkChange : public QWidget {
  Q_OBJECT
 public:
  BulkChange(Workspace& workspace, QWidget* parent = nullptr);
  void open(std::vector<Id> cutters);
  // As chosen and typed; the fault is said and nothing else happens.
  void set_property(const std::string& key);
  void set_text(const QString& text);
  // The plan for these cutters.
  void open_numbers(std::vector<Id> cutters);
  ChangePreview& preview() { return *preview_; }

 signals:
  void done();
  void said(const QString& what, bool fault);

 private:
  void show_changes();
  void choose_text(const QString& text);
  void choose_property();
  void choose_value();

  Workspace& workspace_;
  std::vector<Id> cutters_;
  std::string key_ = "maker";
  QString text_;
  QLabel *what_, *fault_;
  QPushButton *property_, *choice_;
  QLineEdit* value_;
  QWidget* asked_;
  ChangePreview* preview_;
  PickList* list_ = nullptr;
};

}  // namespace pecorra
