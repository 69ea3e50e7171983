// A text of several lines. Layouts ask for its height many times over: for one text and width it is worked out once.
#pragma once

#include <QHash>
#include <QLabel>

namespace pecorra {

class WrappedLabel : public QLabel {
 public:
  explicit WrappedLabel(const QString& text = {}, QWidget* parent = nullptr) : QLabel(text, parent) {
    setWordWrap(true);
  }
  int heightForWidth(int width) const override {
    if (of_ != text() || in_ != font()) known_.clear(), of_ = text(), in_ = font();
    const auto found = known_.constFind(width);
    return found != known_.constEnd() ? *found : *known_.insert(width, QLabel::heightForWidth(width));
  }

 private:
  mutable QString of_;
  mutable QFont in_;
  mutable QHash<int, int> known_;
};

}  // namespace pecorra
