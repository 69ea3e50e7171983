// A drop-down list: type to filter, arrows and Enter to pick.
#pragma once

#include <QElapsedTimer>
#include <QFrame>
#include <QLineEdit>
#include <QListWidget>
#include <QPainter>
#include <functional>
#include <vector>

namespace pecorra {

struct PickItem {
  QString text;
  QString detail;  // quiet, at the right
  std::function<void()> pick;
  std::function<void(QPainter&, const QRectF&)> icon{};  // at the left, where it has one
};

class PickList : public QFrame {
  Q_OBJECT
 public:
  explicit PickList(QWidget* parent);
  // `free_text` is offered what was typed when no item is picked; false: it cannot be used.
  void open(QPoint global, int width, std::vector<PickItem> items, int current, const QString& hint,
            std::function<bool(const QString&)> free_text = {});
  // The typed text itself is offered before the matching items.
  void prefer_free_text() { free_text_first_ = true; }
  // More items that fit what was typed, as from very many cutters; behind the others.
  void set_more(std::function<std::vector<PickItem>(const QString& text)> more);
  int shown_count() const {
    return list_->count() > 0 && list_->item(0)->flags() == Qt::NoItemFlags ? 0 : list_->count();
  }
  QString current_text() const { return list_->currentItem() ? list_->currentItem()->text() : QString(); }

 protected:
  bool eventFilter(QObject* object, QEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void closeEvent(QCloseEvent* event) override;

 private:
  void narrow(const QString& text);
  int widest() const;
  void pick_current();

  QElapsedTimer open_since_;
  QLineEdit* filter_;
  QListWidget* list_;
  std::vector<PickItem> items_, more_items_;
  std::function<std::vector<PickItem>(const QString&)> more_;
  bool free_text_first_ = false;
  std::function<bool(const QString&)> free_text_;
};

}  // namespace pecorra
