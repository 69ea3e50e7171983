#include "app/window/page_rail.h"

#include <QPainter>
#include <QVBoxLayout>

namespace pecorra {
namespace {

class RailButton : public QAbstractButton {
 public:
  RailButton(Icon icon, const QString& name, int number) : icon_(icon) {
    setText(name);
    setAccessibleName(name);
    setCheckable(true);
    setToolTip(QStringLiteral("%1 (Ctrl+%2)").arg(name).arg(number));
    setFixedSize(76, 64);
    setFocusPolicy(Qt::StrongFocus);
    connect(&Look::get(), &Look::changed, this, qOverload<>(&QWidget::update));
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter p(this);
    const Colours& d = colours();
    if (isChecked()) p.fillRect(QRect(0, 10, 4, height() - 20), d.accent);
    if (hasFocus() || underMouse()) p.fillRect(rect().adjusted(6, 3, -3, -3), d.lit);
    const QColor colour = isChecked() ? d.accent : d.quiet;
    draw_icon(p, QRectF(width() / 2.0 - 11, 8, 22, 22), icon_, colour);
    p.setPen(isChecked() ? d.ink : d.quiet);
    p.setFont(Look::get().text(11, isChecked()));
    p.drawText(QRect(0, 34, width(), 20), Qt::AlignCenter, text());
  }

 private:
  Icon icon_;
};

}  // namespace

PageRail::PageRail(QWidget* parent) : QWidget(parent), layout_(new QVBoxLayout(this)) {
  setFixedWidth(77);
  layout_->setContentsMargins(0, 10, 0, 0);
  layout_->setSpacing(0);
  layout_->addStretch(1);
  buttons_.setExclusive(true);
  connect(&buttons_, &QButtonGroup::idClicked, this, &PageRail::chosen);
}

void PageRail::add_page(Icon icon, const QString& name) {
  auto* button = new RailButton(icon, name, count() + 1);
  button->setObjectName(QStringLiteral("rail_%1").arg(count()));
  layout_->insertWidget(layout_->count() - 1, button);
  buttons_.addButton(button, count());
}

void PageRail::set_current(int index) {
  if (QAbstractButton* button = buttons_.button(index)) button->setChecked(true);
}

}  // namespace pecorra

#include "moc_page_rail.cpp"
