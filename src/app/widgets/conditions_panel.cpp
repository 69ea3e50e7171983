#include "app/widgets/conditions_panel.h"

#include <QHBoxLayout>
#include <QScrollArea>
#include <QVBoxLayout>

#include "app/look/look.h"
#include "app/widgets/property_form.h"
#include "app/widgets/wrapped_label.h"
#include "core/quantity/print.h"
#include "shop/words.h"

namespace pecorra {

ConditionsPanel::ConditionsPanel(QWidget* parent)
    : QWidget(parent),
      figures_(new WrappedLabel),
      headroom_(new HeadroomBars),
      trail_(new TrailView),
      offer_(new QPushButton),
      second_offer_(new QPushButton),
      followed_(new SwitchRow({QString()})),
      notes_(new WrappedLabel),
      what_if_(new QPushButton(tr("What if"))),
      usual_(new QPushButton(tr("Reset"))) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 4, 8, 8);
  column->setSpacing(5);
  followed_->setObjectName(QStringLiteral("followed"));
  column->addWidget(followed_, 0, Qt::AlignLeft);
  figures_->setFont(Look::get().text(12));
  figures_->setObjectName(QStringLiteral("figures"));
  column->addWidget(figures_);
  notes_->setFont(Look::get().text(12));
  notes_->setObjectName(QStringLiteral("cut_notes"));
  set_tone(notes_, Tone::warning);
  column->addWidget(notes_);
  auto* head = new QHBoxLayout;
  head->addWidget(section_heading(tr("Headroom")));
  head->addStretch(1);
  usual_->setObjectName(QStringLiteral("usual"));
  usual_->setToolTip(tr("Discards the trial values"));
  what_if_->setObjectName(QStringLiteral("what_if"));
  what_if_->setToolTip(
      tr("Try other values of depth, width, speed, fz and stick-out, with the curves of this cut (Ctrl+B)"));
  for (QPushButton* b : {usual_, what_if_}) {
    b->setFlat(true);
    b->setCursor(Qt::PointingHandCursor);
    head->addWidget(b);
  }
  column->addLayout(head);
  connect(what_if_, &QPushButton::clicked, this, &ConditionsPanel::what_if_wanted);
  connect(usual_, &QPushButton::clicked, this, &ConditionsPanel::usual_wanted);
  connect(headroom_, &HeadroomBars::change_clicked, this, [this](int i) {
    if (i < static_cast<int>(advice_.changes.size())) emit change_wanted(advice_.changes[static_cast<std::size_t>(i)]);
    else emit cutter_wanted(advice_.cutter);
  });
  column->addWidget(headroom_);
  column->addSpacing(4);
  column->addWidget(section_heading(tr("Trail")));
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

bool ConditionsPanel::take_first_change() {
  if (advice_.empty()) return false;
  if (!advice_.changes.empty()) emit change_wanted(Suggestion(advice_.changes.front()));
  else emit cutter_wanted(Id(advice_.cutter));
  return true;
}

void ConditionsPanel::show_conditions(const ShownConditions& s, UnitSystem units) {
  advice_ = acts_ ? s.advice : Advice{};
  if (s.cut) {
    QStringList lines, parts;
    const auto end_line = [&] {
      if (!parts.isEmpty()) lines << std::exchange(parts, {}).join(QStringLiteral(" · "));
    };
    const std::vector<FigureLine> figures = figure_lines(*s.cut, units);
    const auto add = [&](std::string_view key, const QString& called = {}) {
      for (const FigureLine& f : figures)
        if (f.key == key) parts << QStringLiteral("%1 %2").arg(called.isEmpty() ? f.symbol : called, f.text);
    };
    const bool milling = process_of(s.cut->operation) == Process::milling;
    add("vc_m_min");
    add(milling ? "fz_mm" : "fn_mm");
    if (milling) add("h_ex_mm");
    end_line();
    add("q_cm3_min");
    add("motor_power_kw");
    add("mc_nm");
    parts << label_text(label_of(s.cut->coolant));
    end_line();
    if (s.cut->report.results.force_mean_n)
      parts << tr("force %1, peak %2")
                   .arg(text_of(plain(*s.cut->report.results.force_mean_n, 0)),
                        quantity_text(s.cut->report.results.force_peak_n.value_or(0), Quantity::force, units));
    add("thrust_n", tr("thrust"));
    add("deflection_mm", tr("deflection"));
    end_line();
    for (const FigureLine& f : life_lines(*s.cut, units))
      if (f.key == "life") parts << tr("tool life %1").arg(f.text);
      else if (f.key == "cheapest") parts << tr("cheapest at %1").arg(f.text.section(QStringLiteral(", "), 0, 0));
    end_line();
    figures_->setText(lines.join(QLatin1Char('\n')));
    figures_->setToolTip(
        s.cut->is_rigid()
            ? tr("○ The holder is assumed rigid, so this is optimistic; a stiffness can be entered under Assembly")
            : QString());
  } else {
    figures_->setText(s.why_not);
    figures_->setToolTip({});
  }
  HeadroomHelp help{advice_.limit, {}};
  for (const Suggestion& change : advice_.changes) help.changes << change_text(change, units);
  if (acts_ && !s.advice_cutter.isEmpty()) help.changes << s.advice_cutter;
  static const std::vector<Headroom> nothing;
  headroom_->show_headroom(s.cut ? s.cut->report.headroom : nothing, help, units);
  what_if_->setVisible(acts_ && s.cut.has_value());
  usual_->setVisible(acts_ && s.cut && s.cut->tried);
  trail_->show_trail(s.trail, units);
  offer_->setText(s.offer);
  offer_->setVisible(acts_ && !s.offer.isEmpty());
  second_offer_->setText(s.second_offer);
  second_offer_->setVisible(acts_ && !s.second_offer.isEmpty());
  followed_->setVisible(acts_ && s.followed.size() > 1);
  if (s.followed.size() > 1) {
    followed_->set_names(s.followed);
    followed_->set_current(s.follows);
  }
  // Only what the bars below do not show.
  QStringList notes;
  static const std::vector<Message> silence;
  for (const Message& m : s.cut ? s.cut->report.messages : silence)
    if (m.code.starts_with("holder_") || m.code.starts_with("runout_") || m.code.starts_with("recipe_"))
      notes << sentence(m, units);
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

#include "moc_conditions_panel.cpp"
