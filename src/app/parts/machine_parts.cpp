// The machines: what spindle, axes and coolant can do, with the power curve drawn.
#include <cmath>

#include "app/parts/machine_overview.h"
#include "app/parts/part_section.h"
#include "app/parts/parts_page.h"
#include "app/parts/power_curve.h"
#include "app/parts/program_parts.h"
#include "app/widgets/number_table.h"
#include "app/widgets/pick_list.h"
#include "app/widgets/switch_row.h"
#include "shop/demo.h"
#include "shop/dialects.h"
#include "shop/words.h"

namespace pecorra {
namespace {

// Both power curves, as picture and as numbers.
class CurvePanel : public PartExtra<Machine> {
 public:
  explicit CurvePanel(std::function<void(Machine, const QString&)> change)
      : change_(std::move(change)),
        which_(new SwitchRow({QObject::tr("Continuous"), QObject::tr("Short-time")})),
        side_(new SwitchRow({QObject::tr("Power"), QObject::tr("Torque")})),
        curve_(new PowerCurve),
        table_(new NumberTable(QObject::tr("Points"), QObject::tr("Point"), "power_curve",
                               {QObject::tr("Speed"), QObject::tr("Power")},
                               {Quantity::spindle_speed, Quantity::power})),
        dial_(new NumberTable(QObject::tr("Positions of a speed dial"), QObject::tr("Position"), "dial_rpm",
                              {QObject::tr("Speed")}, {Quantity::spindle_speed})) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 8, 0);
    column->setSpacing(4);
    which_->setObjectName(QStringLiteral("which_curve"));
    auto* switches = new QHBoxLayout;
    switches->addWidget(which_);
    switches->addStretch(1);
    switches->addWidget(side_);
    column->addLayout(switches);
    side_->setObjectName(QStringLiteral("power_or_torque"));
    connect(side_, &SwitchRow::chosen, this, [this](int i) { curve_->set_torque(i == 1); });
    column->addWidget(curve_);
    column->addWidget(table_);
    column->addWidget(dial_);
    dial_->set_check([](const NumberTable::Rows& rows) {
      Machine m;
      for (const auto& row : rows) m.dial_rpm.push_back(row[0]);
      const auto faults = check_machine(m);
      return faults.empty() ? QString() : sentence(faults.front(), UnitSystem::metric);
    });
    dial_->set_proposal([this](const NumberTable::Rows& rows, std::size_t place) -> std::vector<double> {
      if (rows.empty()) return {machine_.min_rpm.value_or(100)};
      if (place == 0) return {rows[0][0] / 2};
      const double last = rows[place - 1][0];
      return {place < rows.size() ? (last + rows[place][0]) / 2 : std::round(last * 1.4)};
    });
    connect(dial_, &NumberTable::accepted, this,
            [this](const NumberTable::Rows& rows, const NumberTable::Typed& typed, const QString& what) {
              Machine after = machine_;
              after.dial_rpm.clear();
              for (const auto& row : rows) after.dial_rpm.push_back(row[0]);
              after.typed = typed;
              change_(after, QObject::tr("speeds of its dial, %1").arg(what));
            });
    connect(which_, &SwitchRow::chosen, this, [this] { refresh(); });
    connect(curve_, &PowerCurve::point_clicked, this, [this](int i) { table_->table().setCurrentCell(i, 1); });
    connect(table_, &NumberTable::row_entered, curve_, &PowerCurve::set_lit);
    connect(curve_, &PowerCurve::changed, this,
            [this](const PowerCurve::Points& points, bool done, const QString& what) {
              if (done) accept(points, {}, what);
            });
    table_->set_check([](const NumberTable::Rows& rows) {
      const std::vector<Message> faults = check_power_curve(points_of(rows));
      return faults.empty() ? QString() : sentence(faults.front(), UnitSystem::metric);
    });
    table_->set_proposal([this](const NumberTable::Rows& rows, std::size_t place) -> std::vector<double> {
      if (rows.empty()) return {1500, 10};
      if (place == 0) return {rows[0][0] / 2, rows[0][1] / 2};
      const auto& last = rows[place - 1];
      return {
          place < rows.size() ? (last[0] + rows[place][0]) / 2 : std::max(last[0] + 1000, machine_.max_rpm.value_or(0)),
          last[1]};
    });
    connect(table_, &NumberTable::accepted, this,
            [this](const NumberTable::Rows& rows, const NumberTable::Typed& typed, const QString& what) {
              accept(points_of(rows), typed, what);
            });
  }
  void show_part(const Machine& machine, UnitSystem units) override {
    machine_ = machine;
    units_ = units;
    refresh();
  }

 private:
  bool peak() const { return which_->current() == 1; }
  static PowerCurve::Points points_of(const NumberTable::Rows& rows) {
    PowerCurve::Points points;
    for (const auto& row : rows) points.push_back({row[0], row[1]});
    return points;
  }
  void accept(const PowerCurve::Points& points, const std::optional<NumberTable::Typed>& typed, const QString& what) {
    Machine after = machine_;
    (peak() ? after.peak_curve : after.power_curve) = points;
    if (typed && !peak()) after.typed = *typed;
    else std::erase_if(after.typed, [](const auto& entry) { return entry.first.starts_with("power_curve"); });
    change_(after, (peak() ? QObject::tr("short-time power, %1") : QObject::tr("power, %1")).arg(what));
  }
  void refresh() {
    const PowerCurve::Points& points = peak() ? machine_.peak_curve : machine_.power_curve;
    curve_->set_units(units_);
    curve_->show_curves(machine_.power_curve, machine_.peak_curve, machine_.max_rpm.value_or(0), peak());
    NumberTable::Rows rows;
    for (const PowerPoint& p : points) rows.push_back({p.rpm, p.kw});
    table_->show_rows(rows, peak() ? NumberTable::Typed{} : machine_.typed, units_);
    QString fault;
    for (const Message& m : check_machine(machine_))
      if (fault.isEmpty() && m.property == (peak() ? "peak_curve_rpm_kw" : "power_curve_rpm_kw"))
        fault = sentence(m, units_);
    table_->say(fault);
    NumberTable::Rows speeds;
    for (const double rpm : machine_.dial_rpm) speeds.push_back({rpm});
    dial_->show_rows(speeds, machine_.typed, units_);
    dial_->say({});
  }

  std::function<void(Machine, const QString&)> change_;
  SwitchRow *which_, *side_;
  PowerCurve* curve_;
  NumberTable* table_;
  NumberTable* dial_;
  Machine machine_;
  UnitSystem units_ = UnitSystem::metric;
};

PartSpec<Machine> machine_spec(Workspace& workspace) {
  PartSpec<Machine> spec;
  spec.title = QObject::tr("Machines");
  spec.new_text = QObject::tr("New machine");
  spec.empty_text = QObject::tr("No machines yet. “New machine” makes one; speeds and feeds need one.");
  spec.all = &ShopState::machines;
  spec.columns = {"name", "min_rpm", "max_rpm", "max_feed_mm_min", "rapid_mm_min", "interface", "pockets", "duty"};
  spec.by_symbol = true;
  spec.sorted = false;
  spec.fields = {"# Spindle",
                 "name",
                 "min_rpm",
                 "max_rpm",
                 "max_torque_nm",
                 "efficiency",
                 "interface",
                 "# Axes",
                 "max_feed_mm_min",
                 "feed_x_mm_min",
                 "feed_y_mm_min",
                 "feed_z_mm_min",
                 "rapid_mm_min",
                 "rapid_z_mm_min",
                 "plunge_rule",
                 "ramp_rule",
                 "lead_rule",
                 "# Feed cap in a group",
                 "cap_p_mm_min",
                 "cap_m_mm_min",
                 "cap_k_mm_min",
                 "cap_n_mm_min",
                 "cap_s_mm_min",
                 "cap_h_mm_min",
                 "cap_wood_mm_min",
                 "cap_plastic_mm_min",
                 "cap_composite_mm_min",
                 "cap_foam_mm_min",
                 "# Coolant",
                 "flood",
                 "mist",
                 "mist_oil",
                 "air",
                 "through_liquid",
                 "through_air",
                 "# Cutters in the machine",
                 "automatic_changer",
                 "changer",
                 "pockets",
                 "measures_length",
                 "length_tolerance_mm",
                 "measures_radius",
                 "radius_tolerance_mm",
                 "checks_breakage",
                 "breakage_tolerance_mm",
                 "# Times",
                 "acceleration_mm_s2",
                 "acceleration_z_mm_s2",
                 "corner_jump_mm_min",
                 "look_ahead",
                 "block_ms",
                 "change_s",
                 "spindle_up_s",
                 "measure_s",
                 "# Work and cost",
                 "duty",
                 "max_holding_n",
                 "hourly_rate",
                 "# Control and origin",
                 "dialect",
                 "source",
                 "notes"};
  spec.fresh = [] {
    Machine m;
    m.name = QObject::tr("New machine").toStdString();
    m.min_rpm = 100;
    m.max_rpm = 10000;
    m.max_feed_mm_min = 10000;
    m.rapid_mm_min = 20000;
    m.efficiency = 0.85;
    m.flood = true;
    m.source = QObject::tr("To fill in").toStdString();
    return m;
  };
  spec.choose = [&workspace, kinds = static_cast<PickList*>(nullptr), fresh = spec.fresh](
                    QWidget* under, std::function<void(Machine)> add) mutable {
    if (!kinds) kinds = new PickList(under->window());
    std::vector<PickItem> items;
    items.push_back({QObject::tr("Empty: type its values"), QObject::tr("own"), [add, fresh] { add(fresh()); }});
    for (const Machine& m : generic_machines())
      items.push_back({text_of(m.name),
                       m.power_curve.empty()
                           ? QString()
                           : QObject::tr("%1 rpm, %2")
                                 .arg(text_of(plain(m.max_rpm.value_or(0), 0)),
                                      quantity_text(m.power_curve.back().kw, Quantity::power, workspace.units())),
                       [add, m] { add(m); }});
    kinds->open(under->mapToGlobal(QPoint(under->width() - 400, under->height() + 2)), 400, std::move(items), 0,
                QObject::tr("Custom, or like a common kind: type to filter"));
  };
  spec.check = [&workspace](const Machine& m) {
    auto messages = check_machine(m);
    if (!dialect_named(workspace.state(), m.dialect)) {
      std::string keys;
      for (const Dialect* d : dialects_of(workspace.state())) keys += (keys.empty() ? "" : ", ") + d->key;
      messages.push_back({Severity::error, "dialect_unknown", "dialect", {{"dialect", m.dialect}, {"known", keys}}});
    }
    return messages;
  };
  spec.picked = {"dialect"};
  spec.choices = [&workspace](const Machine& m, std::string_view key) {
    std::vector<FieldChoice> choices;
    if (key != "dialect") return choices;
    for (const Dialect* d : dialects_of(workspace.state())) choices.push_back({text_of(d->key), text_of(d->name)});
    if (!dialect_named(workspace.state(), m.dialect)) choices.push_back({text_of(m.dialect), text_of(m.dialect)});
    return choices;
  };
  spec.users = [&workspace](const Machine& m) {
    QStringList jobs;
    for (const JobHead& job : workspace.state().jobs)
      if (job.machine == m.id) jobs << QObject::tr("the job %1").arg(text_of(job.name));
    return jobs;
  };
  spec.subtitle = [&workspace, users = spec.users](const Machine& m) {
    QStringList what;
    const PowerPoint* most = nullptr;
    for (const PowerPoint& p : m.power_curve)
      if (!most || p.kw > most->kw) most = &p;
    if (most) what << quantity_text(most->kw, Quantity::power, workspace.units());
    const QStringList jobs = users(m);
    if (!jobs.isEmpty()) what << QObject::tr("used by %1").arg(jobs.join(QStringLiteral(", ")));
    return what.join(QStringLiteral(" · "));
  };
  spec.below = [&workspace] { return new MachineOverview(workspace); };
  spec.below_share = 3;
  spec.show_below = [](QWidget* below, const Machine* m) {
    static_cast<MachineOverview*>(below)->show_machine(m ? m->id : Id{});
  };
  spec.extra = [](std::function<void(Machine, const QString&)> change) { return new CurvePanel(std::move(change)); };
  return spec;
}

}  // namespace

PartsPage* make_machines_page(Workspace& workspace) {
  return new PartsPage(
      QObject::tr("Machines"), QObject::tr("Filter: name, notes"),
      {new PartSection<Machine>(workspace, machine_spec(workspace), QStringLiteral("machine"), nullptr),
       make_magazine_section(workspace), make_dialect_section(workspace), make_proven_section(workspace)});
}

}  // namespace pecorra
