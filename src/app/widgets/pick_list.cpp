#include "app/widgets/pick_list.h"

#include <QApplication>
#include <QCloseEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QScreen>
#include <QStyledItemDelegate>
#include <QVBoxLayout>

#include "app/look/look.h"

namespace pecorra {
namespace {

constexpr int line_height = 26, most_rows = 14, most_listed = 500, most_width = 640;

class ItemPainter : public QStyledItemDelegate {
 public:
  using QStyledItemDelegate::QStyledItemDelegate;
  QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override { return {100, line_height}; }
  void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
    const Colours& d = colours();
    if (option.state & QStyle::State_Selected) p->fillRect(option.rect, d.lit);
    const QRect r = option.rect.adjusted(10, 0, -10, 0);
    p->setFont(Look::get().text(13));
    const QString detail = index.data(Qt::UserRole + 1).toString();
    p->setPen(d.quiet);
    p->drawText(r, Qt::AlignRight | Qt::AlignVCenter, detail);
    p->setPen(d.ink);
    const auto* item = static_cast<const PickItem*>(index.data(Qt::UserRole + 2).value<const void*>());
    QRect left = r;
    if (item && item->icon) {
      p->save();
      item->icon(*p, QRectF(r.left(), r.top() + 3, 18, r.height() - 6));
      p->restore();
      left.setLeft(r.left() + 28);
    }
    const int room = left.width() - p->fontMetrics().horizontalAdvance(detail) - 12;
    p->drawText(left, Qt::AlignLeft | Qt::AlignVCenter,
                p->fontMetrics().elidedText(index.data().toString(), Qt::ElideRight, room));
  }
};

}  // namespace

PickList::PickList(QWidget* parent)
    : QFrame(parent, Qt::Popup), filter_(new QLineEdit(this)), list_(new QListWidget(this)) {
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

void PickList::open(QPoint global, int width, std::vector<PickItem> items, int current, const QString& hint,
                    std::function<bool(const QString&)> free_text) {
  items_ = std::move(items);
  free_text_ = std::move(free_text);
  free_text_first_ = false;
  more_ = {};
  more_items_.clear();
  filter_->clear();
  filter_->setPlaceholderText(hint);
  narrow({});
  if (current >= 0 && current < list_->count()) list_->setCurrentRow(current);
  const int wide = std::max(width, std::min(widest(), most_width));
  resize(wide, height());
  // Where it would leave its window it moves to the left.
  const QWidget* window = parentWidget() ? parentWidget()->window() : nullptr;
  const int right = window ? window->mapToGlobal(QPoint(window->width(), 0)).x() : global.x() + wide;
  move(std::min(global.x(), std::max(0, right - wide)), global.y());
  open_since_.start();
  show();
  filter_->setFocus();
}

// Of what is listed, with its frame.
int PickList::widest() const {
  const QFontMetrics metrics(Look::get().text(13));
  int most = 0;
  for (std::size_t i = 0; i < std::min<std::size_t>(items_.size(), most_listed); ++i)
    most = std::max(most, metrics.horizontalAdvance(items_[i].text) + metrics.horizontalAdvance(items_[i].detail) +
                              (items_[i].icon ? 28 : 0));
  constexpr int frame = 12 + 20 + 16 + 24;  // margins, padding, scroll bar, between both texts
  return most + frame;
}

void PickList::set_more(std::function<std::vector<PickItem>(const QString&)> more) {
  more_ = std::move(more);
  narrow(filter_->text());
}

void PickList::narrow(const QString& text) {
  list_->clear();
  const QStringList words = text.split(QLatin1Char(' '), Qt::SkipEmptyParts);
  const auto add = [this](const PickItem& pick, int place) {
    auto* item = new QListWidgetItem(pick.text, list_);
    item->setData(Qt::UserRole, place);
    item->setData(Qt::UserRole + 1, pick.detail);
    item->setData(Qt::UserRole + 2, QVariant::fromValue(static_cast<const void*>(&pick)));
  };
  for (std::size_t i = 0; i < items_.size(); ++i) {
    const QString whole = items_[i].text + QLatin1Char(' ') + items_[i].detail;
    bool fits = true;
    for (const QString& word : words) fits = fits && whole.contains(word, Qt::CaseInsensitive);
    if (!fits) continue;
    add(items_[i], static_cast<int>(i));
    if (list_->count() >= most_listed) break;  // typing finds the others
  }
  if (more_ && list_->count() < most_listed) {
    more_items_ = more_(text);
    for (std::size_t i = 0; i < more_items_.size() && list_->count() < most_listed; ++i)
      add(more_items_[i], static_cast<int>(items_.size() + i));
  }
  if (list_->count() == 0) {
    auto* nothing = new QListWidgetItem(
        free_text_ && !text.isEmpty() ? tr("Press Enter to apply") : tr("Nothing has that name"), list_);
    nothing->setFlags(Qt::NoItemFlags);
  } else if (!free_text_first_ || text.isEmpty()) {
    list_->setCurrentRow(0);
  }
  resize(width(), filter_->sizeHint().height() + std::min(list_->count(), most_rows) * line_height + 24);
}

void PickList::pick_current() {
  const QString typed = filter_->text();
  QListWidgetItem* item = list_->currentItem();
  if (!item) {
    if (free_text_ && free_text_(typed)) hide();
    return;
  }
  const auto place = static_cast<std::size_t>(item->data(Qt::UserRole).toInt());
  const auto pick = place < items_.size() ? items_[place].pick : more_items_[place - items_.size()].pick;
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
    if (key == Qt::Key_Escape) {
      hide();
      return true;
    }
  }
  return QFrame::eventFilter(object, event);
}

void PickList::mousePressEvent(QMouseEvent* event) {
  if (rect().contains(event->pos())) QFrame::mousePressEvent(event);
  else hide();
}

// Qt closes popups when a window gains or loses focus, which a window manager may report late: a list just opened
// stays, and closes by key or click.
void PickList::closeEvent(QCloseEvent* event) {
  constexpr qint64 late_focus_ms = 2000;
  if (open_since_.elapsed() < late_focus_ms && window()->isVisible()) event->ignore();
  else QFrame::closeEvent(event);
}

}  // namespace pecorra

#include "moc_pick_list.cpp"
