#include "app/cutters/cutter_bench.h"

#include <QHBoxLayout>
#include <QVBoxLayout>
#include <cmath>

#include "app/look/look.h"
#include "shop/words.h"

namespace pecorra {

QString cutter_subtitle(const ShopState& state, const Cutter& cutter) {
  QStringList what;
  for (const std::string& part : {cutter.maker + (cutter.series.empty() ? "" : " " + cutter.series), cutter.order_code})
    if (!part.empty()) what << text_of(part);
  if (cutter.tool_material) what << text_of(label_of(*cutter.tool_material)) + (cutter.coating.empty() ? QString() : QStringLiteral(", ") + text_of(cutter.coating));
  const Assembly* assembly = state.assembly_of(cutter.id);
  if (const Holder* holder = assembly ? state.holders.find(assembly->holder) : nullptr) what << text_of(holder->name);
  if (cutter.unit == UnitSystem::inch) what << QObject::tr("bought in inches");
  return what.join(QStringLiteral(" · "));
}

DrawnCut drawn_cut(OperationKind operation, const std::optional<double>& ap_mm, const std::optional<double>& ae_mm) {
  DrawnCut cut;
  cut.ap_mm = ap_mm;
  cut.ae_mm = ae_mm;
  cut.both_sides = operation == OperationKind::slot;
  cut.hole = process_of(operation) != Process::milling;
  return cut;
}

CutterBench::CutterBench(Workspace& workspace, QWidget* parent)
    : QWidget(parent), workspace_(workspace), head_(new BenchHead(QStringLiteral("bench_title"))), drawing_(new CutterDrawing),
      stack_(new QStackedWidget), sides_(new SwitchRow({tr("Conditions"), tr("Sizes")})), conditions_(new ConditionsPanel), form_(new CutterForm(workspace)) {
  setAutoFillBackground(true);
  setBackgroundRole(QPalette::Base);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(16, 12, 8, 6);
  layout->setSpacing(4);
  layout->addWidget(head_);
  layout->addWidget(drawing_);
  layout->addWidget(sides_);
  sides_->setObjectName(QStringLiteral("bench_sides"));

  auto* form_page = new QWidget;
  auto* form_column = new QVBoxLayout(form_page);
  form_column->setContentsMargins(0, 0, 0, 0);
  form_column->addWidget(form_);
  form_column->addStretch(1);
  stack_->addWidget(scrolled(conditions_));
  stack_->addWidget(scrolled(form_page));
  layout->addWidget(stack_, 1);

  connect(sides_, &SwitchRow::chosen, this, [this](int side) { show_side(static_cast<Side>(side)); });
  connect(conditions_, &ConditionsPanel::source_clicked, this, &CutterBench::source_clicked);
  connect(drawing_, &CutterDrawing::dimension_clicked, this, [this](const QString& key) {
    show_side(sizes);
    form_->focus_field(key);
  });
  connect(drawing_, &CutterDrawing::dimension_dragged, form_, &CutterForm::drag);
  connect(drawing_, &CutterDrawing::drag_left, this, &CutterBench::refresh);
  connect(form_, &CutterForm::field_focused, drawing_, &CutterDrawing::set_lit);
  connect(form_, &CutterForm::previewed, this, [this](const Cutter& cutter, std::optional<double> stickout) {
    const Assembly* assembly = workspace_.state().assembly_of(cutter.id);
    drawing_->show_cutter(&cutter, assembly ? workspace_.state().holders.find(assembly->holder) : nullptr, stickout, {}, workspace_.units());
  });
  connect(&workspace_, &Workspace::selection_changed, this, &CutterBench::refresh);
  connect(&workspace_, &Workspace::context_changed, this, &CutterBench::refresh);
  connect(&workspace_, &Workspace::data_changed, this, &CutterBench::refresh);
  refresh();
}

void CutterBench::show_side(Side side) {
  if (side == sizes) form_->prepare();
  stack_->setCurrentIndex(side);
  sides_->set_current(side);
}

void CutterBench::refresh() {
  const Cutter* cutter = workspace_.cutter();
  const UnitSystem units = workspace_.units();
  form_->show_cutter(cutter);
  ShownConditions shown;
  if (!cutter) {
    head_->say({}, tr("No cutter"), tr("Make one with “New cutter” (Ctrl+N)."));
    drawing_->show_cutter(nullptr, nullptr, std::nullopt, {}, units);
    shown.why_not = tr("Nothing selected.");
    conditions_->show_conditions(shown, units);
    return;
  }
  head_->say(QString::number(cutter->number), text_of(cutter->name), cutter_subtitle(workspace_.state(), *cutter));
  const Assembly* assembly = workspace_.state().assembly_of(cutter->id);
  const Holder* holder = assembly ? workspace_.state().holders.find(assembly->holder) : nullptr;
  const OperationKind operation = workspace_.context().operation;
  DrawnCut cut;
  shown.operation = operation;
  if (const auto e = workspace_.evaluation_of(*cutter)) {
    shown.trail = e->trail;
    const NoAnswer reason = e->resolution.reason;
    if (e->resolution.found()) {
      cut = drawn_cut(operation, e->asked.ap_mm, e->asked.ae_mm);
      shown.report = e->cut;
      shown.coolant = e->resolution.conditions.coolant;
      shown.suggestion = e->suggestion;
    } else if (reason == NoAnswer::cannot_do) {
      shown.why_not = tr("Not for %1: this cutter is %2.").arg(text_of(label_of(operation)), reason_text(reason, cutter->kind));
    } else if (reason == NoAnswer::draft) {
      shown.why_not = tr("A draft: its sizes have errors, see Sizes. Jobs are not offered it.");
    } else {
      shown.why_not = tr("No numbers here: %1.").arg(reason_text(reason, cutter->kind));
    }
  } else {
    shown.why_not = tr("Numbers need a material and a machine.");
  }
  conditions_->show_conditions(shown, units);
  drawing_->show_cutter(cutter, holder, assembly ? assembly->stickout_mm : std::nullopt, cut, units);
}

}  // namespace pecorra
