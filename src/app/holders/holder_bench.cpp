#include "app/holders/holder_bench.h"

#include <QVBoxLayout>

#include "app/look/look.h"
#include "app/widgets/conditions_panel.h"
#include "shop/edit.h"

namespace pecorra {
namespace {

std::vector<Station> stations_of_rows(const NumberTable::Rows& rows) {
  std::vector<Station> stations;
  for (const auto& row : rows) stations.push_back({row[0], row[1]});
  return stations;
}

}  // namespace

HolderBench::HolderBench(Workspace& workspace, QWidget* parent)
    : QWidget(parent),
      workspace_(workspace),
      head_(new BenchHead(QStringLiteral("holder_title"))),
      drawing_(new HolderDrawing),
      stations_(new NumberTable(tr("Stations"), QStringLiteral("Station"), "stations",
                                {tr("From the face"), tr("Diameter")})),
      form_(new PropertyForm) {
  auto* layout = bench_column(this);
  layout->addWidget(head_);
  layout->addWidget(drawing_);
  auto* inside = new QWidget;
  auto* column = new QVBoxLayout(inside);
  column->setContentsMargins(0, 0, 8, 0);
  column->setSpacing(4);
  column->addWidget(stations_);
  column->addWidget(form_);
  column->addStretch(1);
  layout->addWidget(scrolled(inside), 1);
  for (const Property<Holder>& property : properties<Holder>())
    form_->add(form_field(property, property.choices.empty() ? QString() : tr("not stated")));

  stations_->set_check([this](const NumberTable::Rows& rows) {
    Holder tried;
    tried.stations = stations_of_rows(rows);
    for (const Message& m : check_holder(tried))
      if (m.severity == Severity::error && m.property == "stations") return sentence(m, workspace_.units());
    return QString();
  });
  stations_->set_proposal([](const NumberTable::Rows& rows, std::size_t place) -> std::vector<double> {
    if (place == 0) return {0, 40};
    const auto& last = rows[place - 1];
    return {place < rows.size() ? (last[0] + rows[place][0]) / 2 : last[0] + 20, last[1]};
  });
  connect(stations_, &NumberTable::accepted, this,
          [this](const NumberTable::Rows& rows, const NumberTable::Typed& typed, const QString& what) {
            const Holder* before = holder();
            if (!before) return;
            Holder after = *before;
            after.stations = stations_of_rows(rows);
            after.typed = typed;
            workspace_.shop().edit(*before, after, what);
            refresh();
          });
  connect(stations_, &NumberTable::finished, this, [this] { form_->focus_field(QStringLiteral("name")); });
  connect(stations_, &NumberTable::row_entered, drawing_, &HolderDrawing::set_lit);
  connect(drawing_, &HolderDrawing::station_clicked, this, [this](int i) { stations().setCurrentCell(i, 1); });
  connect(drawing_, &HolderDrawing::station_dragged, this, [this](int i, double distance, double diameter, bool done) {
    const Holder* before = holder();
    if (!before || !done || static_cast<std::size_t>(i) >= before->stations.size()) return;
    Holder after = *before;
    after.stations[static_cast<std::size_t>(i)] = {distance, diameter};
    for (const char* cell : {"[0]", "[1]"}) after.typed.erase("stations[" + std::to_string(i) + "]" + cell);
    workspace_.shop().edit(*before, after,
                           tr("Station %1: %2 at %3")
                               .arg(i + 1)
                               .arg(quantity_text(diameter, Quantity::length, workspace_.units()),
                                    quantity_text(distance, Quantity::length, workspace_.units())));
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
    stations_->show_rows({}, {}, units);
    stations_->say({});
    return;
  }
  QStringList what;
  if (h->machine_side) what << label_text(label_of(*h->machine_side));
  if (h->form) what << label_text(label_of(*h->form)).toLower();
  head_->say({}, text_of(h->name), what.join(QStringLiteral(" · ")));
  NumberTable::Rows rows;
  for (const Station& station : h->stations) rows.push_back({station.distance_mm, station.diameter_mm});
  stations_->show_rows(rows, h->typed, units);
  form_->set_units(units);
  form_->fill_from(*h);
  const std::vector<Message> messages = check_holder(*h);
  QString fault;
  for (const Message& m : messages)
    if (m.property == "stations" && fault.isEmpty()) fault = sentence(m, units);
  stations_->say(fault);
  form_->show_messages(messages);
}

}  // namespace pecorra

#include "moc_holder_bench.cpp"
