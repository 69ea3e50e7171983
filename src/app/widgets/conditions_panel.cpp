#include "app/widgets/conditions_panel.h"

#include <QScrollArea>
#include <QVBoxLayout>

#include "app/look/look.h"
#include "app/widgets/property_form.h"
#include "shop/words.h"

namespace pecorra {

ConditionsPanel::ConditionsPanel(QWidget* parent) : QWidget(parent), figures_(new QLabel), headroom_(new HeadroomBars), trail_(new TrailView), offer_(new QPushButton) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 4, 8, 8);
  column->setSpacing(5);
  figures_->setFont(Look::get().text(12));
  figures_->setWordWrap(true);
  figures_->setObjectName(QStringLiteral("figures"));
  column->addWidget(figures_);
  column->addWidget(walnut_heading(tr("Headroom")));
  column->addWidget(headroom_);
  column->addSpacing(4);
  column->addWidget(walnut_heading(tr("Trail")));
  column->addWidget(trail_);
  offer_->setObjectName(QStringLiteral("make_row"));
  column->addWidget(offer_, 0, Qt::AlignLeft);
  connect(offer_, &QPushButton::clicked, this, &ConditionsPanel::offer_taken);
  column->addStretch(1);
  connect(trail_, &TrailView::source_clicked, this, &ConditionsPanel::source_clicked);
}

void ConditionsPanel::show_conditions(const ShownConditions& s, UnitSystem units) {
  if (s.why_not.isEmpty()) {
    QStringList parts;
    auto add = [&](const char* symbol, const std::optional<double>& value, Quantity quantity) {
      if (value) parts << QStringLiteral("%1 %2").arg(QString::fromUtf8(symbol), quantity_text(*value, quantity, units));
    };
    const CutResults& r = s.report.results;
    const bool milling = s.operation && process_of(*s.operation) == Process::milling;
    add("vc", r.vc_m_min, Quantity::cutting_speed);
    add(milling ? "fz" : "fn", milling ? r.fz_mm : r.fn_mm, Quantity::feed_per_tooth);
    if (milling) add("hex", r.h_ex_mm, Quantity::feed_per_tooth);
    const QStringList speeds = std::exchange(parts, {});
    if (r.q_cm3_min) parts << tr("Q %1 cm³/min").arg(QString::number(*r.q_cm3_min, 'f', *r.q_cm3_min < 10 ? 1 : 0));
    add("P", r.motor_power_kw, Quantity::power);
    add("Mc", r.mc_nm, Quantity::torque);
    parts << text_of(label_of(s.coolant));
    figures_->setText(speeds.join(QStringLiteral(" · ")) + QLatin1Char('\n') + parts.join(QStringLiteral(" · ")));
  } else {
    figures_->setText(s.why_not);
  }
  headroom_->show_headroom(s.report.headroom, s.suggestion ? suggestion_text(*s.suggestion, units) : QString(), units);
  trail_->show_trail(s.trail, units);
  offer_->setText(s.offer);
  offer_->setVisible(!s.offer.isEmpty());
}

QWidget* scrolled(QWidget* inside) {
  auto* area = new QScrollArea;
  area->setWidgetResizable(true);
  area->setFrameShape(QFrame::NoFrame);
  area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  area->setFocusPolicy(Qt::NoFocus);
  // Its least height is the widget's own, so that the area cannot miss that it has grown while it was hidden.
  if (inside->layout()) inside->layout()->setSizeConstraint(QLayout::SetMinimumSize);
  area->setWidget(inside);
  area->viewport()->setAutoFillBackground(false);
  inside->setAutoFillBackground(false);
  return area;
}

}  // namespace pecorra
