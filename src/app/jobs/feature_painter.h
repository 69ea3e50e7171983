// A cell of the feature list; what is wrong has its mark at the name.
#pragma once

#include "app/jobs/feature_model.h"
#include "app/widgets/plain_item.h"

namespace pecorra {

class FeaturePainter : public PlainItem {
 public:
  using PlainItem::PlainItem;
  void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
    PlainItem::paint(p, option, index);
    if (index.column() == FeatureModel::name && !index.data(FeatureModel::fault_role).toString().isEmpty())
      draw_mark(*p, QRectF(option.rect.right() - 13, option.rect.top(), 11, option.rect.height()), Mark::beyond);
  }
};

}  // namespace pecorra
