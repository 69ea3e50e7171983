#include "app/tables/row_bench.h"

#include <QVBoxLayout>

#include "app/look/look.h"
#include "app/widgets/bench_head.h"
#include "app/widgets/conditions_panel.h"
#include "shop/edit.h"

namespace pecorra {

RowBench::RowBench(Workspace& workspace, RowModel& model, QWidget* parent)
    : LazyWidget(parent), workspace_(workspace), model_(model), title_(new QLabel), subtitle_(new QLabel), copy_(new QPushButton(tr("Copy to a table of our own"))), form_(new PropertyForm) {
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
  auto* page = new QWidget;
  auto* column = new QVBoxLayout(page);
  column->setContentsMargins(0, 0, 0, 0);
  column->addWidget(form_);
  column->addStretch(1);
  layout->addWidget(scrolled(page), 1);
  build();
  connect(form_, &PropertyForm::accepted, this, &RowBench::accept);
  connect(copy_, &QPushButton::clicked, this, &RowBench::copy_wanted);
  connect(&model_, &QAbstractItemModel::modelReset, this, &RowBench::update_when_seen);
  connect(&model_, &QAbstractItemModel::dataChanged, this, &RowBench::update_when_seen);
}

void RowBench::build() {
  form_->heading(tr("What it is for"));
  bool values = false, origin = false;
  for (const Property<ConditionRow>& property : properties<ConditionRow>()) {
    if (!values && property.key == "diameter_mm") {
      form_->heading(tr("Values"));
      values = true;
    }
    if (!origin && property.key == "proven") {
      form_->heading(tr("Origin"));
      origin = true;
    }
    form_->add(form_field(property, property.key == "tool_material" ? tr("any") : QString()));
  }
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
  if (!row) {
    title_->setText(tr("No row selected"));
    subtitle_->setText(model_.rowCount() ? tr("Click one to see all of it.") : tr("“Add row” makes the first one."));
    return;
  }
  const UnitSystem units = workspace_.units();
  title_->setText(tr("%1 Ø%2 · %3").arg(text_of(label_of(row->kind)), row->diameter_mm ? text_of(shown(*row->diameter_mm, Quantity::length, units)) : QStringLiteral("?"), text_of(label_of(row->operation))));
  const ConditionTable& table = *model_.table();
  QStringList parts{text_of(label_of(table.level))};
  if (!table.maker.empty()) parts << text_of(table.maker + (table.series.empty() ? "" : " " + table.series));
  if (!table.source.empty()) parts << text_of(table.source);
  subtitle_->setText(parts.join(QStringLiteral(" · ")));
  form_->set_units(units);
  std::vector<FieldChoice> materials{{QString(), tr("the whole group")}};
  for (const std::size_t i : materials_in_order(workspace_.state(), false)) materials.push_back({text_of(workspace_.state().materials[i].id.text()), text_of(workspace_.state().materials[i].name)});
  form_->set_choices(QStringLiteral("material"), materials);
  form_->fill_from(*row);
  for (const QString& key : form_->keys()) form_->set_locked(key, model_.is_editable() ? QString() : tr("Shipped rows stay as they are; “Copy to a table of our own” makes one to change"));
  form_->show_messages(model_.messages_of(*row));
}

void RowBench::accept(const QString& key, const Value& value, const QString& typed) {
  const int at = model_.row_of(row_);
  const ConditionRow* row = model_.row_at(at);
  if (!row || !model_.is_editable()) return;
  // Fields that stand in the grid too go the same way.
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
  if (key == QLatin1String("ap_per_d") && after.ap_per_d) after.ap_mm.reset(), after.typed.erase("ap_mm");
  if (key == QLatin1String("ae_per_d") && after.ae_per_d) after.ae_mm.reset(), after.typed.erase("ae_mm");
  ConditionTable changed = *model_.table();
  for (ConditionRow& r : changed.rows)
    if (r.id == row_) r = after;
  Change change;
  change.label = property.quantity == Quantity::id ? tr("%1: %2").arg(text_of(property.label), typed) : edit_label(*row, after, property, workspace_.units());
  change.edit(*model_.table(), changed);
  workspace_.shop().apply(std::move(change));
}

}  // namespace pecorra
