#include "app/cutters/cutters_page.h"

#include <QApplication>
#include <QEvent>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QPainter>
#include <QSettings>
#include <QStyledItemDelegate>
#include <QVBoxLayout>
#include <algorithm>
#include <array>
#include <utility>

#include "app/cutters/bulk_change.h"
#include "app/cutters/cutter_import.h"
#include "app/cutters/cutter_painter.h"
#include "app/cutters/shared_lines.h"
#include "app/look/look.h"
#include "app/widgets/filter_edit.h"
#include "app/widgets/fit_columns.h"
#include "app/widgets/pick_list.h"
#include "app/widgets/plain_header.h"
#include "app/widgets/property_form.h"
#include "app/widgets/sheet_painter.h"
#include "app/widgets/sliding_row.h"
#include "shop/number_plan.h"
#include "shop/words.h"

namespace pecorra {
CuttersPage::CuttersPage(Workspace& workspace, QWidget* parent)
    : QWidget(parent),
      workspace_(workspace),
      model_(new CutterModel(workspace, this)),
      table_(new QTableView),
      title_(section_heading(tr("Cutters"), 16)),
      count_(new QLabel),
      empty_(new QLabel),
      filter_(new FilterEdit(tr("Filter: name, maker, code, number"), [this] { return table_; })),
      shared_(new SharedLibraries(workspace.shop(), workspace.tasks(), this)),
      libraries_(new LibraryChips(workspace, *shared_)),
      chips_(new FilterChips(workspace, *model_)),
      new_(new QPushButton(tr("New cutter"))),
      only_open_(new QPushButton(tr("Needs attention"))),
      only_alike_(new QPushButton(tr("Possible duplicates"))),
      columns_(new QPushButton(tr("Columns"))),
      narrow_(new QPushButton(tr("Filter"))),
      kept_(new QPushButton(tr("Saved filters"))),
      stack_(new QStackedWidget) {
  auto* whole = new QVBoxLayout(this);
  whole->setContentsMargins(0, 0, 0, 0);
  whole->addWidget(stack_);
  auto* list_page = new QWidget;
  stack_->addWidget(list_page);
  view_pages_[list] = list_page;
  auto* layout = new QVBoxLayout(list_page);
  layout->setContentsMargins(16, 12, 12, 8);
  layout->setSpacing(8);
  auto* head = new QHBoxLayout;
  head->addWidget(title_);
  set_tone(count_, Tone::quiet);
  head->addWidget(count_);
  head->addStretch(1);
  filter_->setFixedWidth(230);
  filter_->setObjectName(QStringLiteral("cutter_filter"));
  head->addWidget(filter_);
  new_->setObjectName(QStringLiteral("new_cutter"));
  head->addWidget(new_);
  layout->addLayout(head);
  layout->addWidget(new SlidingRow(libraries_));
  auto* chooser = new QHBoxLayout;
  only_open_->setCheckable(true);
  only_open_->setObjectName(QStringLiteral("only_to_look_at"));
  only_open_->setToolTip(tr("Show only drafts, open warnings and guesses"));
  chooser->addWidget(only_open_);
  only_alike_->setCheckable(true);
  only_alike_->setObjectName(QStringLiteral("only_alike"));
  only_alike_->setToolTip(tr("Show only possible duplicates, side by side"));
  chooser->addWidget(only_alike_);
  narrow_->setFlat(true);
  narrow_->setObjectName(QStringLiteral("narrow"));
  narrow_->setToolTip(tr("Filter by kind, size, maker … with counts; also by right-clicking a heading"));
  chooser->addWidget(narrow_);
  chooser->addWidget(new SlidingRow(chips_), 1);
  kept_->setFlat(true);
  kept_->setObjectName(QStringLiteral("kept_filters"));
  kept_->setToolTip(tr("Saved filters"));
  chooser->addWidget(kept_);
  columns_->setFlat(true);
  columns_->setObjectName(QStringLiteral("columns"));
  columns_->setToolTip(tr("Columns shown"));
  chooser->addWidget(columns_);
  layout->addLayout(chooser);
  connect(narrow_, &QPushButton::clicked, this, [this] { chips_->choose_property(narrow_); });
  connect(kept_, &QPushButton::clicked, this, [this] {
    chips_->set_words(filter_->text());
    chips_->open_saved(kept_);
  });
  connect(chips_, &FilterChips::words_wanted, filter_, &QLineEdit::setText);
  connect(chips_, &FilterChips::said, this, &CuttersPage::said);
  connect(chips_, &FilterChips::changed, this, [this] {
    follow_selection();
    refresh_title();
  });
  connect(only_open_, &QPushButton::toggled, model_, &CutterModel::set_only_to_look_at);
  connect(only_alike_, &QPushButton::toggled, model_, &CutterModel::set_only_alike);
  connect(columns_, &QPushButton::clicked, this, &CuttersPage::choose_columns);
  connect(libraries_, &LibraryChips::chosen, model_, &CutterModel::set_library);
  connect(libraries_, &LibraryChips::dropped, this,
          [this](const std::vector<Id>& cutters, const Id& library, bool copy) {
            workspace_.shop().apply(copy ? copy_cutters(workspace_.state(), cutters, library)
                                         : move_cutters(workspace_.state(), cutters, library));
          });
  connect(libraries_, &LibraryChips::import_wanted, this, &CuttersPage::import_wanted);
  connect(libraries_, &LibraryChips::export_wanted, this, &CuttersPage::export_wanted);
  connect(libraries_, &LibraryChips::share_wanted, this, &CuttersPage::share_wanted);
  connect(libraries_, &LibraryChips::open_shared_wanted, this, &CuttersPage::open_shared_wanted);
  connect(libraries_, &LibraryChips::stock_sheet_wanted, this, &CuttersPage::stock_sheet_wanted);
  connect(libraries_, &LibraryChips::look_wanted, this, &CuttersPage::look_at_shared);
  connect(shared_, &SharedLibraries::opened, this, &CuttersPage::look_at_shared);
  connect(shared_, &SharedLibraries::said, this, &CuttersPage::said);

  table_->setHorizontalHeader(new PlainHeader(12));
  table_->setModel(model_);
  table_->setObjectName(QStringLiteral("cutter_table"));
  table_->setItemDelegate(new CutterPainter(*model_, *table_));
  table_->setSelectionBehavior(QAbstractItemView::SelectRows);
  table_->setSelectionMode(QAbstractItemView::ExtendedSelection);
  table_->setDragEnabled(true);
  table_->setContextMenuPolicy(Qt::CustomContextMenu);
  connect(table_, &QWidget::customContextMenuRequested, this, &CuttersPage::open_actions);
  table_->setShowGrid(false);
  table_->verticalHeader()->hide();
  table_->verticalHeader()->setDefaultSectionSize(27);
  table_->setHorizontalScrollMode(QAbstractItemView::ScrollPerPixel);
  QHeaderView* header = table_->horizontalHeader();
  header->setSectionsMovable(true);
  connect(header, &QHeaderView::sectionClicked, model_,
          [this](int column) { model_->sort_by(column, QApplication::keyboardModifiers() & Qt::ShiftModifier); });
  header->setMinimumSectionSize(24);
  for (int i = CutterModel::library_name; i < CutterModel::column_count; ++i) table_->setColumnHidden(i, true);
  header->setContextMenuPolicy(Qt::CustomContextMenu);
  connect(header, &QHeaderView::customContextMenuRequested, this, [this, header](const QPoint& at) {
    const std::string_view key = CutterModel::key_of_column(header->logicalIndexAt(at));
    const bool by_values = !key.empty() && key != "library" && key != "name";
    if (by_values) chips_->choose_values(std::string(key), header->mapToGlobal(QPoint(at.x() - 20, header->height())));
    else choose_columns();
  });
  header->setStretchLastSection(false);
  table_->viewport()->installEventFilter(this);
  connect(header, &QHeaderView::sectionResized, this, [this](int section, int before, int now) {
    if (fitting_ || section == CutterModel::name || before == now) return;
    own_widths_ = true;
    fit_name();
  });
  connect(&workspace_, &Workspace::context_changed, this, [this] {
    if (fitted_units_ != workspace_.units()) fit_columns();
  });
  // A heading that shows how it sorts has its room.
  connect(model_, &QAbstractItemModel::headerDataChanged, this, [this, header] {
    for (const CutterModel::SortBy& s : model_->sorting()) {
      const int wanted = header->fontMetrics().horizontalAdvance(
                             model_->headerData(s.column, Qt::Horizontal, Qt::DisplayRole).toString()) +
                         16;
      if (s.column != CutterModel::icon && s.column != CutterModel::mark && table_->columnWidth(s.column) < wanted)
        table_->setColumnWidth(s.column, wanted);
    }
  });
  empty_->setAlignment(Qt::AlignCenter);
  empty_->setWordWrap(true);
  layout->addWidget(table_, 1);
  layout->addWidget(empty_, 1);

  connect(new_, &QPushButton::clicked, this, &CuttersPage::new_cutter);
  connect(filter_, &QLineEdit::textChanged, this, [this](const QString& text) {
    model_->set_text(text);
    follow_selection();
    refresh_title();
  });
  connect(table_->selectionModel(), &QItemSelectionModel::currentRowChanged, this, [this](const QModelIndex& current) {
    if (const Cutter* c = model_->cutter_at(current.row())) workspace_.select_cutter(c->id);
  });
  connect(table_, &QTableView::doubleClicked, this, &CuttersPage::open_sizes);
  connect(model_, &QAbstractItemModel::modelReset, this, [this] {
    follow_selection();
    refresh_title();
  });
  connect(&workspace_, &Workspace::selection_changed, this, &CuttersPage::follow_selection);
  connect(&workspace_, &Workspace::data_changed, this, &CuttersPage::refresh_title);
  refresh_title();
  follow_selection();
  recall();
}

void CuttersPage::remember() const {
  QSettings settings;
  settings.beginGroup(QStringLiteral("cutters"));
  settings.setValue(QStringLiteral("seen_columns"), table_->horizontalHeader()->saveState());
  settings.setValue(QStringLiteral("own_widths"), own_widths_);
  settings.setValue(QStringLiteral("filter"), filter_->text());
  settings.setValue(QStringLiteral("library"), model_->library() ? text_of(model_->library()->text()) : QString());
  settings.setValue(QStringLiteral("to_look_at"), only_open_->isChecked());
  settings.setValue(QStringLiteral("alike"), only_alike_->isChecked());
  QStringList sorting;
  for (const CutterModel::SortBy& s : model_->sorting()) sorting << QString::number(s.down ? -1 - s.column : s.column);
  settings.setValue(QStringLiteral("sorting"), sorting);
  settings.setValue(QStringLiteral("criteria"), model_->filter().has_criteria() ? chips_->saved_text({}) : QString());
}

void CuttersPage::recall() {
  QSettings settings;
  settings.beginGroup(QStringLiteral("cutters"));
  const QByteArray columns = settings.value(QStringLiteral("seen_columns")).toByteArray();
  own_widths_ = settings.value(QStringLiteral("own_widths"), false).toBool();
  fitting_ = true;
  if (!columns.isEmpty()) table_->horizontalHeader()->restoreState(columns);
  fitting_ = false;
  std::vector<CutterModel::SortBy> sorting;
  for (const QString& text : settings.value(QStringLiteral("sorting")).toStringList()) {
    const int by = text.toInt();
    const CutterModel::SortBy one{by < 0 ? -1 - by : by, by < 0};
    if (one.column < CutterModel::column_count) sorting.push_back(one);
  }
  if (!sorting.empty() && sorting != model_->sorting()) model_->set_sort(std::move(sorting));
  if (const QString criteria = settings.value(QStringLiteral("criteria")).toString(); !criteria.isEmpty())
    chips_->restore(criteria);
  // Not a library of this shop.
  const auto library = Id::parse(settings.value(QStringLiteral("library")).toString().toStdString());
  if (library && workspace_.state().libraries.find(*library)) {
    libraries_->set_current(*library);
    model_->set_library(*library);
  }
  if (const QString text = settings.value(QStringLiteral("filter")).toString(); !text.isEmpty()) filter_->setText(text);
  if (settings.value(QStringLiteral("to_look_at"), false).toBool()) only_open_->setChecked(true);
  if (settings.value(QStringLiteral("alike"), false).toBool()) only_alike_->setChecked(true);
}

// The name takes the remaining width; a list that is too narrow then scrolls sideways.
void CuttersPage::fit_name() {
  int others = 0;
  for (int i = 0; i < CutterModel::column_count; ++i)
    if (i != CutterModel::name) others += table_->columnWidth(i);
  const bool was_fitting = std::exchange(fitting_, true);
  table_->setColumnWidth(CutterModel::name, std::max(116, table_->viewport()->width() - others));
  fitting_ = was_fitting;
}

// Widths by what the first rows hold, until somebody chooses widths or columns. Where the room is short the assembly
// and the reach, which the bench shows as well, give way; the name is the last to be cut.
void CuttersPage::fit_columns() {
  fitted_units_ = workspace_.units();
  if (own_widths_) return fit_name();
  std::array<int, CutterModel::column_count> wanted{};
  int all = 0;
  for (int i = 0; i < CutterModel::column_count; ++i) {
    if (table_->isColumnHidden(i) && i != CutterModel::assembly && i != CutterModel::reach) continue;
    const bool bold = i == CutterModel::speed || i == CutterModel::feed;
    wanted[i] = i == CutterModel::icon   ? 28
                : i == CutterModel::mark ? 20
                : i == CutterModel::name ? std::min(texts_.content_width(*table_, i) + 16, 300)
                                         : std::min(texts_.content_width(*table_, i) + (bold ? 22 : 13), 180);
    all += wanted[i];
  }
  int missing = all - table_->viewport()->width();
  constexpr int least_assembly = 110;  // less says nothing
  const int given = std::clamp(missing, 0, std::max(0, wanted[CutterModel::assembly] - least_assembly));
  wanted[CutterModel::assembly] -= given;
  missing -= given;
  fitting_ = true;
  // Whole columns go before the name is cut.
  for (const int column : {CutterModel::assembly, CutterModel::reach}) {
    const bool hidden = missing > 0;
    table_->setColumnHidden(column, hidden);
    if (hidden) missing -= std::exchange(wanted[column], 0);
  }
  for (int i = 0; i < CutterModel::column_count; ++i)
    if (wanted[i] > 0 && i != CutterModel::name) table_->setColumnWidth(i, wanted[i]);
  fitting_ = false;
  fit_name();
}

bool CuttersPage::eventFilter(QObject* object, QEvent* event) {
  if (object == table_->viewport() && event->type() == QEvent::Resize) fit_columns();
  return QWidget::eventFilter(object, event);
}

void CuttersPage::choose_columns() {
  if (!column_list_) column_list_ = new PickList(this);
  std::vector<PickItem> items;
  for (int i = CutterModel::speed; i < CutterModel::column_count; ++i) {
    if (i == CutterModel::name || i == CutterModel::mark) continue;  // the name always stands
    items.push_back({model_->column_name(i), table_->isColumnHidden(i) ? tr("hidden") : tr("shown"), [this, i] {
                       table_->setColumnHidden(i, !table_->isColumnHidden(i));
                       own_widths_ = true;
                       fit_name();
                     }});
  }
  column_list_->open(columns_->mapToGlobal(QPoint(columns_->width() - 280, columns_->height() + 2)), 280,
                     std::move(items), 0, tr("Column to show or hide"));
}

bool CuttersPage::is_empty_library() const {
  const auto library = model_->library();
  return library && std::none_of(workspace_.state().cutters.begin(), workspace_.state().cutters.end(),
                                 [&](const Cutter& c) { return c.library == *library; });
}

void CuttersPage::refresh_title() {
  count_->setText(tr("%1 libraries, %2 cutters · %3 shown")
                      .arg(workspace_.state().libraries.size())
                      .arg(workspace_.state().cutters.size())
                      .arg(model_->rowCount()));
  const bool none = model_->rowCount() == 0;
  table_->setVisible(!none);
  empty_->setVisible(none);
  empty_->setText(workspace_.state().cutters.empty()
                      ? tr("No cutters yet. “New cutter” (Ctrl+N) makes one: the kind first, then its sizes.")
                  : only_alike_->isChecked() ? tr("There are no possible duplicates here.")
                  : is_empty_library()
                      ? tr("This library is empty. “New cutter” (Ctrl+N) makes one in it; others can be imported, or "
                           "dragged here from another library.")
                      : tr("No cutter matches the filter. Clear it, or choose another library."));
}

void CuttersPage::follow_selection() {
  const int row = model_->row_of(workspace_.cutter_id());
  if (row < 0 || table_->currentIndex().row() == row) return;
  const QSignalBlocker quiet(table_->selectionModel());
  table_->setCurrentIndex(model_->index(row, CutterModel::name));
  table_->scrollTo(model_->index(row, CutterModel::name));
  table_->viewport()->update();
}

Id CuttersPage::target_library() const {
  if (model_->library()) return *model_->library();
  if (const Cutter* c = workspace_.cutter()) return c->library;
  return workspace_.state().libraries.empty() ? Id{} : workspace_.state().libraries[0].id;
}

std::vector<Id> CuttersPage::selected() const {
  QModelIndexList rows = table_->selectionModel()->selectedRows();
  std::sort(rows.begin(), rows.end(), [](const QModelIndex& a, const QModelIndex& b) { return a.row() < b.row(); });
  std::vector<Id> ids;
  for (const QModelIndex& i : rows)
    if (const Cutter* c = model_->cutter_at(i.row())) ids.push_back(c->id);
  if (ids.size() < 2 && workspace_.cutter()) ids = {workspace_.cutter_id()};
  return ids;
}

std::vector<Id> CuttersPage::shown() const {
  std::vector<Id> ids;
  for (int row = 0; row < model_->rowCount(); ++row) ids.push_back(model_->cutter_at(row)->id);
  return ids;
}

void CuttersPage::select(const std::vector<Id>& cutters) {
  QItemSelection rows;
  for (const Id& id : cutters)
    if (const int row = model_->row_of(id); row >= 0)
      rows.select(model_->index(row, 0), model_->index(row, CutterModel::column_count - 1));
  if (!cutters.empty()) workspace_.select_cutter(cutters.front());
  table_->selectionModel()->select(rows, QItemSelectionModel::ClearAndSelect);
}

void CuttersPage::show_cutter(const Id& cutter) {
  if (model_->row_of(cutter) < 0) {
    filter_->clear();
    only_open_->setChecked(false);
    only_alike_->setChecked(false);
    chips_->clear();
    libraries_->set_current(std::nullopt);
    model_->set_library(std::nullopt);
  }
  workspace_.select_cutter(cutter);
  follow_selection();
}

void CuttersPage::focus_list() { table_->setFocus(); }

void CuttersPage::focus_filter() {
  filter_->setFocus();
  filter_->selectAll();
}

}  // namespace pecorra

#include "moc_cutters_page.cpp"
