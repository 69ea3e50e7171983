// A page of sections, each a list with a bench: shop data, materials, machines.
#pragma once

#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QStackedWidget>
#include <vector>

#include "app/parts/parts_section.h"
#include "app/widgets/switch_row.h"
#include "app/workspace.h"

namespace pecorra {

class PartsPage : public QWidget {
  Q_OBJECT
 public:
  enum SectionIndex {
    inserts,
    collets,
    tool_materials,
    coatings,
    to_buy,
    names,
    number_blocks,
    never
  };  // of the shop's own page
  // `hint`: of the filter. The sections become the page's.
  PartsPage(const QString& title, const QString& hint, const std::vector<PartsSection*>& sections,
            QWidget* parent = nullptr);

  QWidget* bench() { return benches_; }
  void show_section(int index);
  int section() const { return lists_->currentIndex(); }
  void add_part() { sections_[static_cast<std::size_t>(section())]->add(new_); }
  void copy_part() { sections_[static_cast<std::size_t>(section())]->copy(); }
  void remove_part() { sections_[static_cast<std::size_t>(section())]->remove(); }
  void focus_list();
  void focus_filter();
  // Lists in which the Delete key deletes.
  std::vector<QWidget*> lists() const;

 signals:
  void said(const QString& what, bool fault);

 private:
  void add_section(PartsSection* section);
  void refresh_title();

  SwitchRow* switch_;
  QLabel* count_;
  QLineEdit* filter_;
  QPushButton *copy_, *new_;
  QStackedWidget *lists_, *benches_;
  std::vector<PartsSection*> sections_;
};

PartsPage* make_shop_page(Workspace& workspace);
PartsPage* make_materials_page(Workspace& workspace);
PartsPage* make_machines_page(Workspace& workspace);

}  // namespace pecorra
