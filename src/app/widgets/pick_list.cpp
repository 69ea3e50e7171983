#include "app/widgets/pick_list.h"

#include <QApplication>
#include <QKeyEvent>
#include <QPainter>
#include <QScreen>
#include <QStyledItemDelegate>
#include <QVBoxLayout>

#include "app/look/look.h"

namespace pecorra {
namespace {

constexpr int row_height = 26, most_rows = 14;

class ItemPainter : public QStyledItemDelegate {
 public:
  using QStyledItemDelegate::QStyledItemDelegate;
  QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override { return {100, row_height}; }
  void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
    const Dyes& d = dyes();
    if (option.state & QStyle::State_Selected) p->fillRect(option.rect, d.lit);
    const QRect r = option.rect.adjusted(10, 0, -10, 0);
    p->setFont(Look::get().text(13));
    const QString detail = index.data(Qt::UserRole + 1).toString();
    p->setPen(d.quiet);
    p->drawText(r, Qt::AlignRight | Qt::AlignVCenter, detail);
    p->setPen(d.ink);
    const int room = r.width() - p->fontMetrics().horizontalAdvance(detail) - 12;
    p->drawText(r, Qt::AlignLeft | Qt::AlignVCenter, p->fontMetrics().elidedText(index.data().toString(), Qt::ElideRight, room));
  }
};

}  // namespace

PickList::PickList(QWidget* parent) : QFrame(parent, Qt::Popup), filter_(new QLineEdit(this)), list_(new QListWidget(this)) {
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(6, 6, 6, 6);
  layout->setSpacing(4);
  layout->addWidget(filter_);
  layout->addWidget(list_);
  setFrameShape(QFrame::StyledPanel);
  filter_->setFont(Look::get().text(14));
  list_->setItemDelegate(new ItemPainter(list_));
  list_->setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
  list_->setFocusPolicy(Qt::NoFocus);
  filter_->installEventFilter(this);
  connect(filter_, &QLineEdit::textChanged, this, &PickList::narrow);
  connect(list_, &QListWidget::itemClicked, this, [this] { pick_current(); });
}

void PickList::open(QPoint global, int width, std::vector<PickItem> items, int current, const QString& hint, std::function<bool(const QString&)> free_text) {
  items_ = std::move(items);
  free_text_ = std::move(free_text);
  filter_->clear();
  filter_->setPlaceholderText(hint);
  narrow({});
  if (current >= 0 && current < list_->count()) list_->setCurrentRow(current);
  resize(width, height());
  move(global);
  show();
  filter_->setFocus();
}

void PickList::narrow(const QString& text) {
  list_->clear();
  const QStringList words = text.split(QLatin1Char(' '), Qt::SkipEmptyParts);
  for (std::size_t i = 0; i < items_.size(); ++i) {
    const QString whole = items_[i].text + QLatin1Char(' ') + items_[i].detail;
    bool fits = true;
    for (const QString& word : words) fits = fits && whole.contains(word, Qt::CaseInsensitive);
    if (!fits) continue;
    auto* item = new QListWidgetItem(items_[i].text, list_);
    item->setData(Qt::UserRole, static_cast<int>(i));
    item->setData(Qt::UserRole + 1, items_[i].detail);
  }
  if (list_->count() == 0) {
    auto* nothing = new QListWidgetItem(free_text_ && !text.isEmpty() ? tr("Enter takes what is typed") : tr("Nothing is called that"), list_);
    nothing->setFlags(Qt::NoItemFlags);
  } else {
    list_->setCurrentRow(0);
  }
  resize(width(), filter_->sizeHint().height() + std::min(list_->count(), most_rows) * row_height + 24);
}

void PickList::pick_current() {
  const QString typed = filter_->text();
  QListWidgetItem* item = list_->currentItem();
  if (!item) {
    if (free_text_ && free_text_(typed)) hide();
    return;
  }
  const auto pick = items_[static_cast<std::size_t>(item->data(Qt::UserRole).toInt())].pick;
  hide();
  if (pick) pick();
}

bool PickList::eventFilter(QObject* object, QEvent* event) {
  if (object == filter_ && event->type() == QEvent::KeyPress) {
    const int key = static_cast<QKeyEvent*>(event)->key();
    if (key == Qt::Key_Down || key == Qt::Key_Up || key == Qt::Key_PageDown || key == Qt::Key_PageUp) {
      QApplication::sendEvent(list_, event);
      return true;
    }
    if (key == Qt::Key_Return || key == Qt::Key_Enter) {
      pick_current();
      return true;
    }
  }
  return QFrame::eventFilter(object, event);
}

}  // namespace pecorra
