// What the shop has beside cutters and holders, and what it decides for all its work: inserts, collets, tool materials,
// coatings, what is to be bought, names and rounding.
#pragma once

#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QStackedWidget>
#include <vector>

#include "app/shop/part_section.h"
#include "app/widgets/switch_row.h"
#include "app/workspace.h"

namespace pecorra {

class ShopPage : public QWidget {
  Q_OBJECT
 public:
  enum SectionIndex { inserts, collets, tool_materials, coatings, to_buy, names };
  ShopPage(Workspace& workspace, QWidget* parent = nullptr);

  QWidget* bench() { return benches_; }
  void show_section(int index);
  int section() const { return lists_->currentIndex(); }
  void add_part() { sections_[static_cast<std::size_t>(section())]->add(new_); }
  void remove_part() { sections_[static_cast<std::size_t>(section())]->remove(); }
  void focus_list();
  void focus_filter();
  // Lists in which the Delete key takes away.
  std::vector<QWidget*> lists() const;

 signals:
  void said(const QString& what, bool fault);

 private:
  void add_section(ShopSection* section);
  void refresh_title();

  Workspace& workspace_;
  SwitchRow* switch_;
  QLabel* count_;
  QLineEdit* filter_;
  QPushButton* new_;
  QStackedWidget *lists_, *benches_;
  std::vector<ShopSection*> sections_;
};

}  // namespace pecorra
