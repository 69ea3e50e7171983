#include "app/holders/holders_page.h"

#include <QFileInfo>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QVBoxLayout>

#include "app/look/look.h"
#include "app/widgets/filter_edit.h"
#include "app/widgets/fit_columns.h"
#include "app/widgets/pick_list.h"
#include "app/widgets/plain_table.h"
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
      table_(plain_table(model_, QStringLiteral("holder_table"))),
      count_(new QLabel),
      empty_(new QLabel),
      filter_(new FilterEdit(tr("Filter: name, form, machine side"), [this] { return table_; })),
      new_(new QPushButton(tr("New holder"))),
      kinds_(new PickList(this)) {
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(16, 12, 12, 8);
  layout->setSpacing(8);
  auto* head = new QHBoxLayout;
  head->addWidget(section_heading(tr("Holders"), 16));
  set_tone(count_, Tone::quiet);
  head->addWidget(count_);
  head->addStretch(1);
  filter_->setFixedWidth(230);
  filter_->setObjectName(QStringLiteral("holder_filter"));
  head->addWidget(filter_);
  new_->setObjectName(QStringLiteral("new_holder"));
  head->addWidget(new_);
  layout->addLayout(head);
  columns_ = new FitColumns(table_, HolderModel::name);
  layout->addWidget(table_, 3);
  held_title_ = section_heading(QString());
  held_ =
      new TextModel({tr("No."), tr("Cutter"), tr("Shank"), tr("Stick-out"), tr("Gauge length")}, this, {0, 2, 3, 4});
  held_table_ = plain_table(held_, QStringLiteral("held_cutters"));
  held_table_->setColumnWidth(0, 58);
  held_table_->horizontalHeader()->setSectionResizeMode(1, QHeaderView::Stretch);
  for (int i = 2; i < 5; ++i) held_table_->setColumnWidth(i, 112);
  held_table_->setToolTip(tr("Double-click to go to the cutter"));
  layout->addWidget(held_title_);
  layout->addWidget(held_table_, 2);
  layout->addStretch(1);
  connect(held_table_, &QTableView::doubleClicked, this, [this](const QModelIndex& at) {
    if (const auto row = static_cast<std::size_t>(at.row()); row < held_cutters_.size())
      emit cutter_wanted(held_cutters_[row]);
  });
  connect(this, &HoldersPage::selection_changed, this, &HoldersPage::refresh_cutters);
  connect(&workspace_, &Workspace::data_changed, this, &HoldersPage::refresh_cutters);
  connect(&workspace_, &Workspace::context_changed, this, &HoldersPage::refresh_cutters);
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
  // A new name is another place in the list; what was selected stays selected.
  connect(model_, &QAbstractItemModel::modelAboutToBeReset, this, [this] {
    if (const Id now = selected(); !now.is_null()) kept_ = now;
  });
  connect(model_, &QAbstractItemModel::modelReset, this, [this] {
    if (const int row = model_->row_of(kept_); row >= 0) table_->setCurrentIndex(model_->index(row, 0));
    refresh_title();
  });
  refresh_title();
  if (model_->rowCount() > 0) table_->setCurrentIndex(model_->index(0, 0));
}

void HoldersPage::refresh_title() {
  count_->setText(tr("%1 holders · %2 shown").arg(workspace_.state().holders.size()).arg(model_->rowCount()));
  const bool none = model_->rowCount() == 0;
  table_->setVisible(!none);
  empty_->setVisible(none);
  empty_->setText(workspace_.state().holders.empty()
                      ? tr("No holders yet. “New holder” starts from the generic set or from scratch.")
                      : tr("No holder matches the filter."));
}

void HoldersPage::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  refresh_cutters();
}

// While it is seen: it goes through all assemblies.
void HoldersPage::refresh_cutters() {
  if (!isVisible()) return;
  const ShopState& state = workspace_.state();
  const Holder* h = state.holders.find(selected());
  std::vector<QStringList> lines;
  held_cutters_.clear();
  const auto mm = [&](const std::optional<double>& v) {
    return v ? quantity_text(*v, Quantity::length, workspace_.units()) : QString();
  };
  for (const Assembly& a : state.assemblies) {
    const Cutter* c = h && a.holder == h->id ? state.cutters.find(a.cutter) : nullptr;
    if (!c) continue;
    held_cutters_.push_back(c->id);
    lines.push_back({QString::number(c->number), text_of(c->name), mm(c->shank_diameter_mm), mm(stickout_of(a)),
                     mm(gauge_length_mm(*h, a))});
  }
  columns_->fit();
  fit_to_rows(*table_);
  held_title_->setVisible(h != nullptr);
  if (h)
    held_title_->setText(lines.empty() ? tr("No cutters in %1").arg(text_of(h->name))
                                       : tr("Cutters in %1").arg(text_of(h->name)));
  held_table_->setVisible(!lines.empty());
  held_->set_lines(std::move(lines));
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
                     h.source = tr("Entered by the shop").toStdString();
                     add_holder(std::move(h));
                     emit holder_started();
                   }});
  items.push_back({tr("From an outline, DXF or SVG …"), tr("own"), [this] { emit outline_wanted(); }});
  for (const Holder& h : generic_holders())
    items.push_back({text_of(h.name), tr("generic"), [this, &h] { add_holder(h); }});
  kinds_->open(new_->mapToGlobal(QPoint(new_->width() - 420, new_->height() + 2)), 420, std::move(items), 0,
               tr("Custom, or from the generic set: type to filter"));
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
