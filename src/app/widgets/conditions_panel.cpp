#include "app/widgets/conditions_panel.h"

#include <QHBoxLayout>
#include <QScrollArea>
#include <QVBoxLayout>

#include "app/look/look.h"
#include "app/widgets/property_form.h"
#include "shop/words.h"

namespace pecorra {

ConditionsPanel::ConditionsPanel(QWidget* parent) : QWidget(parent), figures_(new QLabel), headroom_(new HeadroomBars), trail_(new TrailView), offer_(new QPushButton), second_offer_(new QPushButton), followed_(new SwitchRow({QString()})), notes_(new QLabel) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 4, 8, 8);
  column->setSpacing(5);
  followed_->setObjectName(QStringLiteral("followed"));
  column->addWidget(followed_, 0, Qt::AlignLeft);
  figures_->setFont(Look::get().text(12));
  figures_->setWordWrap(true);
  figures_->setObjectName(QStringLiteral("figures"));
  column->addWidget(figures_);
  notes_->setFont(Look::get().text(12));
  notes_->setWordWrap(true);
  notes_->setObjectName(QStringLiteral("cut_notes"));
  set_tone(notes_, Tone::weld);
  column->addWidget(notes_);
  column->addWidget(walnut_heading(tr("Headroom")));
  column->addWidget(headroom_);
  column->addSpacing(4);
  column->addWidget(walnut_heading(tr("Trail")));
  column->addWidget(trail_);
  offer_->setObjectName(QStringLiteral("make_row"));
  auto* offers = new QHBoxLayout;
  offers->setSpacing(6);
  second_offer_->setObjectName(QStringLiteral("keep_recipe"));
  offers->addWidget(offer_);
  offers->addWidget(second_offer_);
  offers->addStretch(1);
  column->addLayout(offers);
  connect(second_offer_, &QPushButton::clicked, this, &ConditionsPanel::second_offer_taken);
  connect(followed_, &SwitchRow::chosen, this, &ConditionsPanel::follow_chosen);
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
  second_offer_->setText(s.second_offer);
  second_offer_->setVisible(!s.second_offer.isEmpty());
  followed_->setVisible(s.followed.size() > 1);
  if (s.followed.size() > 1) {
    followed_->set_names(s.followed);
    followed_->set_current(s.follows);
  }
  // What the bars below do not say.
  QStringList notes;
  for (const Message& m : s.report.messages)
    if (m.code.starts_with("holder_") || m.code.starts_with("runout_") || m.code.starts_with("recipe_")) notes << sentence(m, units);
  notes_->setText(notes.join(QLatin1Char('\n')));
  notes_->setVisible(!notes.isEmpty());
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
