#include "app/tables/row_bench.h"

#include <QHBoxLayout>
#include <QVBoxLayout>

#include "app/look/look.h"
#include "app/widgets/bench_head.h"
#include "app/widgets/conditions_panel.h"
#include "shop/edit.h"
#include "shop/row_edit.h"

namespace pecorra {

RowBench::RowBench(Workspace& workspace, RowModel& model, QWidget* parent)
    : LazyWidget(parent),
      workspace_(workspace),
      model_(model),
      title_(new QLabel),
      subtitle_(new QLabel),
      copy_(new QPushButton(tr("Copy to a shop table"))),
      sides_(new SwitchRow({tr("Row"), tr("Table")})),
      stack_(new QStackedWidget),
      curve_(new RowCurve),
      form_(new PropertyForm),
      table_form_(new PropertyForm) {
  auto* layout = bench_column(this);
  title_->setFont(Look::get().text(16, true));
  title_->setWordWrap(true);
  subtitle_->setFont(Look::get().text(12));
  set_tone(subtitle_, Tone::quiet);
  subtitle_->setWordWrap(true);
  copy_->setObjectName(QStringLiteral("copy_row"));
  layout->addWidget(title_);
  layout->addWidget(subtitle_);
  layout->addWidget(copy_, 0, Qt::AlignLeft);
  sides_->setObjectName(QStringLiteral("row_sides"));
  auto* switches = new QHBoxLayout;
  switches->addWidget(sides_);
  switches->addStretch(1);
  layout->addLayout(switches);
  const auto page_of = [](std::initializer_list<QWidget*> widgets) {
    auto* page = new QWidget;
    auto* column = new QVBoxLayout(page);
    column->setContentsMargins(0, 0, 0, 0);
    for (QWidget* w : widgets) column->addWidget(w);
    column->addStretch(1);
    return scrolled(page);
  };
  stack_->addWidget(page_of({curve_, form_}));
  stack_->addWidget(page_of({table_form_}));
  layout->addWidget(stack_, 1);
  connect(sides_, &SwitchRow::chosen, this, [this](int side) { show_side(static_cast<Side>(side)); });
  connect(table_form_, &PropertyForm::accepted, this, &RowBench::accept_table);
  connect(curve_, &RowCurve::row_clicked, this, &RowBench::row_wanted);
  connect(curve_, &RowCurve::dragged, this, [this](const Id& row, bool speed, double value) {
    const int at = model_.row_of(row);
    if (at < 0) return;
    const QString fault =
        model_.enter(model_.index(at, speed ? RowModel::vc : RowModel::feed),
                     text_of(shown_with_unit(value, speed ? Quantity::cutting_speed : Quantity::feed_per_tooth,
                                             workspace_.units())));
    if (!fault.isEmpty()) update_when_seen();
  });
  connect(&workspace_, &Workspace::selection_changed, this, &RowBench::update_when_seen);
  build();
  connect(form_, &PropertyForm::accepted, this, &RowBench::accept);
  connect(copy_, &QPushButton::clicked, this, &RowBench::copy_wanted);
  connect(&model_, &QAbstractItemModel::modelReset, this, &RowBench::update_when_seen);
  connect(&model_, &QAbstractItemModel::dataChanged, this, &RowBench::update_when_seen);
}

void RowBench::build() {
  // The values under the curves that they make; what is rarely asked folds.
  struct Group {
    QString heading;
    const char* fold;  // its key where it folds
    std::vector<std::string_view> keys;
  };
  const Group groups[] = {
      {tr("Values"),
       nullptr,
       {"diameter_mm", "vc_m_min", "feed_kind", "feed_mm", "ap_mm", "ap_per_d", "ae_mm", "ae_per_d", "coolant"}},
      {tr("Plunge, ramp and lead"),
       nullptr,
       {"plunge_factor", "plunge_feed_mm", "plunge_mm_min", "ramp_factor", "ramp_feed_mm", "ramp_mm_min", "ramp_n_rpm",
        "lead_factor", "lead_feed_mm", "lead_mm_min"}},
      {tr("Applies to"),
       nullptr,
       {"kind", "tool_material", "coating", "operation", "material", "group", "hardness_from_hb", "hardness_to_hb",
        "flutes", "duty"}},
      {tr("Low and high"), "row_range", {"vc_low_m_min", "vc_high_m_min", "feed_low_mm", "feed_high_mm"}},
      {tr("Valid only up to"),
       "row_valid",
       {"holds_ap_mm", "holds_ap_per_d", "holds_ae_mm", "holds_ae_per_d", "holds_length_mm", "holds_length_per_d"}},
      {tr("Finishing pass"), "row_finish", {"finish_vc_m_min", "finish_feed_mm"}},
      {tr("Tool life"), "row_life", {"life_min", "taylor_m", "taylor_feed", "taylor_depth"}},
      {tr("Origin"), nullptr, {"proven", "note", "source", "author", "date"}},
      {tr("Proven with"),
       "row_proven",
       {"proven_in", "proven_hardness_hb", "proven_on", "proven_holder", "proven_stickout_mm"}}};
  for (const Group& group : groups) {
    group.fold ? form_->folding_heading(group.heading, QString::fromLatin1(group.fold)) : form_->heading(group.heading);
    for (const std::string_view key : group.keys)
      form_->add(form_field(*find_property<ConditionRow>(key),
                            key == "tool_material" || key == "duty" ? tr("any") : QString()));
  }
  table_form_->heading(tr("The table"));
  for (const Property<ConditionTable>& property : properties<ConditionTable>()) table_form_->add(form_field(property));
}

void RowBench::show_side(Side side) {
  stack_->setCurrentIndex(side);
  sides_->set_current(side);
}

void RowBench::show_row(const Id& row) {
  if (row == row_) return;
  form_->finish_typing();
  row_ = row;
  update_when_seen();
}

void RowBench::refresh() {
  const ConditionRow* row = model_.row_at(model_.row_of(row_));
  form_->setVisible(row != nullptr);
  copy_->setVisible(row && !model_.is_editable() && !workspace_.shop().is_read_only());
  const ConditionTable* whole = model_.table();
  table_form_->setVisible(whole != nullptr);
  if (whole) {
    table_form_->set_units(workspace_.units());
    table_form_->fill_from(*whole);
    const bool shipped = whole->level == TableLevel::starter;
    for (const QString& key : table_form_->keys())
      table_form_->set_locked(key, model_.shows_rules() || (shipped && key != QLatin1String("no_factors"))
                                       ? tr("Shipped values cannot be changed")
                                       : QString());
    std::vector<FieldChoice> levels;
    for (const Choice& c : choices_of<TableLevel>())
      levels.push_back(
          {text_of(c.key), label_text(c.label), c.key == "starter" && !shipped ? tr("shipped ones only") : QString()});
    table_form_->set_choices(QStringLiteral("level"), levels);
    table_form_->fill_from(*whole);
    std::vector<Message> messages;
    if (whole->level == TableLevel::maker && whole->maker.empty())
      messages.push_back({Severity::warning, "maker_missing", "maker", {}});
    if (whole->level != TableLevel::maker && !whole->maker.empty())
      messages.push_back({Severity::warning, "maker_not_used", "maker", {}});
    table_form_->show_messages(messages);
  }
  curve_->setVisible(row != nullptr);
  refresh_curve(row);
  if (!row) {
    title_->setText(tr("No row selected"));
    subtitle_->setText(model_.rowCount() ? tr("Click a cell for details.") : tr("“Add row” makes the first one."));
    return;
  }
  const UnitSystem units = workspace_.units();
  title_->setText(
      tr("%1 Ø%2 · %3")
          .arg(label_text(label_of(row->kind)),
               row->diameter_mm ? text_of(shown(*row->diameter_mm, Quantity::length, units)) : QStringLiteral("?"),
               label_text(label_of(row->operation))));
  const ConditionTable& table = *model_.table();
  QStringList parts{label_text(label_of(table.level))};
  if (!table.maker.empty()) parts << text_of(table.maker + (table.series.empty() ? "" : " " + table.series));
  if (!table.source.empty()) parts << text_of(table.source);
  subtitle_->setText(parts.join(QStringLiteral(" · ")));
  form_->set_units(units);
  std::vector<FieldChoice> materials{{QString(), tr("the whole group")}};
  for (const std::size_t i : materials_in_order(workspace_.state(), false))
    materials.push_back(
        {text_of(workspace_.state().materials[i].id.text()), text_of(workspace_.state().materials[i].name)});
  form_->set_choices(QStringLiteral("material"), materials);
  form_->fill_from(*row);
  for (const QString& key : form_->keys())
    form_->set_locked(key, model_.is_editable()
                               ? QString()
                               : tr("Shipped rows cannot be changed; “Copy to a shop table” makes one you can edit"));
  form_->show_messages(model_.messages_of(*row));
}

void RowBench::refresh_curve(const ConditionRow* row) {
  if (!row) return;
  std::optional<double> cutter_mm;
  if (const Cutter* cutter = workspace_.cutter(); cutter && cutter->kind == row->kind)
    cutter_mm = workspace_.state().as_used(*cutter).diameter_mm;
  curve_->show_curve(model_.curve_of(*row), row->id, cutter_mm, model_.is_editable(), workspace_.units());
}

void RowBench::accept_table(const QString& key, const Value& value, const QString& typed) {
  const ConditionTable* table = model_.table();
  if (!table || model_.shows_rules()) return;
  const Property<ConditionTable>& property = *find_property<ConditionTable>(key.toStdString());
  const ConditionTable after = edited(*table, property, value, typed.toStdString(), workspace_.units());
  if (after.name.empty()) return update_when_seen();  // something without a name could not be found again
  workspace_.shop().edit(
      *table, after,
      text_of(table->name) + QStringLiteral(": ") + edit_label(*table, after, property, workspace_.units()));
}

void RowBench::accept(const QString& key, const Value& value, const QString& typed) {
  const int at = model_.row_of(row_);
  const ConditionRow* row = model_.row_at(at);
  if (!row || !model_.is_editable()) return;
  // Fields that are also in the grid are edited the same way.
  for (int column = 0; column < RowModel::column_count; ++column) {
    const auto field = RowModel::field_of(column);
    const std::string_view keys[] = {"diameter_mm", "vc_m_min", "n_rpm", "feed_mm", "vf_mm_min", "ap_mm", "ae_mm"};
    if (field && key.toStdString() == keys[static_cast<int>(*field)]) {
      model_.enter(model_.index(at, column), typed);
      return;
    }
  }
  const Property<ConditionRow>& property = *find_property<ConditionRow>(key.toStdString());
  ConditionRow after = edited(*row, property, value, typed.toStdString(), workspace_.units());
  if (key == QLatin1String("material"))
    if (const WorkMaterial* m = workspace_.state().materials.find(after.material)) after.group = m->group;
  if (key == QLatin1String("proven")) note_proof(workspace_.state(), workspace_.context(), nullptr, after);
  if (key == QLatin1String("ap_per_d") && after.ap_per_d) after.ap_mm.reset(), after.typed.erase("ap_mm");
  if (key == QLatin1String("ae_per_d") && after.ae_per_d) after.ae_mm.reset(), after.typed.erase("ae_mm");
  ConditionTable changed = *model_.table();
  for (ConditionRow& r : changed.rows)
    if (r.id == row_) r = after;
  Change change;
  change.label = property.quantity == Quantity::id ? tr("%1: %2").arg(label_text(property.label), typed)
                                                   : edit_label(*row, after, property, workspace_.units());
  change.edit(*model_.table(), changed);
  workspace_.shop().apply(std::move(change));
}

}  // namespace pecorra

#include "moc_row_bench.cpp"
