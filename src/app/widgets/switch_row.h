// Two or more buttons of which one is down.
#pragma once

#include <QButtonGroup>
#include <QStringList>
#include <QWidget>

namespace pecorra {

class SwitchRow : public QWidget {
  Q_OBJECT
 public:
  explicit SwitchRow(const QStringList& names, QWidget* parent = nullptr);
  // Other names; the first is down. Nothing happens when they are the same.
  void set_names(const QStringList& names);
  void set_current(int index);
  int current() const { return group_.checkedId(); }

 signals:
  void chosen(int index);

 private:
  QButtonGroup group_;
  QStringList names_;
};

}  // namespace pecorra
