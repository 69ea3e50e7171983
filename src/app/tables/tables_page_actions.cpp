// Actions of the tables page: rows, tables, files and the clipboard.
#include <QApplication>
#include <QClipboard>
#include <QFileInfo>

#include "app/tables/row_preview.h"
#include "app/tables/tables_page.h"
#include "app/widgets/pick_list.h"
#include "formats/sheet/sheet_file.h"
#include "shop/recipe_edit.h"
#include "shop/row_edit.h"
#include "shop/table_sheet.h"
#include "shop/words.h"

namespace pecorra {

void TablesPage::add_row() {
  if (!model_->table() || !model_->is_editable()) return;
  show_view(rows);
  NewRow made = new_row(workspace_.state(), *model_->table(), model_->row_at(model_->row_of(current_row())),
                        workspace_.context());
  filter_->clear();
  kept_row_ = made.row;
  workspace_.shop().apply(std::move(made.change));
  select_row(made.row);
  grid_->setFocus();
  grid_->edit(grid_->currentIndex());
}

void TablesPage::delete_row() {
  const Id gone = current_row();
  if (gone.is_null() || !model_->is_editable()) return;
  const int at = model_->row_of(gone);
  const ConditionRow* next = model_->row_at(at + 1 < model_->rowCount() ? at + 1 : at - 1);
  const Id next_id = next ? next->id : Id{};
  workspace_.shop().apply(without_row(*model_->table(), gone));
  if (!next_id.is_null()) select_row(next_id);
}

void TablesPage::new_table() {
  NewTable made = pecorra::new_table(workspace_.state());
  workspace_.shop().apply(std::move(made.change));
  show_view(rows);
  model_->set_table(made.table.id);
  // Its name is entered first.
  tables_->hide();
  name_->setText(text_of(made.table.name));
  name_->show();
  name_->setFocus();
  name_->selectAll();
}

void TablesPage::rename_table(const QString& name) {
  if (const ConditionTable* table = model_->table()) workspace_.shop().apply(renamed(*table, name));
}

void TablesPage::copy_row_to_shop() {
  const ConditionRow* row = model_->row_at(model_->row_of(current_row()));
  const ConditionTable* from = model_->table();
  if (!row || !from) return;
  RowChange made = row_copied(workspace_.state(), *from, *row, workspace_.context());
  workspace_.shop().apply(std::move(made.change));
  show_row(made.target);
}

void TablesPage::delete_table() {
  const ConditionTable* table = model_->table();
  if (!table) return;
  auto change = without_table(*table);
  if (!change) return emit said(change.error(), true);
  workspace_.shop().apply(std::move(*change));
}

void TablesPage::row_from_data_sheet() {
  const Cutter* cutter = workspace_.cutter();
  const WorkMaterial* material = workspace_.material();
  if (!cutter || !material) return;
  const OperationKind operation = operation_for(workspace_.context(), cutter->kind);
  RowChange made = row_for_series(workspace_.state(), *cutter, *material, operation);
  workspace_.shop().apply(std::move(made.change));
  show_row(made.target);
  select_row(made.target.row, RowModel::n);
  emit said(tr("Type the data sheet's speed under n and its table feed under vf: the feed per tooth follows, for %1")
                .arg(text_of(cutter->name)),
            false);
  grid_->edit(grid_->currentIndex());
}

ConditionRow TablesPage::pattern_row() const {
  return pecorra::pattern_row(workspace_.state(), model_->row_at(grid_->currentIndex().row()), workspace_.context());
}

void TablesPage::preview(const QString& from, const RowSheet& sheet) {
  const ConditionTable* into = model_->table();
  auto lines = row_lines(workspace_, model_->table_id(), from, sheet);
  if (!lines || !into) return;
  QStringList unknown;
  for (const std::string& heading : sheet.unknown) unknown << QStringLiteral("“%1”").arg(text_of(heading));
  import_->show_lines(std::move(lines), tr("%1 → %2").arg(from, text_of(into->name)), from, unknown);
  show_view(importing);
  import_->table().setFocus();
}

void TablesPage::paste() {
  if (!model_->table() || !model_->is_editable())
    return emit said(tr("Shipped rows cannot be changed; paste into a shop table"), true);
  const auto sheet = read_csv(QGuiApplication::clipboard()->text().toStdString());
  if (!sheet) return emit said(tr("Copied %1").arg(reader_text(sheet.error().text)), true);
  const RowSheet headed =
      read_row_sheet(*sheet, pattern_row(), workspace_.units(), material_lookup(workspace_.state().materials.all()));
  if (headed.headed) return preview(tr("the clipboard"), headed);
  if (sheet->lines.size() == 1 && sheet->lines[0].size() == 1) {  // one cell: as if it had been typed
    const QString fault = model_->enter(grid_->currentIndex(), text_of(sheet->lines[0][0]));
    if (!fault.isEmpty()) emit said(fault, true);
    return;
  }
  paste_in_place(*sheet);
}

void TablesPage::paste_in_place(const Sheet& sheet) {
  const QModelIndex at = grid_->currentIndex();
  if (!at.isValid() && model_->rowCount() > 0) return;
  int column = at.isValid() ? at.column() : static_cast<int>(RowModel::diameter);
  while (column < RowModel::column_count && !RowModel::field_of(column)) ++column;
  std::vector<std::optional<RowField>> fields;
  for (int c = column; c < RowModel::column_count; ++c) fields.push_back(RowModel::field_of(c));
  std::vector<Id> in_sight;
  for (int r = std::max(0, at.row()); r < model_->rowCount() && in_sight.size() < sheet.lines.size(); ++r)
    in_sight.push_back(model_->row_at(r)->id);
  auto block = pasted(*model_->table(), in_sight, fields, sheet, pattern_row(), workspace_.units());
  if (block) return workspace_.shop().apply(std::move(block->change));
  const PasteFault& f = block.error();
  const QString heading =
      model_->headerData(column + static_cast<int>(f.column), Qt::Horizontal, Qt::DisplayRole).toString();
  emit said(
      tr("Nothing pasted. Line %1, %2: “%3”: %4").arg(f.line + 1).arg(heading, text_of(f.text), reader_text(f.why)),
      true);
}

void TablesPage::read_rows(const QString& file) {
  if (!model_->table() || !model_->is_editable())
    return emit said(tr("Shipped rows cannot be changed; import into a shop table"), true);
  const QString name = QFileInfo(file).fileName();
  workspace_.tasks().run(
      this, tr("Reading %1").arg(name),
      [file, base = pattern_row(), units = workspace_.units(), materials = workspace_.state().materials.all()](Task&) {
        return read_row_file(file, base, units, materials);
      },
      [this, name](const RowFile& read) {
        if (!read.fault.isEmpty()) return emit said(QStringLiteral("%1: %2").arg(name, read.fault), true);
        preview(name, read.sheet);
      });
}

void TablesPage::write_rows(const QString& file) {
  const ConditionTable* table = model_->table();
  if (!table) return;
  workspace_.tasks().run(
      this, tr("Writing %1").arg(QFileInfo(file).fileName()),
      [file, sheet = sheet_of(workspace_.state(), *table, workspace_.units())](Task&) {
        return write_sheet_file(file, sheet);
      },
      [this, name = QFileInfo(file).fileName()](const QString& fault) {
        emit said(fault.isEmpty() ? tr("%1 saved").arg(name) : fault, !fault.isEmpty());
      });
}

void TablesPage::choose_more() {
  if (!mores_) mores_ = new PickList(this);
  mores_->open(more_->mapToGlobal(QPoint(more_->width() - 360, more_->height() + 2)), 360,
               {{tr("Import rows from CSV or XLSX …"), tr("with a preview"), [this] { emit rows_file_wanted(true); }},
                {tr("Export rows as CSV or XLSX …"), QString(), [this] { emit rows_file_wanted(false); }},
                {tr("Paste a block from a spreadsheet"), QStringLiteral("Ctrl+V"), [this] { paste(); }},
                {tr("A row from a data sheet"), tr("rpm and table feed"), [this] { row_from_data_sheet(); }},
                {tr("New table"), QString(), [this] { new_table(); }},
                {tr("Delete this table"), QString(), [this] { delete_table(); }}},
               0, tr("Type to filter"));
}

}  // namespace pecorra
