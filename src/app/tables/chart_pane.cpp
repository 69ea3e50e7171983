#include "app/tables/chart_pane.h"

#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QVBoxLayout>

#include "app/look/look.h"
#include "app/tables/wall_chart.h"
#include "app/widgets/filter_edit.h"
#include "app/widgets/pick_list.h"
#include "app/widgets/steady_combo.h"
#include "shop/table_sheet.h"
#include "shop/task.h"
#include "shop/words.h"
#include "store/write_file.h"

namespace pecorra {

ChartPane::ChartPane(Workspace& workspace, QWidget* parent)
    : QWidget(parent),
      workspace_(workspace),
      view_(new ChartView(workspace)),
      rows_(new SwitchRow({tr("All cutters"), tr("This cutter")})),
      able_(new QPushButton(tr("Only suitable cutters"))),
      all_materials_(new QPushButton(tr("All materials"))),
      save_(new QPushButton(tr("Save"))),
      heat_(new SteadyCombo),
      filter_(new FilterEdit(tr("Filter cutters"), [this] { return view_; })) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(8);
  auto* tools = new QHBoxLayout;
  tools->setSpacing(6);
  rows_->setObjectName(QStringLiteral("chart_rows"));
  rows_->setSizePolicy(QSizePolicy::Maximum, QSizePolicy::Fixed);
  for (QPushButton* button : {able_, all_materials_}) button->setCheckable(true);
  able_->setObjectName(QStringLiteral("chart_able"));
  able_->setToolTip(tr("Hides cutters that cannot do this operation"));
  all_materials_->setObjectName(QStringLiteral("chart_all_materials"));
  all_materials_->setToolTip(tr("Include materials the shop does not cut"));
  save_->setObjectName(QStringLiteral("chart_save"));
  save_->setToolTip(tr("As a wall chart on A4 or A3, as CSV or XLSX"));
  for (const QString& name : {tr("No tint"), tr("Tint by S"), tr("Tint by F"), tr("Tint by Q"), tr("Tint by headroom")})
    heat_->addItem(name);
  heat_->setMinimumWidth(146);
  heat_->setObjectName(QStringLiteral("chart_heat"));
  heat_->setAccessibleName(tr("Cell tint"));
  filter_->setFixedWidth(130);
  filter_->setObjectName(QStringLiteral("chart_filter"));
  tools->addWidget(rows_);
  tools->addWidget(able_);
  tools->addWidget(all_materials_);
  tools->addStretch(1);
  tools->addWidget(heat_);
  tools->addWidget(filter_);
  tools->addWidget(save_);
  column->addLayout(tools);
  view_->setMinimumWidth(200);
  column->addWidget(view_, 1);
  connect(rows_, &SwitchRow::chosen, this, [this](int i) { show_rows(static_cast<ChartRows>(i)); });
  connect(able_, &QPushButton::toggled, view_, &ChartView::set_only_able);
  connect(all_materials_, &QPushButton::toggled, view_, &ChartView::set_all_materials);
  connect(heat_, &QComboBox::activated, this, [this](int i) { view_->set_heat(static_cast<Heat>(i)); });
  connect(filter_, &QLineEdit::textChanged, view_, &ChartView::set_text);
  connect(save_, &QPushButton::clicked, this, &ChartPane::choose_saving);
  connect(view_, &ChartView::counted, this, &ChartPane::counted);
}

void ChartPane::show_rows(ChartRows rows) {
  rows_->set_current(static_cast<int>(rows));
  able_->setEnabled(rows == ChartRows::cutters);
  filter_->setEnabled(rows == ChartRows::cutters);
  view_->set_rows(rows);
}

void ChartPane::set_heat(Heat heat) {
  heat_->setCurrentIndex(static_cast<int>(heat));
  view_->set_heat(heat);
}

QString ChartPane::count_text() const {
  return view_->rows() == ChartRows::cutters
             ? tr("%1 cutters × %2 materials").arg(view_->row_count()).arg(view_->column_count())
             : tr("%1 operations × %2 materials").arg(view_->row_count()).arg(view_->column_count());
}

void ChartPane::choose_saving() {
  if (!savings_) savings_ = new PickList(this);
  const auto want = [this](const char* ending, bool large) {
    return [this, ending, large] { emit file_wanted(QLatin1String(ending), large); };
  };
  savings_->open(save_->mapToGlobal(QPoint(save_->width() - 300, save_->height() + 2)), 300,
                 {{tr("Wall chart on A4"), QStringLiteral("PDF"), want("pdf", false)},
                  {tr("Wall chart on A3"), QStringLiteral("PDF"), want("pdf", true)},
                  {tr("As a spreadsheet"), QStringLiteral("XLSX"), want("xlsx", false)},
                  {tr("As text"), QStringLiteral("CSV"), want("csv", false)}},
                 0, tr("The chart as filtered here"));
}

void ChartPane::save(const QString& file, bool large) {
  const QString ending = QFileInfo(file).suffix().toLower(), name = QFileInfo(file).fileName();
  const auto tell = [this, name](const QString& fault) {
    emit said(fault.isEmpty() ? tr("%1 saved").arg(name) : fault, !fault.isEmpty());
  };
  if (!QStringList{QStringLiteral("pdf"), QStringLiteral("csv"), QStringLiteral("xlsx")}.contains(ending))
    return tell(tr("“.%1” is not a supported file type; use .pdf, .csv or .xlsx.").arg(ending));
  emit said(tr("Writing %1 …").arg(name), false);
  // Works on a copy of the shop: what is saved is what was on screen, and nothing blocks.
  const PaperLook look{Look::get().text(10), Look::get().text(10, true), Look::get().day()};
  workspace_.tasks().run(
      this, tr("Writing %1").arg(name),
      [file, ending, large, look, state = std::make_shared<const ShopState>(workspace_.state()),
       context = workspace_.context(), wish = view_->wish()](Task&) -> QString {
        const Resolver resolver(state->tables.shared(), state->resolver_options());
        ChartGrid grid;
        grid.set(*state, resolver, context, wish);
        if (ending == QLatin1String("pdf"))
          return write_file(
              file, wall_chart_pdf(wall_chart(grid, *state, context, look), large ? QPageSize::A3 : QPageSize::A4));
        return write_sheet_file(file, grid.sheet(context.units));
      },
      tell);
}

void ChartPane::focus_filter() {
  filter_->setFocus();
  filter_->selectAll();
}

}  // namespace pecorra

#include "moc_chart_pane.cpp"
