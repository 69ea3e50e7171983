// The pages, at the left: an icon with its name under it.
#pragma once

#include <QAbstractButton>
#include <QButtonGroup>
#include <QVBoxLayout>
#include <QWidget>

#include "app/look/look.h"

namespace pecorra {

class PageRail : public QWidget {
  Q_OBJECT
 public:
  explicit PageRail(QWidget* parent = nullptr);
  void add_page(Icon icon, const QString& name);
  void set_current(int index);
  int count() const { return static_cast<int>(buttons_.buttons().size()); }

 signals:
  void chosen(int index);

 private:
  QButtonGroup buttons_;
  QVBoxLayout* layout_;
};

}  // namespace pecorra
