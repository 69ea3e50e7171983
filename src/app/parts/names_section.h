// Names by a pattern, with what would be called otherwise, and what the shop rounds to.
#pragma once

#include <QTableView>

#include "app/parts/part_section.h"
#include "app/widgets/text_model.h"
#include "shop/cutter_edit.h"

namespace pecorra {

class NamesSection : public PartsSection {
  Q_OBJECT
 public:
  NamesSection(Workspace& workspace, QObject* parent);
  QString title() const override { return tr("Names and rounding"); }
  QString count_text() const override;
  QWidget* focus_target() const override;

 private:
  void refresh();
  void preview(const std::string& pattern);
  void accept(const QString& key, const Value& value, const QString& typed);

  Workspace& workspace_;
  TextModel* preview_;
  QTableView* table_;
  QLabel* note_;
  BenchHead* head_;
  PropertyForm* form_;
  std::string pattern_;  // as previewed
};

// What is to be bought, as a list that can be copied.
class ToBuySection : public PartsSection {
  Q_OBJECT
 public:
  ToBuySection(Workspace& workspace, QObject* parent);
  QString title() const override { return tr("To buy"); }
  QString count_text() const override;
  QWidget* focus_target() const override;

 private:
  void refresh();

  Workspace& workspace_;
  TextModel* model_;
  QTableView* table_;
  QLabel* empty_;
};

}  // namespace pecorra
