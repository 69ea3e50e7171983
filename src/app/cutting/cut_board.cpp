#include "app/cutting/cut_board.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QPainter>
#include <QShortcut>
#include <QVBoxLayout>
#include <cmath>

#include "app/look/look.h"
#include "app/widgets/property_form.h"
#include "core/quantity/print.h"
#include "shop/words.h"

namespace pecorra {
namespace {

constexpr int figure_columns = 3, figure_rows = 8;

}  // namespace

CutBoard::CutBoard(Workspace& workspace, QWidget* parent)
    : QWidget(parent),
      workspace_(workspace),
      title_(section_heading(tr("What if"), 16)),
      about_(new QLabel),
      empty_(new QLabel),
      usual_(new QPushButton(tr("Reset"))),
      keep_(new QPushButton),
      sheet_(new QPushButton(tr("Cut sheet"))),
      save_(new QPushButton(tr("Save"))),
      close_(new QPushButton(tr("Back"))),
      body_(new QWidget),
      figures_(new QGridLayout) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(16, 12, 12, 8);
  column->setSpacing(8);
  auto* head = new QHBoxLayout;
  head->addWidget(title_);
  about_->setObjectName(QStringLiteral("board_about"));
  about_->setText(tr("nothing changes until you apply it"));
  set_tone(about_, Tone::quiet);
  head->addWidget(about_);
  head->addStretch(1);
  usual_->setObjectName(QStringLiteral("as_it_comes"));
  usual_->setToolTip(tr("Discards the trial values"));
  keep_->setObjectName(QStringLiteral("keep_tried"));
  sheet_->setObjectName(QStringLiteral("cut_sheet"));
  sheet_->setToolTip(tr("All figures of this cut on one page, in mm and inch, with formulas and sources"));
  save_->setObjectName(QStringLiteral("save_curves"));
  save_->setToolTip(tr("The curves as PNG, PDF or CSV"));
  close_->setToolTip(tr("Esc"));
  for (QPushButton* b : {usual_, keep_, sheet_, save_, close_}) head->addWidget(b);
  column->addLayout(head);

  auto* inside = new QVBoxLayout(body_);
  inside->setContentsMargins(0, 0, 0, 0);
  inside->setSpacing(8);
  auto* inputs = new QHBoxLayout;
  inputs->setSpacing(14);
  for (const Property<WhatIf>& p : properties<WhatIf>()) {
    Input input{&p, new QuantityEdit(p.quantity, UnitSystem::metric), new Track, new QLabel, new QLabel, std::nullopt};
    const QString key = text_of(p.key);
    input.field->setObjectName(QStringLiteral("try_") + key);
    input.track->setObjectName(QStringLiteral("track_") + key);
    input.field->setAccessibleName(label_text(p.label));
    input.track->setAccessibleName(label_text(p.label));
    input.track->setToolTip(tr("Drag or use the arrow keys; the tick marks the table value"));
    input.field->setFixedWidth(72);
    input.name->setMinimumWidth(40);
    input.name->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    input.name->setFont(Look::get().text(12));
    input.name->setText(QStringLiteral("%1 <b>%2</b>").arg(label_text(p.label), label_text(p.symbol)));
    set_tone(input.unit, Tone::quiet);
    auto* cell = new QVBoxLayout;
    cell->setSpacing(2);
    cell->addWidget(input.name);
    auto* line = new QHBoxLayout;
    line->setSpacing(5);
    line->addWidget(input.field);
    line->addWidget(input.unit, 1);
    cell->addLayout(line);
    cell->addWidget(input.track);
    inputs->addLayout(cell, 1);
    connect(input.field, &QuantityEdit::value_typed, this,
            [this, &p, at = inputs_.size()](std::optional<double> value, const QString& text) {
              if (!value || !(*value > 0) || text.isEmpty()) return;
              inputs_[at].typed = value;
              try_value(p, value);
            });
    connect(input.field, &QuantityEdit::value_accepted, this,
            [this, &p](std::optional<double> value, const QString&) { try_value(p, value); });
    connect(input.track, &Track::moved, this, [this, &p](double value) { try_value(p, value); });
    inputs_.push_back(input);
  }
  inside->addLayout(inputs);

  figures_->setHorizontalSpacing(8);
  figures_->setVerticalSpacing(1);
  for (int i = 0; i < figure_columns * figure_rows; ++i) {
    auto *name = new QLabel, *value = new QLabel;
    name->setFont(Look::get().text(12));
    value->setFont(Look::get().text(12));
    set_tone(name, Tone::quiet);
    value->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    for (QLabel* label : {name, value})
      label->setMinimumWidth(20), label->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    const int row = i % figure_rows, at = i / figure_rows;
    figures_->addWidget(name, row, at * 3);
    figures_->addWidget(value, row, at * 3 + 1);
    figure_labels_.push_back({name, value});
  }
  for (int c = 0; c < figure_columns; ++c) {
    figures_->setColumnStretch(c * 3, 5);
    figures_->setColumnStretch(c * 3 + 1, 4);
    if (c > 0) figures_->setColumnMinimumWidth(c * 3 - 1, 26);
  }
  inside->addLayout(figures_);

  auto* grid = new QGridLayout;
  grid->setSpacing(8);
  for (int i = 0; i < static_cast<int>(curves_.size()); ++i) {
    auto* view = new CurveView(static_cast<CurveKind>(i));
    curves_[static_cast<std::size_t>(i)] = view;
    grid->addWidget(view, i / 3, i % 3);
    connect(view, &CurveView::dragged, this, [this, view](double x) {
      const auto& curve = view->curve();
      if (!curve || !cut_) return;
      // A speed is dragged as revolutions, tried as a cutting speed.
      const auto vc = cut_->report.results.vc_m_min, n = cut_->report.results.n_rpm;
      if (curve->property == "vc_m_min" && vc && n)
        try_value(*find_property<WhatIf>("vc_m_min"), *vc * std::round(x / 10) * 10 / *n);
      else if (const auto* property = find_property<WhatIf>(curve->property))
        try_value(*property, std::max(0.01, std::round(x * 100) / 100));
    });
    connect(view, &CurveView::better_wanted, view, &CurveView::dragged);
  }
  for (int i = 0; i < 3; ++i) grid->setColumnStretch(i, 1);
  inside->addLayout(grid, 1);
  column->addWidget(body_, 1);
  empty_->setAlignment(Qt::AlignCenter);
  empty_->setWordWrap(true);
  column->addWidget(empty_, 1);

  connect(close_, &QPushButton::clicked, this, &CutBoard::left);
  connect(usual_, &QPushButton::clicked, this, [this] { workspace_.try_what_if({}); });
  connect(keep_, &QPushButton::clicked, this, &CutBoard::kept);
  connect(sheet_, &QPushButton::clicked, this, &CutBoard::sheet_wanted);
  connect(save_, &QPushButton::clicked, this, &CutBoard::saving_wanted);
  auto* escape = new QShortcut(QKeySequence(Qt::Key_Escape), this, nullptr, nullptr, Qt::WidgetWithChildrenShortcut);
  connect(escape, &QShortcut::activated, this, &CutBoard::left);
}

void CutBoard::start() {
  if (inputs_.empty() || !inputs_.front().field->isVisible()) return setFocus();
  inputs_.front().field->setFocus();
  inputs_.front().field->selectAll();
}

void CutBoard::try_value(const Property<WhatIf>& property, std::optional<double> value) {
  WhatIf tried = workspace_.what_if();
  property.set(tried, value ? Value(*value) : Value(std::monostate{}));
  workspace_.try_what_if(tried);
}

void CutBoard::show_cut(const std::optional<CutInFront>& cut, const QString& why_not, bool of_job) {
  cut_ = cut;
  body_->setVisible(cut.has_value());
  empty_->setVisible(!cut);
  empty_->setText(why_not);
  for (QPushButton* b : {usual_, keep_, sheet_, save_}) b->setEnabled(cut.has_value());
  keep_->setText(of_job ? tr("Apply to the operation") : tr("Save as recipe"));
  if (!cut) return;
  usual_->setEnabled(cut->tried);
  keep_->setEnabled((!of_job || cut->tried) && !workspace_.shop().is_read_only());
  show_inputs();
  show_figures();
  const CutModel model = cut->model();
  for (int i = 0; i < static_cast<int>(curves_.size()); ++i) {
    const auto kind = static_cast<CurveKind>(i);
    curve_view(kind).show_curve(curve_of(kind, model, cut->cut, cut->report), why_no_curve(kind), cut->units);
  }
}

void CutBoard::show_inputs() {
  const Cutter& c = cut_->held.cutter;
  const double d = c.diameter_mm.value_or(10);
  const bool milling = process_of(cut_->operation) == Process::milling;
  for (const Input& in : inputs_) {
    const std::string_view key = in.property->key;
    const auto value = cut_->value_of(key), usual = cut_->value_of(key, false);
    const double here = value.value_or(1), there = usual.value_or(here);
    if (key == "ap_mm")
      in.track->set_range(0.01 * d, std::max({c.flute_length_mm.value_or(2 * d) * 1.15, here, there}), false);
    if (key == "ae_mm") in.track->set_range(0.005 * d, d, false);
    if (key == "vc_m_min") in.track->set_range(std::max(1.0, there / 5), std::max(there * 3, here), true);
    if (key == "fz_mm") in.track->set_range(std::min(here, there / 10), std::max(there * 5, here), true);
    if (key == "stickout_mm")
      in.track->set_range(std::min(here, std::max(d, c.flute_length_mm.value_or(d) * 0.8)),
                          std::max({c.overall_length_mm.value_or(6 * d) * 0.95, here, there}), false);
    const bool applies =
        (milling || key == "vc_m_min" || key == "fz_mm") && !(key == "ae_mm" && cut_->operation == OperationKind::slot);
    in.field->setEnabled(applies);
    in.track->show_value(applies ? value : std::nullopt, usual, in.property->quantity, cut_->units);
    in.unit->setText(text_of(unit_text(in.property->quantity, cut_->units)));
    in.field->set_units(cut_->units);
    // Not while it is being dragged.
    const bool typing = in.field->hasFocus() && in.field->is_changed() && in.typed && value &&
                        std::abs(*in.typed - *value) < 1e-9 * std::abs(*value);
    if (typing) continue;
    in.field->settle();
    in.field->show_value(value, {});
  }
}

void CutBoard::show_figures() {
  std::vector<FigureLine> lines = figure_lines(*cut_, cut_->units);
  for (FigureLine& line : life_lines(*cut_, cut_->units)) lines.push_back(std::move(line));
  for (std::size_t i = 0; i < figure_labels_.size(); ++i) {
    const bool used = i < lines.size();
    figure_labels_[i].first->setText(used ? lines[i].label : QString());
    // Of the best speeds the speed; the life there stands beside it when the pointer does.
    const bool best = used && (lines[i].key == "cheapest" || lines[i].key == "fastest");
    figure_labels_[i].second->setText(!used  ? QString()
                                      : best ? lines[i].text.section(QStringLiteral(", "), 0, 0)
                                             : lines[i].text);
    figure_labels_[i].second->setToolTip(
        best ? lines[i].text
        : used && lines[i].text.contains(QStringLiteral("○"))
            ? tr("○ An estimate: the holder is assumed rigid, or the exponent is the usual one")
            : QString());
  }
}

QString CutBoard::why_no_curve(CurveKind kind) const {
  const Cutter& c = cut_->held.cutter;
  const bool milling = process_of(cut_->operation) == Process::milling;
  const bool tip = kind == CurveKind::deflection || kind == CurveKind::stability;
  if ((kind == CurveKind::chip || kind == CurveKind::force || tip) && !milling &&
      !(kind == CurveKind::deflection && cut_->operation == OperationKind::bore))
    return tr("For milling only.");
  if (tip && !stickout_of(cut_->held.assembly))
    return tr("Needs a stick-out: give the cutter a holder, or type one above.");
  if (tip && !c.tool_material) return tr("Needs the tool material.");
  if (!c.flutes) return tr("Needs the number of flutes.");
  if (!ForceLaw(cut_->material).is_known())
    return tr("%1 has no cutting force stated.").arg(text_of(cut_->material.name));
  if ((kind == CurveKind::power) && !cut_->machine.efficiency)
    return tr("%1 has no efficiency stated.").arg(text_of(cut_->machine.name));
  return tr("Needs depth and width of cut.");
}

}  // namespace pecorra

#include "moc_cut_board.cpp"
