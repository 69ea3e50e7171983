#include "app/tables/compare_view.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QVBoxLayout>
#include <cmath>

#include "app/widgets/plain_table.h"
#include "app/widgets/property_cell.h"
#include "app/widgets/steady_combo.h"
#include "core/tables/row_sheet.h"
#include "core/transfer/difference.h"

namespace pecorra {
namespace {

// "+12 %" from the left to the right.
QString by_how_much(const Value& a, const Value& b) {
  const double *x = std::get_if<double>(&a), *y = std::get_if<double>(&b);
  if (!x || !y || *x == 0) return {};
  const double percent = (*y / *x - 1) * 100;
  return QStringLiteral("%1%2 %").arg(percent > 0 ? QStringLiteral("+") : QStringLiteral("−"),
                                      text_of(plain(std::abs(percent), std::abs(percent) < 10 ? 1 : 0)));
}

// A percentage of a flute count or an angle is meaningless.
bool telling(Quantity q) { return q != Quantity::count && q != Quantity::angle; }

QString with_unit(const QString& text, Quantity quantity, UnitSystem units) {
  const std::string unit = is_figure(quantity) ? unit_text(quantity, units) : std::string();
  return text.isEmpty() || unit.empty() ? text
         : quantity == Quantity::angle  ? text + text_of(unit)
                                        : text + QChar(0xa0) + text_of(unit);
}

}  // namespace

CompareView::CompareView(Workspace& workspace, QWidget* parent)
    : QWidget(parent),
      workspace_(workspace),
      kinds_(new SwitchRow({tr("Cutters"), tr("Materials"), tr("Tables")})),
      left_(new SteadyCombo),
      right_(new SteadyCombo),
      swap_(new QPushButton(tr("Swap sides"))),
      only_(new QPushButton(tr("Only what differs"))),
      summary_(new QLabel),
      model_(new TextModel({QString(), QString(), QString(), QString()}, this, {3})),
      view_(plain_table(model_, QStringLiteral("compare_table"))) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(8);
  auto* head = new QHBoxLayout;
  head->setSpacing(6);
  kinds_->setObjectName(QStringLiteral("compare_kinds"));
  left_->setObjectName(QStringLiteral("compare_left"));
  right_->setObjectName(QStringLiteral("compare_right"));
  left_->setAccessibleName(tr("Left"));
  right_->setAccessibleName(tr("Right"));
  only_->setCheckable(true);
  only_->setObjectName(QStringLiteral("compare_only"));
  swap_->setObjectName(QStringLiteral("compare_swap"));
  head->addWidget(kinds_);
  head->addStretch(1);
  head->addWidget(swap_);
  head->addWidget(only_);
  column->addLayout(head);
  auto* sides = new QHBoxLayout;
  sides->setSpacing(6);
  sides->addWidget(left_, 1);
  sides->addWidget(right_, 1);
  column->addLayout(sides);
  set_tone(summary_, Tone::quiet);
  summary_->setObjectName(QStringLiteral("compare_summary"));
  column->addWidget(summary_);
  view_->setColumnWidth(0, 210);
  view_->setColumnWidth(3, 76);
  view_->horizontalHeader()->setSectionResizeMode(1, QHeaderView::Stretch);
  view_->horizontalHeader()->setSectionResizeMode(2, QHeaderView::Stretch);
  column->addWidget(view_, 1);
  connect(kinds_, &SwitchRow::chosen, this, [this](int i) {
    kind_ = static_cast<Kind>(i);
    fill_choices();
    refresh();
  });
  for (QComboBox* box : {left_, right_}) connect(box, &QComboBox::activated, this, &CompareView::refresh);
  connect(swap_, &QPushButton::clicked, this, [this] {
    const int at = left_->currentIndex();
    left_->setCurrentIndex(right_->currentIndex());
    right_->setCurrentIndex(at);
    refresh();
  });
  connect(only_, &QPushButton::toggled, this, &CompareView::refresh);
  const auto again = [this] {
    stale_ = true;
    if (!isVisible()) return;
    fill_choices();
    refresh();
  };
  connect(&workspace_, &Workspace::data_changed, this, again);
  connect(&workspace_, &Workspace::context_changed, this, again);
}

void CompareView::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  if (!stale_) return;
  fill_choices();
  refresh();
}

void CompareView::compare(Kind kind, const Id& left, const Id& right) {
  kind_ = kind;
  kinds_->set_current(kind);
  fill_choices();
  left_->setCurrentIndex(left_->findData(text_of(left.text())));
  right_->setCurrentIndex(right_->findData(text_of(right.text())));
  refresh();
}

void CompareView::fill_choices() {
  filling_ = true;
  const QVariant kept[] = {left_->currentData(), right_->currentData()};
  const ShopState& state = workspace_.state();
  std::vector<std::pair<QString, QString>> items;
  if (kind_ == cutters)
    for (const Cutter& c : state.cutters)
      items.emplace_back(QStringLiteral("%1  %2").arg(c.number).arg(text_of(c.name)), text_of(c.id.text()));
  else if (kind_ == materials)
    for (const std::size_t i : materials_in_order(state, false))
      items.emplace_back(text_of(state.materials[i].name), text_of(state.materials[i].id.text()));
  else
    for (const ConditionTable& t : state.tables) items.emplace_back(text_of(t.name), text_of(t.id.text()));
  int side = 0;
  for (QComboBox* box : {left_, right_}) {
    box->clear();
    for (const auto& [text, id] : items) box->addItem(text, id);
    int at = box->findData(kept[side]);
    // The current one, and the next.
    if (at < 0) {
      const Id now = kind_ == cutters     ? workspace_.cutter_id()
                     : kind_ == materials ? workspace_.context().material
                                          : Id{};
      at = std::max(0, box->findData(text_of(now.text())));
      if (side == 1) at = at + 1 < box->count() ? at + 1 : std::max(0, at - 1);
    }
    box->setCurrentIndex(at);
    ++side;
  }
  filling_ = false;
}

std::vector<CompareView::Line> CompareView::cutter_lines(const Cutter& a, const Cutter& b) const {
  const UnitSystem units = workspace_.units();
  std::vector<Line> lines;
  // First the speed and feed.
  const auto left = workspace_.evaluation_of(a), right = workspace_.evaluation_of(b);
  const auto figure = [&](const QString& label, Quantity quantity, auto&& get) {
    const auto value = [&](const std::optional<Evaluation>& e) -> Value {
      const double v = e && e->resolution.found() ? get(*e) : not_given;
      return std::isnan(v) ? Value{} : Value{v};
    };
    const Value x = value(left), y = value(right);
    const auto text = [&](const Value& v) {
      return std::holds_alternative<double>(v) ? text_of(shown_with_unit(std::get<double>(v), quantity, units))
                                               : QString();
    };
    if (text(x).isEmpty() && text(y).isEmpty()) return;
    lines.push_back({label, text(x), text(y), by_how_much(x, y), !same_value(x, y)});
  };
  const auto or_none = [](const std::optional<double>& v) { return v.value_or(not_given); };
  figure(tr("S, spindle speed"), Quantity::spindle_speed,
         [](const Evaluation& e) { return e.resolution.conditions.n_rpm; });
  figure(tr("F, table feed"), Quantity::table_feed,
         [](const Evaluation& e) { return e.resolution.conditions.vf_mm_min; });
  figure(tr("Depth of cut"), Quantity::length, [](const Evaluation& e) { return e.resolution.conditions.ap_mm; });
  figure(tr("Width of cut"), Quantity::length, [](const Evaluation& e) { return e.resolution.conditions.ae_mm; });
  figure(tr("Removal rate"), Quantity::removal_rate,
         [&](const Evaluation& e) { return or_none(e.cut.results.q_cm3_min); });
  figure(tr("Motor power"), Quantity::power,
         [&](const Evaluation& e) { return or_none(e.cut.results.motor_power_kw); });
  for (const Property<Cutter>& p : properties<Cutter>()) {
    if (p.quantity == Quantity::id) continue;
    const QString x = cell_text(a, p, units), y = cell_text(b, p, units);
    if (x.isEmpty() && y.isEmpty()) continue;
    lines.push_back({label_text(p.label), with_unit(x, p.quantity, units), with_unit(y, p.quantity, units),
                     telling(p.quantity) ? by_how_much(p.get(a), p.get(b)) : QString(),
                     !same_value(p.get(a), p.get(b))});
  }
  return lines;
}

std::vector<CompareView::Line> CompareView::material_lines(const WorkMaterial& a, const WorkMaterial& b) const {
  const UnitSystem units = workspace_.units();
  std::vector<Line> lines;
  if (const Cutter* cutter = workspace_.cutter()) {
    const Resolution x = workspace_.resolution_of(*cutter, a), y = workspace_.resolution_of(*cutter, b);
    const auto figure = [&](const QString& label, Quantity quantity, double left, double right) {
      const auto value = [](double v) { return std::isnan(v) ? Value{} : Value{v}; };
      const auto text = [&](const Resolution& r, double v) {
        return r.found() ? text_of(shown_with_unit(v, quantity, units)) : reason_text(r.reason, cutter->kind);
      };
      lines.push_back({label, text(x, left), text(y, right), by_how_much(value(left), value(right)),
                       text(x, left) != text(y, right)});
    };
    figure(tr("S of %1").arg(text_of(cutter->name)), Quantity::spindle_speed, x.conditions.n_rpm, y.conditions.n_rpm);
    figure(tr("F of %1").arg(text_of(cutter->name)), Quantity::table_feed, x.conditions.vf_mm_min,
           y.conditions.vf_mm_min);
  }
  for (const Property<WorkMaterial>& p : properties<WorkMaterial>()) {
    const QString x = cell_text(a, p, units), y = cell_text(b, p, units);
    if (x.isEmpty() && y.isEmpty()) continue;
    lines.push_back({label_text(p.label), with_unit(x, p.quantity, units), with_unit(y, p.quantity, units),
                     telling(p.quantity) ? by_how_much(p.get(a), p.get(b)) : QString(),
                     !same_value(p.get(a), p.get(b))});
  }
  return lines;
}

// Rows with the same key are grouped.
std::vector<CompareView::Line> CompareView::table_lines(const ConditionTable& a, const ConditionTable& b) const {
  const UnitSystem units = workspace_.units();
  std::vector<Line> lines;
  const auto what = [&](const ConditionRow& r) {
    const WorkMaterial* m = workspace_.state().materials.find(r.material);
    return QStringLiteral("%1 Ø%2 · %3 · %4%5")
        .arg(label_text(label_of(r.kind)),
             r.diameter_mm ? text_of(shown(*r.diameter_mm, Quantity::length, units)) : QStringLiteral("?"),
             label_text(label_of(r.operation)), m ? text_of(m->name) : text_of(key_of(r.group)),
             r.tool_material ? QStringLiteral(" · ") + label_text(label_of(*r.tool_material)) : QString());
  };
  const auto values = [&](const ConditionRow& r) {
    QStringList parts;
    if (r.vc_m_min) parts << tr("vc %1").arg(quantity_text(*r.vc_m_min, Quantity::cutting_speed, units));
    if (r.feed_mm) parts << tr("f %1").arg(quantity_text(*r.feed_mm, Quantity::feed_per_tooth, units));
    for (const RowField field : {RowField::ap, RowField::ae})
      if (const std::string text = shown_entry(r, field, units); !text.empty())
        parts << QStringLiteral("%1 %2").arg(field == RowField::ap ? QStringLiteral("ap") : QStringLiteral("ae"),
                                             text_of(text));
    if (r.proven) parts << tr("proven");
    return parts.join(QStringLiteral("   "));
  };
  std::vector<bool> seen(b.rows.size(), false);
  for (const ConditionRow& row : a.rows) {
    const ConditionRow* other = nullptr;
    for (std::size_t i = 0; i < b.rows.size() && !other; ++i)
      if (!seen[i] && same_row(row, b.rows[i])) other = &b.rows[i], seen[i] = true;
    const auto value = [](const std::optional<double>& v) { return v ? Value{*v} : Value{}; };
    lines.push_back({what(row), values(row), other ? values(*other) : QString(),
                     other ? by_how_much(value(row.vc_m_min), value(other->vc_m_min)) : QString(),
                     !other || values(row) != values(*other)});
    if (other && same_value(value(row.vc_m_min), value(other->vc_m_min))) lines.back().more.clear();
  }
  for (std::size_t i = 0; i < b.rows.size(); ++i)
    if (!seen[i]) lines.push_back({what(b.rows[i]), {}, values(b.rows[i]), {}, true});
  return lines;
}

void CompareView::refresh() {
  if (filling_) return;
  stale_ = false;
  const ShopState& state = workspace_.state();
  const Id left = Id::parse(left_->currentData().toString().toStdString()).value_or(Id{}),
           right = Id::parse(right_->currentData().toString().toStdString()).value_or(Id{});
  std::vector<Line> lines;
  if (const Cutter* a = state.cutters.find(left), *b = state.cutters.find(right); kind_ == cutters && a && b)
    lines = cutter_lines(*a, *b);
  if (const WorkMaterial* a = state.materials.find(left), *b = state.materials.find(right);
      kind_ == materials && a && b)
    lines = material_lines(*a, *b);
  if (const ConditionTable* a = state.tables.find(left), *b = state.tables.find(right); kind_ == tables && a && b)
    lines = table_lines(*a, *b);
  const auto differing = std::count_if(lines.begin(), lines.end(), [](const Line& l) { return l.differs; });
  summary_->setText(lines.empty()   ? tr("Choose two to compare.")
                    : left == right ? tr("Both sides are the same.")
                                    : tr("%1 of %2 differ").arg(differing).arg(lines.size()));
  if (only_->isChecked()) std::erase_if(lines, [](const Line& l) { return !l.differs; });
  std::vector<QStringList> texts;
  std::map<std::pair<int, int>, Tone> lit;
  for (const Line& l : lines) {
    const int row = static_cast<int>(texts.size());
    if (l.differs) lit[{row, 1}] = lit[{row, 2}] = Tone::accent;
    texts.push_back({l.label, l.left, l.right, l.differs ? l.more : QString()});
  }
  model_->set_headings(
      {kind_ == tables ? tr("Row") : tr("Property"), left_->currentText(), right_->currentText(), tr("Change")});
  model_->set_lines(std::move(texts), std::move(lit));
  view_->setColumnWidth(0, kind_ == tables ? 330 : 210);
}

}  // namespace pecorra

#include "moc_compare_view.cpp"
