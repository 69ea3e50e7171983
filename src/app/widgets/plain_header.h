// A header of a table whose height is that of one line: it does not measure the text of every column to find it out.
#pragma once

#include <QHeaderView>

#include "app/look/look.h"

namespace pecorra {

class PlainHeader : public QHeaderView {
 public:
  explicit PlainHeader(double pixels) : QHeaderView(Qt::Horizontal) {
    setFont(Look::get().text(pixels));
    setHighlightSections(false);
    setSectionsClickable(true);
  }
  QSize sizeHint() const override { return {length(), fontMetrics().height() + 8}; }
};

}  // namespace pecorra
