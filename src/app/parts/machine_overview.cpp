#include "app/parts/machine_overview.h"

#include <QHeaderView>
#include <QPainter>
#include <QVBoxLayout>
#include <algorithm>

#include "app/look/graph.h"
#include "app/widgets/plain_table.h"
#include "app/widgets/property_form.h"
#include "core/drawing/cutter_sheet.h"
#include "core/quantity/print.h"
#include "shop/words.h"

namespace pecorra {

// All machines that state a curve on one pair of axes; the selected one stands out.
class MachineOverview::Curves : public QWidget {
 public:
  explicit Curves(Workspace& workspace) : workspace_(workspace) {
    setMinimumHeight(150);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
    setObjectName(QStringLiteral("machine_curves"));
  }
  void show_machine(const Id& machine) {
    machine_ = machine;
    update();
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const Colours& d = colours();
    const UnitSystem units = workspace_.units();
    const double kw_per_unit = stored_per_shown(Quantity::power, units);
    double most_rpm = 0, most = 0;
    for (const Machine& m : workspace_.state().machines)
      for (const PowerPoint& point : m.power_curve) {
        most_rpm = std::max({most_rpm, point.rpm, m.max_rpm.value_or(0)});
        most = std::max(most, point.kw / kw_per_unit);
      }
    p.setFont(Look::get().text(11));
    if (most <= 0) {
      p.setPen(d.quiet);
      p.drawText(rect(), Qt::AlignCenter, QObject::tr("No machine has a power curve yet."));
      return;
    }
    const Graph g{QRectF(44, 22, width() - 72, height() - 48), 0, most_rpm, most * 1.1};
    paint_grid(p, g, 0, nice_length(most / 3), d, 1, [](double y) { return text_of(plain(y, 1)); });
    const double step = nice_length(most_rpm / 6);
    for (double rpm = 0; rpm <= most_rpm * 1.0001; rpm += step)
      p.drawText(QRectF(g.at(rpm, 0).x() - 40, g.field.bottom() + 3, 80, 16), Qt::AlignHCenter, text_of(plain(rpm, 0)));
    p.drawText(QRectF(g.field.left(), 0, width(), 16), Qt::AlignLeft,
               QObject::tr("Continuous power, %1 over rpm").arg(text_of(unit_text(Quantity::power, units))));
    double above = -100;
    for (const bool chosen : {false, true})
      for (const Machine& m : workspace_.state().machines) {
        if ((m.id == machine_) != chosen || m.power_curve.empty()) continue;
        QPolygonF line{g.at(0, 0)};
        for (const PowerPoint& point : m.power_curve) line << g.at(point.rpm, point.kw / kw_per_unit);
        if (const double end = m.max_rpm.value_or(0); end > m.power_curve.back().rpm)
          line << g.at(end, m.power_curve.back().kw / kw_per_unit);
        const QColor colour = chosen ? d.accent : d.quiet;
        p.setPen(QPen(colour, chosen ? 2.2 : 1.2));
        p.drawPolyline(line);
        // Its name at the end of the line, clear of the name before it.
        double y = line.back().y() - 18;
        if (std::abs(y - above) < 14) y = above - 14;
        above = y;
        p.setFont(Look::get().text(11, chosen));
        p.drawText(QRectF(line.back().x() - 200, y, 198, 16), Qt::AlignRight | Qt::AlignVCenter, text_of(m.name));
      }
  }

 private:
  Workspace& workspace_;
  Id machine_;
};

MachineOverview::MachineOverview(Workspace& workspace, QWidget* parent)
    : QWidget(parent),
      workspace_(workspace),
      curves_(new Curves(workspace)),
      title_(section_heading(QString())),
      jobs_(new TextModel({tr("Job"), tr("Work material"), tr("Operations")}, this, {2})),
      table_(plain_table(jobs_, QStringLiteral("machine_jobs"))) {
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 8, 0, 0);
  layout->setSpacing(6);
  layout->addWidget(curves_, 3);
  layout->addWidget(title_);
  table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
  table_->setColumnWidth(1, 200);
  layout->addWidget(table_, 2);
  connect(&workspace_, &Workspace::data_changed, this, &MachineOverview::refresh);
  connect(&workspace_, &Workspace::context_changed, curves_, qOverload<>(&QWidget::update));
}

void MachineOverview::show_machine(const Id& machine) {
  machine_ = machine;
  curves_->show_machine(machine);
  refresh();
}

void MachineOverview::refresh() {
  const Machine* machine = workspace_.state().machines.find(machine_);
  std::vector<QStringList> lines;
  for (const JobHead& job : workspace_.state().jobs) {
    if (!machine || job.machine != machine->id) continue;
    const WorkMaterial* material = workspace_.state().materials.find(job.material);
    lines.push_back({text_of(job.name), material ? text_of(material->name) : QString(),
                     QString::number(workspace_.state().operations.of(job.id).size())});
  }
  title_->setText(!machine        ? QString()
                  : lines.empty() ? tr("No jobs on %1").arg(text_of(machine->name))
                                  : tr("Jobs on %1").arg(text_of(machine->name)));
  table_->setVisible(!lines.empty());
  jobs_->set_lines(std::move(lines));
  curves_->update();
}

}  // namespace pecorra

#include "moc_machine_overview.cpp"
