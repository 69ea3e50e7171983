#include "app/window/context_line.h"

#include <QFileInfo>
#include <QHBoxLayout>
#include <QPainter>

#include "app/look/look.h"
#include "app/widgets/pick_list.h"
#include "core/material/hazard.h"
#include "core/quantity/entry.h"
#include "core/quantity/print.h"
#include "shop/words.h"

namespace pecorra {

WordButton::WordButton(QWidget* parent) : QAbstractButton(parent) {
  setFont(Look::get().text(17, true));
  setCursor(Qt::PointingHandCursor);
  setFocusPolicy(Qt::StrongFocus);
  connect(&Look::get(), &Look::changed, this, qOverload<>(&QWidget::update));
}

QSize WordButton::sizeHint() const { return {fontMetrics().horizontalAdvance(text()) + 4, fontMetrics().height() + 8}; }

void WordButton::paintEvent(QPaintEvent*) {
  QPainter p(this);
  const Colours& d = colours();
  if (hasFocus() || underMouse()) p.fillRect(rect().adjusted(0, 2, 0, -2), d.lit);
  p.setPen(d.accent);
  p.drawText(rect().adjusted(2, 0, -2, 0), Qt::AlignLeft | Qt::AlignVCenter, text());
  p.setPen(QPen(d.accent, 1.2, Qt::DotLine));
  const int y = rect().center().y() + fontMetrics().height() / 2 + 1;
  p.drawLine(2, y, width() - 2, y);
}

QString group_letter(MaterialGroup group) {
  return static_cast<int>(group) < 6 ? text_of(key_of(group)) : label_text(label_of(group));
}

void draw_group_tag(QPainter& p, QRectF box, MaterialGroup group) {
  // The colours of ISO 513; our own groups are plain.
  QColor fill(0x8A7E6A), ink(Qt::white);
  switch (group) {
    case MaterialGroup::P: fill = QColor(0x2A6DB5); break;
    case MaterialGroup::M:
      fill = QColor(0xE5C21A);
      ink = QColor(0x26302F);
      break;
    case MaterialGroup::K: fill = QColor(0xC8372D); break;
    case MaterialGroup::N: fill = QColor(0x2F8A45); break;
    case MaterialGroup::S: fill = QColor(0xA4561F); break;
    case MaterialGroup::H: fill = QColor(0x6B6F72); break;
    default: break;
  }
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(Qt::NoPen);
  p.setBrush(fill);
  p.drawRoundedRect(box, 3, 3);
  p.setPen(ink);
  p.setFont(Look::get().text(11, true));
  p.drawText(box, Qt::AlignCenter, group_letter(group));
  p.restore();
}

GroupTag::GroupTag(QWidget* parent) : QWidget(parent) { setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Fixed); }
void GroupTag::set_group(MaterialGroup group) {
  group_ = group;
  setToolTip(label_text(label_of(group)));
  updateGeometry();
  update();
}
QSize GroupTag::sizeHint() const {
  const QFontMetrics metrics(Look::get().text(11, true));
  return {metrics.horizontalAdvance(group_letter(group_)) + 10, 17};
}
void GroupTag::paintEvent(QPaintEvent*) {
  QPainter p(this);
  draw_group_tag(p, QRectF(rect()), group_);
}

ContextLine::ContextLine(Workspace& workspace, QWidget* parent)
    : QWidget(parent),
      workspace_(workspace),
      material_(new WordButton),
      machine_(new WordButton),
      operation_(new WordButton),
      pace_(new WordButton),
      units_(new WordButton),
      tag_(new GroupTag),
      hazard_(new QLabel),
      joint_(new QLabel),
      list_(new PickList(this)) {
  setObjectName(QStringLiteral("context_line"));
  material_->setObjectName(QStringLiteral("context_material"));
  machine_->setObjectName(QStringLiteral("context_machine"));
  operation_->setObjectName(QStringLiteral("context_operation"));
  pace_->setObjectName(QStringLiteral("context_pace"));
  units_->setObjectName(QStringLiteral("context_units"));
  setFixedHeight(56);
  setAutoFillBackground(true);
  setBackgroundRole(QPalette::Base);
  layout_ = new QHBoxLayout(this);
  layout_->setContentsMargins(16, 0, 14, 0);
  layout_->setSpacing(6);
  auto plain = [this](const QString& text) {
    auto* label = new QLabel(text);
    label->setFont(Look::get().text(17));
    layout_->addWidget(label);
    return label;
  };
  plain(tr("Cutting"));
  layout_->addWidget(material_);
  layout_->addWidget(tag_);
  hazard_->setObjectName(QStringLiteral("context_hazard"));
  hazard_->setFont(Look::get().text(12, true));
  set_tone(hazard_, Tone::error);
  layout_->addWidget(hazard_);
  plain(tr("on"));
  layout_->addWidget(machine_);
  joint_->setFont(Look::get().text(17));
  layout_->addWidget(joint_);
  layout_->addWidget(operation_);
  plain(tr("at pace"));
  layout_->addWidget(pace_);
  layout_->addStretch(1);
  layout_->addWidget(units_);
  units_->setFont(Look::get().text(13, true));
  units_->setToolTip(tr("Units for display; stored values stay as they are (Ctrl+U: mm or inch)"));
  material_->setToolTip(tr("Work material (Alt+M)"));
  machine_->setToolTip(tr("Machine (Alt+N)"));
  operation_->setToolTip(tr("Operation, or job (Alt+O)"));
  pace_->setToolTip(tr("From careful to bold; 100 is the target (Alt+P)"));
  connect(material_, &QAbstractButton::clicked, this, &ContextLine::choose_material);
  connect(machine_, &QAbstractButton::clicked, this, &ContextLine::choose_machine);
  connect(operation_, &QAbstractButton::clicked, this, &ContextLine::choose_operation);
  connect(pace_, &QAbstractButton::clicked, this, &ContextLine::choose_pace);
  connect(units_, &QAbstractButton::clicked, this, &ContextLine::choose_units);
  connect(&workspace_, &Workspace::context_changed, this, &ContextLine::refresh);
  connect(&workspace_, &Workspace::data_changed, this, &ContextLine::refresh);
  connect(&workspace_, &Workspace::job_changed, this, &ContextLine::refresh);
  refresh();
}

void ContextLine::add_action_button(QWidget* button) { layout_->insertWidget(layout_->indexOf(units_), button); }

void ContextLine::refresh() {
  const WorkMaterial* material = workspace_.state().materials.find(workspace_.shown_material());
  const Machine* machine = workspace_.state().machines.find(workspace_.shown_machine());
  auto set = [](WordButton* button, const QString& text) {
    button->setText(text);
    button->setAccessibleName(text);
    button->updateGeometry();
    button->update();
  };
  set(material_, material ? QString::fromStdString(material->name) : tr("no material"));
  if (material) tag_->set_group(material->group);
  const auto hazard = material ? hazard_message(*material) : std::nullopt;
  hazard_->setVisible(hazard.has_value());
  if (hazard) {
    hazard_->setText(label_text(label_of(hazard_of(*material))));
    hazard_->setToolTip(sentence(*hazard, workspace_.units()));
  }
  set(machine_, machine ? QString::fromStdString(machine->name) : tr("no machine"));
  if (workspace_.program_in_front()) {
    joint_->setText(tr("· program"));
    set(operation_, QString::fromStdString(workspace_.program()->name));
  } else if (workspace_.job_in_front()) {
    joint_->setText(tr("· job"));
    set(operation_, QString::fromStdString(workspace_.job()->name));
  } else {
    joint_->setText(QStringLiteral("·"));
    set(operation_, operation_text(workspace_.context()));
  }
  set(pace_, QString::fromStdString(plain(workspace_.shown_pace(), 1)));
  const QString length = is_inch(workspace_.units()) ? tr("inch") : tr("mm");
  const bool usual = workspace_.units() == UnitSystem::metric || workspace_.units() == UnitSystem::inch;
  set(units_,
      usual ? length : length + QStringLiteral(", ") + text_of(unit_text(Quantity::table_feed, workspace_.units())));
}

void ContextLine::open_at(QWidget* under, std::vector<PickItem> items, int current, const QString& hint,
                          std::function<bool(const QString&)> free_text) {
  list_->open(under->mapToGlobal(QPoint(0, under->height() + 2)), 360, std::move(items), current, hint,
              std::move(free_text));
}

namespace {

// One line for each object of a list; also which of them is the one shown.
template <class Objects, class Detail, class Take>
std::pair<std::vector<PickItem>, int> items_of(const Objects& objects, const Id& shown, const Detail& detail,
                                               const Take& take) {
  std::vector<PickItem> items;
  int current = 0;
  for (const auto& o : objects) {
    if (o.id == shown) current = static_cast<int>(items.size());
    items.push_back({QString::fromStdString(o.name), detail(o), [take, id = o.id] { take(id); }});
  }
  return {std::move(items), current};
}

}  // namespace

void ContextLine::choose_material() {
  std::vector<WorkMaterial> materials;
  for (const std::size_t i : materials_in_order(workspace_.state(), false))
    materials.push_back(workspace_.state().materials[i]);
  auto [items, current] = items_of(
      materials, workspace_.shown_material(),
      [](const WorkMaterial& m) {
        return group_letter(m.group) + QStringLiteral("  ") + QString::fromStdString(m.designations);
      },
      [this](const Id& id) { workspace_.take_material(id); });
  open_at(material_, std::move(items), current, tr("Material: name or any designation"));
}

void ContextLine::choose_machine() {
  auto [items, current] = items_of(
      workspace_.state().machines, workspace_.shown_machine(),
      [](const Machine& m) {
        return tr("%1 to %2 rpm")
            .arg(QString::fromStdString(plain(m.min_rpm.value_or(0), 0)),
                 QString::fromStdString(plain(m.max_rpm.value_or(0), 0)));
      },
      [this](const Id& id) { workspace_.take_machine(id); });
  open_at(machine_, std::move(items), current, tr("Machine"));
}

void ContextLine::choose_operation() {
  if (workspace_.program_in_front()) {
    auto [items, current] = items_of(
        workspace_.state().programs, workspace_.program_id(),
        [](const RetunedProgram& p) { return QFileInfo(QString::fromStdString(p.file)).path(); },
        [this](const Id& id) { workspace_.select_program(id); });
    return open_at(operation_, std::move(items), current, tr("Program"));
  }
  if (workspace_.job_in_front()) {
    auto [items, current] = items_of(
        workspace_.state().jobs, workspace_.job_id(),
        [this](const JobHead& job) {
          return tr("%n operation(s)", nullptr, static_cast<int>(workspace_.state().operations.of(job.id).size()));
        },
        [this](const Id& id) { workspace_.select_job(id); });
    return open_at(operation_, std::move(items), current, tr("Job"));
  }
  std::vector<PickItem> items;
  int current = 0;
  Context each = workspace_.context();
  each.usual_work = true;
  if (workspace_.context().usual_work) current = 0;
  items.push_back({operation_text(each), tr("every cutter does what it is for"), [this] {
                     Context context = workspace_.context();
                     context.usual_work = true;
                     workspace_.set_context(context);
                   }});
  // What at least one kind that can be entered does.
  for (int i = 0; i < operation_count; ++i) {
    const auto operation = static_cast<OperationKind>(i);
    bool done = false;
    for (const CutterKind kind : cutter_kinds()) done = done || can_do(kind, operation);
    if (!done) continue;
    if (operation == workspace_.context().operation && !workspace_.context().usual_work)
      current = static_cast<int>(items.size());
    items.push_back({label_text(label_of(operation)), {}, [this, operation] {
                       Context context = workspace_.context();
                       context.operation = operation;
                       context.usual_work = false;
                       workspace_.set_context(context);
                     }});
  }
  open_at(operation_, std::move(items), current, tr("Operation"));
}

void ContextLine::choose_pace() {
  auto set = [this](double pace) { workspace_.take_pace(pace); };
  std::vector<PickItem> items;
  int current = 0;
  for (const int pace : {50, 60, 70, 80, 90, 100, 110, 120, 130}) {
    if (pace == qRound(workspace_.shown_pace())) current = static_cast<int>(items.size());
    items.push_back({QString::number(pace),
                     pace == 50    ? tr("careful")
                     : pace == 100 ? tr("the target")
                     : pace == 130 ? tr("bold")
                                   : QString(),
                     [set, pace] { set(pace); }});
  }
  open_at(pace_, std::move(items), current, tr("Pace, 10 to 200"), [set](const QString& text) {
    const auto entry = parse_entry(text.toStdString(), Quantity::number, UnitSystem::metric);
    if (!entry || entry->stored < 10 || entry->stored > 200) return false;
    set(entry->stored);
    return true;
  });
}

void ContextLine::choose_units() {
  std::vector<PickItem> items;
  int current = 0;
  for (const auto& [units, length] : {std::pair{UnitSystem::metric, tr("Millimetres")},
                                      {UnitSystem::metric_m_min, tr("Millimetres")},
                                      {UnitSystem::metric_mm_s, tr("Millimetres")},
                                      {UnitSystem::inch, tr("Inches")},
                                      {UnitSystem::inch_ft_min, tr("Inches")}}) {
    if (units == workspace_.units()) current = static_cast<int>(items.size());
    items.push_back({tr("%1, feeds in %2").arg(length, text_of(unit_text(Quantity::table_feed, units))),
                     text_of(unit_text(Quantity::cutting_speed, units)), [this, chosen = units] {
                       Context context = workspace_.context();
                       context.units = chosen;
                       workspace_.set_context(context);
                     }});
  }
  list_->open(units_->mapToGlobal(QPoint(units_->width() - 300, units_->height() + 4)), 300, std::move(items), current,
              tr("Display units"));
}

void ContextLine::toggle_units() {
  Context context = workspace_.context();
  context.units = is_inch(context.units) ? UnitSystem::metric : UnitSystem::inch;
  workspace_.set_context(context);
}

}  // namespace pecorra

#include "moc_context_line.cpp"
