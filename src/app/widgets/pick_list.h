// A list that drops down under what it changes: type to narrow, arrows and Enter to pick.
#pragma once

#include <QFrame>
#include <QLineEdit>
#include <QListWidget>
#include <functional>
#include <vector>

namespace pecorra {

struct PickItem {
  QString text;
  QString detail;  // quiet, at the right
  std::function<void()> pick;
};

class PickList : public QFrame {
  Q_OBJECT
 public:
  explicit PickList(QWidget* parent);
  // `free_text` is offered what was typed when no item is picked; false: it cannot be used.
  void open(QPoint global, int width, std::vector<PickItem> items, int current, const QString& hint, std::function<bool(const QString&)> free_text = {});
  int shown_count() const { return list_->count() > 0 && list_->item(0)->flags() == Qt::NoItemFlags ? 0 : list_->count(); }
  QString current_text() const { return list_->currentItem() ? list_->currentItem()->text() : QString(); }

 protected:
  bool eventFilter(QObject* object, QEvent* event) override;

 private:
  void narrow(const QString& text);
  void pick_current();

  QLineEdit* filter_;
  QListWidget* list_;
  std::vector<PickItem> items_;
  std::function<bool(const QString&)> free_text_;
};

}  // namespace pecorra
