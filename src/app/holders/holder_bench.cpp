#include "app/holders/holder_bench.h"

#include <QHeaderView>
#include <QPushButton>
#include <QShortcut>
#include <QVBoxLayout>

#include "app/look/look.h"
#include "app/widgets/conditions_panel.h"
#include "core/quantity/entry.h"
#include "shop/edit.h"

namespace pecorra {

HolderBench::HolderBench(Workspace& workspace, QWidget* parent)
    : QWidget(parent), workspace_(workspace), head_(new BenchHead(QStringLiteral("holder_title"))), drawing_(new HolderDrawing), stations_(new QTableWidget), fault_(new QLabel), form_(new PropertyForm) {
  setAutoFillBackground(true);
  setBackgroundRole(QPalette::Base);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(16, 12, 8, 6);
  layout->setSpacing(4);
  layout->addWidget(head_);
  layout->addWidget(drawing_);
  auto* inside = new QWidget;
  auto* column = new QVBoxLayout(inside);
  column->setContentsMargins(0, 0, 8, 0);
  column->setSpacing(4);
  auto* row = new QHBoxLayout;
  row->addWidget(walnut_heading(tr("Stations")));
  row->addStretch(1);
  auto* add = new QPushButton(tr("Add"));
  auto* remove = new QPushButton(tr("Remove"));
  add->setObjectName(QStringLiteral("add_station"));
  remove->setObjectName(QStringLiteral("remove_station"));
  row->addWidget(add);
  row->addWidget(remove);
  column->addLayout(row);
  stations_->setObjectName(QStringLiteral("stations"));
  stations_->setAccessibleName(tr("Stations"));
  stations_->setColumnCount(2);
  stations_->verticalHeader()->setDefaultSectionSize(25);
  stations_->verticalHeader()->setMinimumWidth(26);
  stations_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
  stations_->setSelectionMode(QAbstractItemView::SingleSelection);
  stations_->setTabKeyNavigation(true);
  column->addWidget(stations_);
  fault_->setWordWrap(true);
  fault_->setFont(Look::get().text(11.5));
  set_tone(fault_, Tone::madder);
  column->addWidget(fault_);
  column->addWidget(form_);
  column->addStretch(1);
  layout->addWidget(scrolled(inside), 1);
  for (const Property<Holder>& property : properties<Holder>()) form_->add(form_field(property, property.choices.empty() ? QString() : tr("not stated")));

  connect(add, &QPushButton::clicked, this, &HolderBench::add_station);
  connect(remove, &QPushButton::clicked, this, &HolderBench::remove_station);
  connect(stations_, &QTableWidget::cellChanged, this, &HolderBench::accept_cell);
  connect(stations_, &QTableWidget::currentCellChanged, this, [this](int at) { drawing_->set_lit(at); });
  connect(drawing_, &HolderDrawing::station_clicked, this, [this](int i) { stations_->setCurrentCell(i, 1); });
  connect(drawing_, &HolderDrawing::station_dragged, this, [this](int i, double distance, double diameter, bool done) {
    const Holder* before = holder();
    if (!before || !done || static_cast<std::size_t>(i) >= before->stations.size()) return;
    Holder after = *before;
    after.stations[static_cast<std::size_t>(i)] = {distance, diameter};
    workspace_.shop().edit(*before, after, tr("Station %1: %2 at %3").arg(i + 1).arg(quantity_text(diameter, Quantity::length, workspace_.units()), quantity_text(distance, Quantity::length, workspace_.units())));
  });
  connect(form_, &PropertyForm::accepted, this, [this](const QString& key, const Value& value, const QString& typed) {
    const Holder* before = holder();
    if (!before) return;
    const Property<Holder>& property = *find_property<Holder>(key.toStdString());
    const Holder after = edited(*before, property, value, typed.toStdString(), workspace_.units());
    workspace_.shop().edit(*before, after, edit_label(*before, after, property, workspace_.units()));
  });
  connect(&workspace_, &Workspace::data_changed, this, &HolderBench::refresh);
  connect(&workspace_, &Workspace::context_changed, this, &HolderBench::refresh);
  refresh();
}

void HolderBench::show_holder(const Id& id) {
  if (id != holder_) form_->finish_typing();
  holder_ = id;
  refresh();
}

void HolderBench::refresh() {
  const Holder* h = holder();
  const UnitSystem units = workspace_.units();
  drawing_->show_holder(h, units);
  stations_->setEnabled(h != nullptr);
  form_->setVisible(h != nullptr);
  if (!h) {
    head_->say({}, tr("No holder"), tr("Make one with “New holder”."));
    filling_ = true;
    stations_->setRowCount(0);
    filling_ = false;
    fault_->clear();
    return;
  }
  QStringList what;
  if (h->machine_side) what << text_of(label_of(*h->machine_side));
  if (h->form) what << text_of(label_of(*h->form)).toLower();
  head_->say({}, text_of(h->name), what.join(QStringLiteral(" · ")));
  filling_ = true;
  const QString unit = text_of(unit_text(Quantity::length, units));
  stations_->setHorizontalHeaderLabels({tr("From the face, %1").arg(unit), tr("Diameter, %1").arg(unit)});
  stations_->setRowCount(static_cast<int>(h->stations.size()));
  for (int i = 0; i < stations_->rowCount(); ++i)
    for (int k = 0; k < 2; ++k) {
      const Station& s = h->stations[static_cast<std::size_t>(i)];
      const QString text = text_of(shown(k == 0 ? s.distance_mm : s.diameter_mm, Quantity::length, units));
      QTableWidgetItem* item = stations_->item(i, k);
      if (!item) stations_->setItem(i, k, item = new QTableWidgetItem);
      item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
      if (item->text() != text) item->setText(text);
    }
  stations_->setFixedHeight(30 + 25 * std::clamp(stations_->rowCount(), 2, 9));
  filling_ = false;
  form_->set_units(units);
  form_->fill_from(*h);
  const std::vector<Message> messages = check_holder(*h);
  QString fault;
  for (const Message& m : messages)
    if (m.property == "stations" && fault.isEmpty()) fault = sentence(m, units);
  fault_->setText(fault);
  fault_->setVisible(!fault.isEmpty());
  form_->show_messages(messages);
}

void HolderBench::accept_cell(int row, int column) {
  const Holder* before = holder();
  if (filling_ || !before || static_cast<std::size_t>(row) >= before->stations.size()) return;
  const UnitSystem units = workspace_.units();
  const QString text = stations_->item(row, column)->text().trimmed();
  const auto entry = parse_entry(text.toStdString(), Quantity::length, units);
  Holder after = *before;
  Station& s = after.stations[static_cast<std::size_t>(row)];
  if (entry) (column == 0 ? s.distance_mm : s.diameter_mm) = entry->stored;
  std::vector<Message> messages = check_holder(after);
  std::erase_if(messages, [](const Message& m) { return m.severity != Severity::error || m.property != "stations"; });
  if (!entry || !messages.empty()) {
    // What was typed stays, with what is wrong; the holder stays as it was.
    fault_->setText(entry ? sentence(messages.front(), units) : QStringLiteral("“%1”: %2").arg(text, text_of(entry.error().text)));
    fault_->show();
    return;
  }
  workspace_.shop().edit(*before, after, column == 0 ? tr("Station %1 at %2").arg(row + 1).arg(quantity_text(s.distance_mm, Quantity::length, units)) : tr("Station %1: Ø%2").arg(row + 1).arg(quantity_text(s.diameter_mm, Quantity::length, units)));
  refresh();
}

void HolderBench::add_station() {
  const Holder* before = holder();
  if (!before) return;
  Holder after = *before;
  const int at = stations_->currentRow();
  const auto place = at >= 0 && static_cast<std::size_t>(at) < after.stations.size() ? static_cast<std::size_t>(at) + 1 : after.stations.size();
  Station fresh{0, 40};
  if (place > 0) {
    const Station& last = after.stations[place - 1];
    fresh = {place < after.stations.size() ? (last.distance_mm + after.stations[place].distance_mm) / 2 : last.distance_mm + 20, last.diameter_mm};
  }
  after.stations.insert(after.stations.begin() + static_cast<std::ptrdiff_t>(place), fresh);
  workspace_.shop().edit(*before, after, tr("Station %1 added").arg(place + 1));
  stations_->setCurrentCell(static_cast<int>(place), 0);
  stations_->setFocus();
}

void HolderBench::remove_station() {
  const Holder* before = holder();
  const int at = stations_->currentRow();
  if (!before || at < 0 || static_cast<std::size_t>(at) >= before->stations.size()) return;
  Holder after = *before;
  after.stations.erase(after.stations.begin() + at);
  workspace_.shop().edit(*before, after, tr("Station %1 removed").arg(at + 1));
}

}  // namespace pecorra
