// A field that narrows a list. Its clear button comes with the first letter: Qt looks for that button's icons on the
// disk.
#pragma once

#include <QLineEdit>

namespace pecorra {

class FilterEdit : public QLineEdit {
 public:
  explicit FilterEdit(const QString& hint) {
    setPlaceholderText(hint);
    connect(this, &QLineEdit::textChanged, this, [this] {
      if (!isClearButtonEnabled()) setClearButtonEnabled(true);
    });
  }
};

}  // namespace pecorra
