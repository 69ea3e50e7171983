// A filter field. Its clear button is added with the first letter, because Qt looks up its icons on disk.
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
