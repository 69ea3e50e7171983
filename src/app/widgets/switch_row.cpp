#include "app/widgets/switch_row.h"

#include <QHBoxLayout>
#include <QPushButton>

namespace pecorra {

SwitchRow::SwitchRow(const QStringList& names, QWidget* parent) : QWidget(parent) {
  auto* layout = new QHBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(6);
  group_.setExclusive(true);
  connect(&group_, &QButtonGroup::idClicked, this, &SwitchRow::chosen);
  set_names(names);
}

void SwitchRow::set_names(const QStringList& names) {
  if (names == names_) return;
  names_ = names;
  while (QLayoutItem* item = layout()->takeAt(0)) {
    delete item->widget();
    delete item;
  }
  auto* box = static_cast<QHBoxLayout*>(layout());
  for (int i = 0; i < names.size(); ++i) {
    auto* button = new QPushButton(names[i]);
    button->setCheckable(true);
    button->setAutoDefault(false);
    button->setObjectName(objectName() + QStringLiteral("_%1").arg(i));
    group_.addButton(button, i);
    box->addWidget(button);
  }
  box->addStretch(1);
  set_current(0);
}

void SwitchRow::set_current(int index) {
  if (QAbstractButton* button = group_.button(index)) button->setChecked(true);
}

}  // namespace pecorra

#include "moc_switch_row.cpp"
