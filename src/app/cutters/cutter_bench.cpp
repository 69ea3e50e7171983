#include "app/cutters/cutter_bench.h"

#include <QHBoxLayout>
#include <QPushButton>
#include <QVBoxLayout>
#include <cmath>

#include "app/look/look.h"
#include "shop/words.h"

namespace pecorra {

QLabel* bench_heading(const QString& text) {
  auto* label = new QLabel(text);
  label->setFont(Look::get().text(13, true));
  const auto paint = [label] {
    QPalette palette = label->palette();
    palette.setColor(QPalette::WindowText, dyes().walnut);
    label->setPalette(palette);
  };
  paint();
  QObject::connect(&Look::get(), &Look::changed, label, paint);
  return label;
}

QWidget* switch_row(QButtonGroup*& group, const QStringList& names, QWidget* parent) {
  auto* row = new QWidget(parent);
  auto* layout = new QHBoxLayout(row);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(6);
  group = new QButtonGroup(row);
  group->setExclusive(true);
  for (int i = 0; i < names.size(); ++i) {
    auto* button = new QPushButton(names[i]);
    button->setCheckable(true);
    button->setAutoDefault(false);
    group->addButton(button, i);
    layout->addWidget(button);
  }
  layout->addStretch(1);
  group->button(0)->setChecked(true);
  return row;
}

CutterBench::CutterBench(Workspace& workspace, QWidget* parent)
    : QWidget(parent), workspace_(workspace), number_(new QLabel), title_(new QLabel), subtitle_(new QLabel), figures_(new QLabel),
      drawing_(new CutterDrawing), stack_(new QStackedWidget), headroom_(new HeadroomBars), trail_(new TrailView), form_(new CutterForm(workspace)) {
  setAutoFillBackground(true);
  setBackgroundRole(QPalette::Base);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(16, 12, 8, 6);
  layout->setSpacing(4);
  auto* head = new QHBoxLayout;
  head->setSpacing(8);
  number_->setFont(Look::get().text(13));
  title_->setFont(Look::get().text(16, true));
  title_->setObjectName(QStringLiteral("bench_title"));
  subtitle_->setFont(Look::get().text(12));
  head->addWidget(number_);
  head->addWidget(title_, 1);
  layout->addLayout(head);
  layout->addWidget(subtitle_);
  layout->addWidget(drawing_);
  auto* switches = switch_row(sides_, {tr("Conditions"), tr("Sizes")}, this);
  layout->addWidget(switches);

  auto* shown = new QWidget;
  auto* column = new QVBoxLayout(shown);
  column->setContentsMargins(0, 4, 8, 8);
  column->setSpacing(5);
  figures_->setFont(Look::get().text(12));
  figures_->setWordWrap(true);
  column->addWidget(figures_);
  column->addWidget(bench_heading(tr("Headroom")));
  column->addWidget(headroom_);
  column->addSpacing(4);
  column->addWidget(bench_heading(tr("Trail")));
  column->addWidget(trail_);
  column->addStretch(1);
  auto scrolled = [](QWidget* inside) {
    auto* area = new QScrollArea;
    area->setWidgetResizable(true);
    area->setFrameShape(QFrame::NoFrame);
    area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    area->setWidget(inside);
    area->viewport()->setAutoFillBackground(false);
    inside->setAutoFillBackground(false);
    return area;
  };
  auto* form_page = new QWidget;
  auto* form_column = new QVBoxLayout(form_page);
  form_column->setContentsMargins(0, 0, 0, 0);
  form_column->addWidget(form_);
  form_column->addStretch(1);
  stack_->addWidget(scrolled(shown));
  stack_->addWidget(scrolled(form_page));
  layout->addWidget(stack_, 1);

  connect(sides_, &QButtonGroup::idClicked, stack_, &QStackedWidget::setCurrentIndex);
  connect(trail_, &TrailView::source_clicked, this, &CutterBench::source_clicked);
  connect(drawing_, &CutterDrawing::dimension_clicked, this, [this](const QString& key) {
    show_side(sizes);
    form_->focus_field(key);
  });
  connect(form_, &CutterForm::field_focused, drawing_, &CutterDrawing::set_lit);
  connect(form_, &CutterForm::previewed, this, [this](const Cutter& cutter, std::optional<double> stickout) {
    const Assembly* assembly = workspace_.state().assembly_of(cutter.id);
    drawing_->show_cutter(&cutter, assembly ? workspace_.state().holders.find(assembly->holder) : nullptr, stickout, {}, workspace_.units());
  });
  connect(&workspace_, &Workspace::selection_changed, this, &CutterBench::refresh);
  connect(&workspace_, &Workspace::context_changed, this, &CutterBench::refresh);
  connect(&workspace_, &Workspace::data_changed, this, &CutterBench::refresh);
  connect(&Look::get(), &Look::changed, this, &CutterBench::refresh);
  refresh();
}

void CutterBench::show_side(Side side) {
  stack_->setCurrentIndex(side);
  sides_->button(side)->setChecked(true);
}

void CutterBench::refresh() {
  const Cutter* cutter = workspace_.cutter();
  const UnitSystem units = workspace_.units();
  form_->show_cutter(cutter);
  if (!cutter) {
    number_->clear();
    title_->setText(tr("No cutter"));
    subtitle_->setText(tr("Make one with “New cutter” on the left."));
    drawing_->show_cutter(nullptr, nullptr, std::nullopt, {}, units);
    headroom_->show_headroom({}, {}, units);
    trail_->show_trail({}, units);
    return;
  }
  number_->setText(QString::number(cutter->number));
  title_->setText(QString::fromStdString(cutter->name));
  QStringList what;
  for (const std::string& part : {cutter->maker + (cutter->series.empty() ? "" : " " + cutter->series), cutter->order_code})
    if (!part.empty()) what << QString::fromStdString(part);
  if (cutter->tool_material) what << text_of(label_of(*cutter->tool_material)).toLower() + (cutter->coating.empty() ? QString() : QStringLiteral(", ") + QString::fromStdString(cutter->coating));
  const Assembly* assembly = workspace_.state().assembly_of(cutter->id);
  const Holder* holder = assembly ? workspace_.state().holders.find(assembly->holder) : nullptr;
  if (holder) what << QString::fromStdString(holder->name);
  if (cutter->unit == UnitSystem::inch) what << tr("bought in inches");
  subtitle_->setText(what.join(QStringLiteral(" · ")));
  QPalette quiet = subtitle_->palette();
  quiet.setColor(QPalette::WindowText, dyes().quiet);
  subtitle_->setPalette(quiet);
  number_->setPalette(quiet);

  const auto e = workspace_.evaluation_of(*cutter);
  DrawnCut cut;
  if (e && e->resolution.found()) {
    const Conditions& c = e->resolution.conditions;
    if (!std::isnan(c.ap_mm)) cut.ap_mm = c.ap_mm;
    if (!std::isnan(c.ae_mm)) cut.ae_mm = c.ae_mm;
    cut.both_sides = workspace_.context().operation == OperationKind::slot;
    cut.hole = process_of(workspace_.context().operation) != Process::milling;
    QStringList parts;
    auto add = [&](const char* symbol, double value, Quantity quantity) {
      if (!std::isnan(value)) parts << QStringLiteral("%1 %2").arg(QLatin1String(symbol), quantity_text(value, quantity, units).replace(QLatin1Char(' '), QChar(0x00a0)));
    };
    add("vc", c.vc_m_min, Quantity::cutting_speed);
    add(process_of(workspace_.context().operation) == Process::milling ? "fz" : "fn", process_of(workspace_.context().operation) == Process::milling ? c.fz_mm : c.fn_mm, Quantity::feed_per_tooth);
    const CutResults& r = e->cut.results;
    if (r.h_ex_mm) add("hex", *r.h_ex_mm, Quantity::feed_per_tooth);
    if (r.q_cm3_min) parts << tr("Q %1 cm³/min").arg(QString::number(*r.q_cm3_min, 'f', 1));
    if (r.motor_power_kw) add("P", *r.motor_power_kw, Quantity::power);
    parts << text_of(label_of(c.coolant));
    figures_->setText(parts.join(QStringLiteral(" · ")));
    headroom_->show_headroom(e->cut.headroom, e->suggestion ? suggestion_text(*e->suggestion, units) : QString(), units);
    trail_->show_trail(e->trail, units);
  } else {
    const NoAnswer reason = e ? e->resolution.reason : NoAnswer::no_row;
    QString why = reason == NoAnswer::cannot_do
                      ? tr("Not for %1: this cutter is %2.").arg(text_of(label_of(workspace_.context().operation)), reason_text(reason, cutter->kind))
                  : reason == NoAnswer::draft ? tr("A draft: its sizes have errors, see Sizes. Jobs are not offered it.")
                                              : tr("No numbers here: %1.").arg(reason_text(reason, cutter->kind));
    figures_->setText(why);
    headroom_->show_headroom({}, {}, units);
    trail_->show_trail(e ? e->trail : Trail{}, units);
  }
  drawing_->show_cutter(cutter, holder, assembly ? assembly->stickout_mm : std::nullopt, cut, units);
}

}  // namespace pecorra
