#include "app/cutters/filter_chips.h"

#include <QHBoxLayout>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QSettings>
#include <charconv>

#include "app/look/look.h"
#include "app/widgets/pick_list.h"
#include "app/widgets/property_cell.h"
#include "app/widgets/sheet_painter.h"
#include "core/cutter/kinds.h"
#include "shop/words.h"

namespace pecorra {
namespace {

constexpr int most_values = 400;  // in one list; typing finds the others

bool takes_range(const Property<Cutter>& p) { return is_figure(p.quantity); }

QString key_text(const std::string& key) { return QString::fromStdString(key); }

}  // namespace

FilterChips::FilterChips(Workspace& workspace, CutterModel& model, QWidget* parent)
    : QWidget(parent), workspace_(workspace), model_(model) {
  setObjectName(QStringLiteral("filter_chips"));
  auto* layout = new QHBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(6);
  connect(&workspace_, &Workspace::context_changed, this, &FilterChips::rebuild);
  rebuild();
}

void FilterChips::set_filter(const CutterFilter& filter) {
  model_.set_filter(filter);
  rebuild();
  emit changed();
}

void FilterChips::clear() {
  if (model_.filter().has_criteria()) set_filter({});
}

void FilterChips::remove(const std::string& key) {
  CutterFilter filter = model_.filter();
  filter.values.erase(key);
  filter.ranges.erase(key);
  set_filter(filter);
}

QString FilterChips::value_label(const std::string& key, const std::string& value) const {
  if (value.empty()) return tr("not given");
  const Property<Cutter>& p = *find_property<Cutter>(key);
  for (const Choice& c : p.choices)
    if (c.key == value) return label_text(c.label);
  if (p.quantity == Quantity::id) {
    const auto id = Id::parse(value);
    if (const Library* l = id ? workspace_.state().libraries.find(*id) : nullptr) return text_of(l->name);
    if (const Insert* i = id ? workspace_.state().inserts.find(*id) : nullptr) return text_of(i->name);
    return tr("not given");
  }
  if (takes_range(p) && p.quantity != Quantity::count) {
    double number = 0;
    const auto [end, fault] = std::from_chars(value.data(), value.data() + value.size(), number);
    if (fault == std::errc()) return text_of(shown(number, p.quantity, workspace_.units()));
  }
  return text_of(value);
}

QString FilterChips::text_of_criterion(const std::string& key) const {
  const Property<Cutter>& p = *find_property<Cutter>(key);
  const CutterFilter& filter = model_.filter();
  QStringList parts;
  if (const auto values = filter.values.find(key); values != filter.values.end()) {
    for (const std::string& value : values->second) parts << value_label(key, value);
    if (parts.size() > 3) parts = QStringList{parts[0], parts[1], tr("%1 more").arg(parts.size() - 2)};
  }
  if (const auto range = filter.ranges.find(key); range != filter.ranges.end()) parts << text_of(range->second.typed);
  return QStringLiteral("%1: %2").arg(label_text(p.label), parts.join(QStringLiteral(", ")));
}

void FilterChips::rebuild() {
  while (QLayoutItem* item = layout()->takeAt(0)) {
    if (item->widget()) item->widget()->deleteLater();
    delete item;
  }
  std::set<std::string> keys;
  for (const auto& [key, values] : model_.filter().values) keys.insert(key);
  for (const auto& [key, range] : model_.filter().ranges) keys.insert(key);
  auto* box = static_cast<QHBoxLayout*>(layout());
  for (const std::string& key : keys) {
    if (!find_property<Cutter>(key)) continue;
    auto* chip = new QPushButton(text_of_criterion(key) + QStringLiteral("  ×"));
    chip->setObjectName(QStringLiteral("chip_") + key_text(key));
    chip->setAutoDefault(false);
    chip->setToolTip(tr("Click to remove, right-click to edit"));
    chip->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(chip, &QPushButton::clicked, this, [this, key] { remove(key); });
    connect(chip, &QWidget::customContextMenuRequested, this,
            [this, key, chip] { choose_values(key, chip->mapToGlobal(QPoint(0, chip->height() + 2))); });
    box->addWidget(chip);
  }
  box->addStretch(1);
}

void FilterChips::choose_property(QWidget* under) {
  if (!list_) list_ = new PickList(this);
  const QPoint at = under->mapToGlobal(QPoint(0, under->height() + 2));
  std::vector<PickItem> items;
  const auto offer = [&](std::string_view key) {
    const Property<Cutter>* p = find_property<Cutter>(key);
    if (!p || p->quantity == Quantity::id) return;
    const bool used = model_.filter().values.contains(key) || model_.filter().ranges.contains(key);
    items.push_back({label_text(p->label),
                     used              ? tr("in use")
                     : takes_range(*p) ? tr("range or values")
                                       : tr("values"),
                     [this, k = std::string(key), at] { choose_values(k, at); }});
  };
  for (const char* key : {"kind", "diameter_mm", "tool_material", "flutes", "corner_radius_mm", "reach_mm", "maker",
                          "series", "coating", "in_stock"})
    offer(key);
  for (const Property<Cutter>& p : properties<Cutter>())
    if (std::none_of(items.begin(), items.end(), [&](const PickItem& i) { return i.text == label_text(p.label); }))
      offer(p.key);
  list_->open(at, 300, std::move(items), 0, tr("Filter the list by"));
}

void FilterChips::choose_values(const std::string& key, const QPoint& at) {
  const Property<Cutter>* p = find_property<Cutter>(key);
  if (!p) return;
  if (!list_) list_ = new PickList(this);
  const auto chosen = model_.filter().values.find(key);
  const auto toggle = [this, key, at](const std::string& value) {
    CutterFilter filter = model_.filter();
    auto& values = filter.values[key];
    if (!values.erase(value)) values.insert(value);
    if (values.empty()) filter.values.erase(key);
    filter.ranges.erase(key);
    set_filter(filter);
    // More values are often added: the list stays open, with its counts unchanged.
    choose_values(key, at);
  };
  std::vector<PickItem> items;
  const auto counts = model_.value_counts(key);
  for (const auto& [value, count] : counts) {
    if (static_cast<int>(items.size()) >= most_values) break;
    const bool on = chosen != model_.filter().values.end() && chosen->second.contains(value);
    PickItem item{value_label(key, value), on ? tr("%1  ✓").arg(count) : QString::number(count),
                  [toggle, v = value] { toggle(v); }};
    if (key == "kind")
      if (const auto kind = choice_from_key<CutterKind>(value))
        item.icon = [kind = *kind](QPainter& painter, const QRectF& where) {
          draw_cutter_icon(painter, where, proposed_cutter(kind, 10), colours().accent);
        };
    items.push_back(std::move(item));
  }
  const bool range = takes_range(*p);
  list_->open(at, 300, std::move(items), 0,
              range ? tr("%1: 6 .. 12, > 10, 1/4\", or a value").arg(label_text(p->label))
                    : tr("%1: type to filter").arg(label_text(p->label)),
              range ? std::function<bool(const QString&)>([this, key, p](const QString& text) {
                const auto read = parse_range(text.toStdString(), p->quantity, workspace_.units());
                if (!read) {
                  emit said(tr("%1: %2").arg(label_text(p->label), reader_text(read.error())), true);
                  return false;
                }
                CutterFilter filter = model_.filter();
                filter.values.erase(key);
                filter.ranges[key] = *read;
                set_filter(filter);
                return true;
              })
                    : std::function<bool(const QString&)>());
  if (range) list_->prefer_free_text();
}

QString FilterChips::saved_text(const QString& words) const {
  QJsonObject values, ranges;
  for (const auto& [key, wanted] : model_.filter().values) {
    QJsonArray list;
    for (const std::string& v : wanted) list.append(text_of(v));
    values[key_text(key)] = list;
  }
  for (const auto& [key, range] : model_.filter().ranges) ranges[key_text(key)] = text_of(range.typed);
  return QString::fromUtf8(
      QJsonDocument(QJsonObject{{QStringLiteral("words"), words},
                                {QStringLiteral("values"), values},
                                {QStringLiteral("ranges"), ranges},
                                {QStringLiteral("units"),
                                 is_inch(workspace_.units()) ? QStringLiteral("inch") : QStringLiteral("mm")}})
          .toJson(QJsonDocument::Compact));
}

void FilterChips::restore(const QString& saved) {
  const QJsonObject json = QJsonDocument::fromJson(saved.toUtf8()).object();
  CutterFilter filter;
  const QJsonObject values = json[QLatin1String("values")].toObject(),
                    ranges = json[QLatin1String("ranges")].toObject();
  for (const QString& key : values.keys())
    if (find_property<Cutter>(key.toStdString()))
      for (const QJsonValue v : values[key].toArray())
        filter.values[key.toStdString()].insert(v.toString().toStdString());
  const UnitSystem units =
      json[QLatin1String("units")].toString() == QLatin1String("inch") ? UnitSystem::inch : UnitSystem::metric;
  for (const QString& key : ranges.keys())
    if (const Property<Cutter>* p = find_property<Cutter>(key.toStdString()))
      if (const auto read = parse_range(ranges[key].toString().toStdString(), p->quantity, units))
        filter.ranges[key.toStdString()] = *read;
  set_filter(filter);
  emit words_wanted(json[QLatin1String("words")].toString());
}

void FilterChips::open_saved(QWidget* under) {
  if (!list_) list_ = new PickList(this);
  const QString group = QStringLiteral("cutters/saved_filters/");
  QSettings settings;
  settings.beginGroup(QStringLiteral("cutters/saved_filters"));
  const QStringList names = settings.childKeys();
  settings.endGroup();
  std::vector<PickItem> items;
  for (const QString& name : names) {
    items.push_back({name, tr("use"), [this, group, name] { restore(QSettings().value(group + name).toString()); }});
  }
  for (const QString& name : names)
    items.push_back({tr("Delete “%1”").arg(name), {}, [this, group, name] {
                       QSettings().remove(group + name);
                       emit said(tr("Filter “%1” deleted").arg(name), false);
                     }});
  list_->open(under->mapToGlobal(QPoint(0, under->height() + 2)), 300, std::move(items), 0,
              tr("A saved filter, or a name to save this one under"), [this, group](const QString& text) {
                const QString name = text.trimmed().replace(QLatin1Char('/'), QLatin1Char('-'));
                if (name.isEmpty() || (words_.isEmpty() && !model_.filter().has_criteria())) return false;
                QSettings().setValue(group + name, saved_text(words_));
                emit said(tr("Filter saved as “%1”").arg(name), false);
                return true;
              });
}

}  // namespace pecorra

#include "moc_filter_chips.cpp"
