#include "app/holders/holders_page.h"

#include <QFileInfo>
#include <QHBoxLayout>
#include <QVBoxLayout>

#include "app/look/look.h"
#include "app/widgets/calm_table.h"
#include "app/widgets/filter_edit.h"
#include "app/widgets/pick_list.h"
#include "app/widgets/property_form.h"
#include "shop/drawing_file.h"
#include "shop/generic_holders.h"
#include "shop/holder_outline.h"
#include "shop/task.h"
#include "shop/words.h"

namespace pecorra {

HoldersPage::HoldersPage(Workspace& workspace, QWidget* parent)
    : QWidget(parent),
      workspace_(workspace),
      model_(new HolderModel(workspace, this)),
      table_(calm_table(model_, QStringLiteral("holder_table"))),
      count_(new QLabel),
      empty_(new QLabel),
      filter_(new FilterEdit(tr("Filter: name, form, machine side"))),
      new_(new QPushButton(tr("New holder"))),
      kinds_(new PickList(this)) {
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(16, 12, 12, 8);
  layout->setSpacing(8);
  auto* head = new QHBoxLayout;
  head->addWidget(walnut_heading(tr("Holders"), 16));
  set_tone(count_, Tone::quiet);
  head->addWidget(count_);
  head->addStretch(1);
  filter_->setFixedWidth(230);
  filter_->setObjectName(QStringLiteral("holder_filter"));
  head->addWidget(filter_);
  new_->setObjectName(QStringLiteral("new_holder"));
  head->addWidget(new_);
  layout->addLayout(head);
  table_->horizontalHeader()->setSectionResizeMode(HolderModel::name, QHeaderView::Stretch);
  const int widths[HolderModel::column_count] = {200, 150, 110, 84, 84, 64};
  for (int i = 1; i < HolderModel::column_count; ++i) table_->setColumnWidth(i, widths[i]);
  layout->addWidget(table_, 1);
  empty_->setAlignment(Qt::AlignCenter);
  empty_->setWordWrap(true);
  layout->addWidget(empty_, 1);

  connect(new_, &QPushButton::clicked, this, &HoldersPage::new_holder);
  connect(filter_, &QLineEdit::textChanged, this, [this](const QString& text) {
    const Id keep = selected();
    model_->set_text(text);
    if (model_->row_of(keep) >= 0) select(keep);
    refresh_title();
  });
  connect(table_->selectionModel(), &QItemSelectionModel::currentRowChanged, this, [this](const QModelIndex& current) {
    if (const Holder* h = model_->holder_at(current.row())) emit selection_changed(h->id);
  });
  connect(model_, &QAbstractItemModel::modelReset, this, &HoldersPage::refresh_title);
  refresh_title();
  if (model_->rowCount() > 0) table_->setCurrentIndex(model_->index(0, 0));
}

void HoldersPage::refresh_title() {
  count_->setText(tr("%1 holders · %2 shown").arg(workspace_.state().holders.size()).arg(model_->rowCount()));
  const bool none = model_->rowCount() == 0;
  table_->setVisible(!none);
  empty_->setVisible(none);
  empty_->setText(workspace_.state().holders.empty()
                      ? tr("No holders yet. “New holder” takes one from the generic set, or makes your own.")
                      : tr("No holder fits the filter."));
}

Id HoldersPage::selected() const {
  const Holder* h = model_->holder_at(table_->currentIndex().row());
  return h ? h->id : Id{};
}

void HoldersPage::select(const Id& id) {
  if (model_->row_of(id) < 0) filter_->clear();
  const int row = model_->row_of(id);
  if (row >= 0) table_->setCurrentIndex(model_->index(row, 0));
}

void HoldersPage::new_holder() {
  std::vector<PickItem> items;
  items.push_back({tr("Empty: type its stations"), tr("own"), [this] {
                     Holder h;
                     h.name = tr("New holder").toStdString();
                     h.stations = {{0, 40}, {50, 40}};
                     h.source = tr("Own").toStdString();
                     add_holder(std::move(h));
                   }});
  items.push_back({tr("From an outline, DXF or SVG …"), tr("own"), [this] { emit outline_wanted(); }});
  for (const Holder& h : generic_holders())
    items.push_back({text_of(h.name), tr("generic"), [this, &h] { add_holder(h); }});
  kinds_->open(new_->mapToGlobal(QPoint(new_->width() - 420, new_->height() + 2)), 420, std::move(items), 0,
               tr("Own, or from the generic set: type to narrow"));
}

void HoldersPage::add_holder(Holder holder) {
  holder.id = new_id();
  holder.revision = 0;
  Change change;
  change.label = tr("New holder: %1").arg(text_of(holder.name));
  change.add(holder);
  filter_->clear();
  workspace_.shop().apply(std::move(change));
  select(holder.id);
}

void HoldersPage::read_outline(const QString& file) {
  emit said(tr("Reading %1 …").arg(QFileInfo(file).fileName()), false);
  workspace_.tasks().run(
      this, tr("Reading %1").arg(QFileInfo(file).fileName()), [file](Task&) { return read_drawing_file(file); },
      [this, file](const DrawingRead& read) {
        if (!read.fault.isEmpty()) return emit said(read.fault, true);
        auto stations = stations_of(read.drawing);
        if (!stations) return emit said(stations.error(), true);
        Holder h;
        h.name = QFileInfo(file).completeBaseName().toStdString();
        h.stations = std::move(*stations);
        h.source = tr("Outline %1, %2").arg(QFileInfo(file).fileName(), read.note).toStdString();
        add_holder(std::move(h));
      });
}

void HoldersPage::delete_holder() {
  const Holder* h = workspace_.state().holders.find(selected());
  if (!h) return;
  QStringList used;
  for (const Assembly& a : workspace_.state().assemblies)
    if (a.holder == h->id)
      if (const Cutter* c = workspace_.state().cutters.find(a.cutter)) used << text_of(c->name);
  if (!used.isEmpty()) {
    emit said(tr("%1 holds %2; give them another holder first.")
                  .arg(text_of(h->name),
                       used.size() > 3
                           ? tr("%1 and %2 more").arg(used.mid(0, 2).join(QStringLiteral(", "))).arg(used.size() - 2)
                           : used.join(QStringLiteral(", "))),
              true);
    return;
  }
  const int row = table_->currentIndex().row();
  Change change;
  change.label = tr("Deleted %1").arg(text_of(h->name));
  change.remove(*h);
  workspace_.shop().apply(std::move(change));
  if (const Holder* next = model_->holder_at(std::min(row, model_->rowCount() - 1))) select(next->id);
}

}  // namespace pecorra

#include "moc_holders_page.cpp"
