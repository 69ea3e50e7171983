// A filter field. Enter or the down arrow goes on to what it filters. Its clear button is added with the first letter,
// because Qt looks up its icons on disk.
#pragma once

#include <QAbstractItemView>
#include <QKeyEvent>
#include <QLineEdit>
#include <functional>

namespace pecorra {

class FilterEdit : public QLineEdit {
 public:
  // `list`: what it filters, when it is asked for.
  FilterEdit(const QString& hint, std::function<QWidget*()> list) : list_(std::move(list)) {
    setPlaceholderText(hint);
    connect(this, &QLineEdit::textChanged, this, [this] {
      if (!isClearButtonEnabled()) setClearButtonEnabled(true);
    });
  }

 protected:
  void keyPressEvent(QKeyEvent* event) override {
    const int key = event->key();
    if (key != Qt::Key_Return && key != Qt::Key_Enter && key != Qt::Key_Down) return QLineEdit::keyPressEvent(event);
    QWidget* list = list_();
    if (auto* view = qobject_cast<QAbstractItemView*>(list)) {
      if (view->model()->rowCount() == 0) return;
      if (!view->currentIndex().isValid()) view->setCurrentIndex(view->model()->index(0, 0));
    }
    list->setFocus();
  }

 private:
  std::function<QWidget*()> list_;
};

}  // namespace pecorra
