// Actions of the cutters page: new, copy, move, change, import and review.
#include <QFileInfo>
#include <QVBoxLayout>

#include "app/cutters/bulk_change.h"
#include "app/cutters/cutter_import.h"
#include "app/cutters/cutters_page.h"
#include "app/cutters/shared_lines.h"
#include "app/widgets/pick_list.h"
#include "app/widgets/property_form.h"
#include "shop/cutter_edit.h"
#include "shop/number_plan.h"
#include "shop/words.h"

namespace pecorra {

void CuttersPage::new_cutter() {
  std::vector<PickItem> items;
  int current = 0;
  for (const CutterKind kind : cutter_kinds()) {
    if (workspace_.cutter() && workspace_.cutter()->kind == kind) current = static_cast<int>(items.size());
    items.push_back(
        {label_text(label_of(kind)), reason_text(NoAnswer::cannot_do, kind), [this, kind] { make_cutter(kind); }});
  }
  if (!actions_) actions_ = new PickList(this);
  actions_->open(new_->mapToGlobal(QPoint(new_->width() - 300, new_->height() + 2)), 300, std::move(items), current,
                 tr("Kind of the new cutter"));
}

void CuttersPage::make_cutter(CutterKind kind) {
  MadeCutter made = new_cutter_of(workspace_.state(), kind, target_library(), workspace_.units());
  filter_->clear();
  workspace_.shop().apply(std::move(made.change));
  workspace_.select_cutter(made.cutter);
  emit cutter_made();
}

void CuttersPage::copy_cutter() {
  const std::vector<Id> originals = selected();
  if (originals.empty() || !workspace_.cutter()) return;
  Change change =
      copy_cutters(workspace_.state(), originals, workspace_.state().cutters.find(originals.front())->library);
  std::vector<Id> copies;
  for (const ObjectChange& o : change.objects)
    if (o.kind == ObjectKind::cutter) copies.push_back(o.id);
  workspace_.shop().apply(std::move(change));
  if (copies.empty()) return;
  select(copies);
  if (copies.size() == 1) emit cutter_made();
}

void CuttersPage::delete_cutter() {
  const std::vector<Id> gone = selected();
  if (gone.empty()) return;
  const int row = model_->row_of(gone.front());
  workspace_.shop().apply(delete_cutters(workspace_.state(), gone));
  if (const Cutter* next = model_->cutter_at(std::clamp(row, 0, std::max(0, model_->rowCount() - 1))))
    workspace_.select_cutter(next->id);
}

void CuttersPage::move_selected(const Id& library, bool copy) {
  const std::vector<Id> cutters = selected();
  Change change =
      copy ? copy_cutters(workspace_.state(), cutters, library) : move_cutters(workspace_.state(), cutters, library);
  if (change.empty()) return emit said(tr("They are in that library already"), false);
  workspace_.shop().apply(std::move(change));
}

void CuttersPage::choose_target(bool copy) {
  const std::vector<Id> cutters = selected();
  if (cutters.empty()) return;
  if (!actions_) actions_ = new PickList(this);
  std::vector<PickItem> items;
  for (const Library& l : workspace_.state().libraries) {
    int renumbered = 0;
    for (const Moved& m : plan_move(workspace_.state(), cutters, l.id))
      renumbered += m.number != workspace_.state().cutters[m.cutter].number;
    items.push_back({text_of(l.name), renumbered ? tr("%1 will be renumbered").arg(renumbered) : tr("numbers stay"),
                     [this, id = l.id, copy] { move_selected(id, copy); }});
  }
  items.push_back({tr("New library …"), {}, [this] { libraries_->new_library(); }});
  const QPoint at =
      table_->viewport()->mapToGlobal(QPoint(120, std::max(20, table_->visualRect(table_->currentIndex()).bottom())));
  const QString what = cutters.size() == 1 ? text_of(workspace_.state().cutters.find(cutters.front())->name)
                                           : tr("%1 cutters").arg(cutters.size());
  actions_->open(at, 330, std::move(items), 0, copy ? tr("Copy %1 to").arg(what) : tr("Move %1 to").arg(what));
}

void CuttersPage::mark_favourites() { workspace_.shop().apply(toggled_favourites(workspace_.state(), selected())); }

void CuttersPage::show_next_to_look_at() {
  const auto next = next_to_look_at(workspace_.state(), workspace_.cutter_id());
  if (!next) return;
  show_cutter(*next);
  emit open_sizes();
}

void CuttersPage::add_page(View view, const QString& heading, QWidget* content) {
  auto* page = new QWidget;
  auto* column = new QVBoxLayout(page);
  column->setContentsMargins(16, 12, 12, 8);
  column->setSpacing(8);
  column->addWidget(section_heading(heading, 16));
  column->addWidget(content, 1);
  stack_->addWidget(page);
  view_pages_[view] = page;
}

CutterImport& CuttersPage::import() {
  if (!import_) {
    import_ = new CutterImport(workspace_);
    add_page(importing, tr("Import cutters"), import_);
    connect(import_, &CutterImport::started, this, [this] { show_view(importing); });
    connect(import_, &CutterImport::done, this, [this] { show_view(list); });
    connect(import_, &CutterImport::said, this, &CuttersPage::said);
  }
  return *import_;
}

BulkChange& CuttersPage::bulk() {
  if (!bulk_) {
    bulk_ = new BulkChange(workspace_);
    add_page(changing, tr("Change several"), bulk_);
    connect(bulk_, &BulkChange::done, this, [this] { show_view(list); });
    connect(bulk_, &BulkChange::said, this, &CuttersPage::said);
  }
  return *bulk_;
}

ChangePreview& CuttersPage::shared_changes() {
  if (!shared_changes_) {
    shared_changes_ = new ChangePreview(workspace_);
    add_page(sharing, tr("Changed outside"), shared_changes_);
    connect(shared_changes_, &ChangePreview::done, this, [this] {
      show_view(list);
      shared_->look();
    });
    connect(shared_changes_, &ChangePreview::said, this, &CuttersPage::said);
  }
  return *shared_changes_;
}

void CuttersPage::look_at_shared(const Id& library) {
  const SharedLibrary* shared = shared_->shared(library);
  auto lines = shared_lines(workspace_, *shared_, library);
  if (!shared || !lines) {
    const QString fault = shared ? shared_->fault(library) : QString();
    return emit said(!shared           ? tr("This library is not shared")
                     : fault.isEmpty() ? tr("Nothing to review: shop and file are the same")
                                       : fault,
                     !fault.isEmpty());
  }
  const QString file = QFileInfo(text_of(shared->file)).fileName();
  shared_changes().show_lines(std::move(lines),
                              tr("%1 → %2").arg(file, text_of(workspace_.state().libraries.find(library)->name)), file);
  show_view(sharing);
  shared_changes_->table().setFocus();
}

void CuttersPage::show_view(View view) {
  view_ = view;
  stack_->setCurrentWidget(view_pages_[view]);
  if (view == list) table_->setFocus();
}

void CuttersPage::change_many() {
  const std::vector<Id> cutters = selected();
  if (cutters.empty()) return;
  bulk().open(cutters);
  show_view(changing);
}

void CuttersPage::free_numbers() {
  std::vector<Id> cutters = selected();
  if (cutters.size() < 2) {
    cutters = shown();
  }
  bulk().open_numbers(std::move(cutters));
  show_view(changing);
}

void CuttersPage::import_file(const QString& file, const std::optional<Id>& library) {
  import().read(file, library ? library : model_->library());
}

void CuttersPage::open_actions() {
  if (!actions_) actions_ = new PickList(this);
  const auto count = selected().size();
  if (count == 0) return;
  const QString many = count > 1 ? tr("%1 cutters").arg(count) : QString();
  std::vector<PickItem> items;
  items.push_back({tr("Change one property …"), many, [this] { change_many(); }});
  items.push_back({tr("Move to library …"), QStringLiteral("Ctrl+M"), [this] { choose_target(false); }});
  items.push_back({tr("Copy to library …"), QStringLiteral("Ctrl+Shift+V"), [this] { choose_target(true); }});
  items.push_back({tr("Copy here"), QStringLiteral("Ctrl+D"), [this] { copy_cutter(); }});
  items.push_back(
      {tr("Add to or remove from favourites"), QStringLiteral("Ctrl+Shift+F"), [this] { mark_favourites(); }});
  items.push_back({tr("Renumber …"), tr("shows the plan first"), [this] { free_numbers(); }});
  items.push_back({tr("Export …"), many, [this] { emit export_wanted(std::nullopt); }});
  items.push_back({tr("Delete"), QStringLiteral("Del"), [this] { delete_cutter(); }});
  const QPoint at =
      table_->viewport()->mapToGlobal(QPoint(120, std::max(20, table_->visualRect(table_->currentIndex()).bottom())));
  actions_->open(at, 320, std::move(items), 0,
                 count > 1 ? tr("%1 cutters").arg(count) : text_of(workspace_.cutter()->name));
}

}  // namespace pecorra
