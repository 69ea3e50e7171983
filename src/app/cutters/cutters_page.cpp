#include "app/cutters/cutters_page.h"

#include <QEvent>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QPainter>
#include <QSettings>
#include <QStyledItemDelegate>
#include <QVBoxLayout>

#include "app/look/look.h"
#include "app/widgets/calm_header.h"
#include "app/widgets/sheet_painter.h"
#include "app/widgets/filter_edit.h"
#include "app/widgets/pick_list.h"
#include "app/widgets/property_form.h"
#include "shop/words.h"

namespace pecorra {
namespace {

class CutterPainter : public QStyledItemDelegate {
 public:
  CutterPainter(CutterModel& model, QTableView& view) : QStyledItemDelegate(&view), model_(model), view_(view) {}

  void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
    const Dyes& d = dyes();
    const bool selected = option.state & QStyle::State_Selected;
    if (selected) p->fillRect(option.rect, d.lit);
    p->setPen(d.line);
    p->drawLine(option.rect.bottomLeft(), option.rect.bottomRight());
    const QRect r = option.rect.adjusted(6, 0, -6, 0);
    const QString reason = index.data(CutterModel::reason_role).toString();
    if (index.column() == CutterModel::icon) {
      if (const Cutter* c = model_.cutter_at(index.row())) draw_cutter_icon(*p, QRectF(option.rect.center().x() - 9, option.rect.top() + 3, 18, option.rect.height() - 6), *c, c->guesses.empty() ? d.woad : d.weld);
      return;
    }
    if (!reason.isEmpty() && (index.column() == CutterModel::speed || index.column() == CutterModel::feed || index.column() == CutterModel::mark)) {
      // One sentence across the three cells; each paints its own part.
      const QRect whole = view_.visualRect(index.siblingAtColumn(CutterModel::speed)).united(view_.visualRect(index.siblingAtColumn(CutterModel::mark))).adjusted(8, 0, -2, 0);
      p->save();
      p->setClipRect(option.rect);
      const bool draft = index.data(CutterModel::draft_role).toBool();
      if (draft) draw_mark(*p, QRectF(whole.left(), whole.center().y() - 5, 10, 10), Mark::beyond);
      p->setPen(draft ? d.madder : d.quiet);
      p->setFont(Look::get().text(12));
      p->drawText(whole.adjusted(draft ? 16 : 0, 0, 0, 0), Qt::AlignLeft | Qt::AlignVCenter, reason);
      p->restore();
      return;
    }
    if (index.column() == CutterModel::mark) {
      draw_mark(*p, QRectF(option.rect), static_cast<Mark>(index.data(CutterModel::mark_role).toInt()));
      return;
    }
    const bool figure = index.column() == CutterModel::speed || index.column() == CutterModel::feed;
    p->setFont(Look::get().text(figure ? 13.5 : 12.5, figure));
    p->setPen(index.column() >= CutterModel::library_name || index.column() == CutterModel::assembly || index.column() == CutterModel::number || index.column() == CutterModel::removal ? d.quiet : d.ink);
    draw_line(*p, r, static_cast<Qt::Alignment>(index.data(Qt::TextAlignmentRole).toInt()), index.data().toString());
  }

 private:
  CutterModel& model_;
  QTableView& view_;
};

}  // namespace

CuttersPage::CuttersPage(Workspace& workspace, QWidget* parent)
    : QWidget(parent), workspace_(workspace), model_(new CutterModel(workspace, this)), table_(new QTableView), title_(walnut_heading(tr("Cutters"), 16)),
      count_(new QLabel), empty_(new QLabel), filter_(new FilterEdit(tr("Filter: name, maker, code, number"))), libraries_(new SwitchRow({})), new_(new QPushButton(tr("New cutter"))), only_open_(new QPushButton(tr("To look at"))), only_alike_(new QPushButton(tr("Alike"))), columns_(new QPushButton(tr("Columns"))), kinds_(new PickList(this)) {
  auto* layout = new QVBoxLayout(this);
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
  libraries_->setObjectName(QStringLiteral("libraries"));
  auto* chooser = new QHBoxLayout;
  chooser->addWidget(libraries_);
  chooser->addStretch(1);
  only_open_->setCheckable(true);
  only_open_->setObjectName(QStringLiteral("only_to_look_at"));
  only_open_->setToolTip(tr("Only drafts, open warnings and guesses"));
  chooser->addWidget(only_open_);
  only_alike_->setCheckable(true);
  only_alike_->setObjectName(QStringLiteral("only_alike"));
  only_alike_->setToolTip(tr("Only cutters that are probably here twice, each beside the other"));
  chooser->addWidget(only_alike_);
  columns_->setFlat(true);
  columns_->setObjectName(QStringLiteral("columns"));
  columns_->setToolTip(tr("Which columns are seen"));
  chooser->addWidget(columns_);
  layout->addLayout(chooser);
  connect(only_open_, &QPushButton::toggled, model_, &CutterModel::set_only_to_look_at);
  connect(only_alike_, &QPushButton::toggled, model_, &CutterModel::set_only_alike);
  connect(columns_, &QPushButton::clicked, this, &CuttersPage::choose_columns);
  connect(libraries_, &SwitchRow::chosen, this, [this](int i) {
    model_->set_library(i == 0 ? std::nullopt : std::optional(workspace_.state().libraries[static_cast<std::size_t>(i - 1)].id));
  });

  table_->setHorizontalHeader(new CalmHeader(12));
  table_->setModel(model_);
  table_->setObjectName(QStringLiteral("cutter_table"));
  table_->setItemDelegate(new CutterPainter(*model_, *table_));
  table_->setSelectionBehavior(QAbstractItemView::SelectRows);
  table_->setSelectionMode(QAbstractItemView::SingleSelection);
  table_->setShowGrid(false);
  table_->verticalHeader()->hide();
  table_->verticalHeader()->setDefaultSectionSize(27);
  table_->setHorizontalScrollMode(QAbstractItemView::ScrollPerPixel);
  QHeaderView* header = table_->horizontalHeader();
  header->setSectionsMovable(true);
  connect(header, &QHeaderView::sectionClicked, model_, &CutterModel::sort_by);
  header->setMinimumSectionSize(24);
  const int widths[CutterModel::first_property] = {28, 58, 74, 20, 150, 56, 46, 46, 76, 82, 76, 40, 110};
  for (int i = 0; i < CutterModel::column_count; ++i) table_->setColumnWidth(i, i < CutterModel::first_property ? widths[i] : 84);
  for (int i = CutterModel::library_name; i < CutterModel::column_count; ++i) table_->setColumnHidden(i, true);
  header->setContextMenuPolicy(Qt::CustomContextMenu);
  connect(header, &QHeaderView::customContextMenuRequested, this, &CuttersPage::choose_columns);
  header->setStretchLastSection(false);
  table_->viewport()->installEventFilter(this);
  connect(header, &QHeaderView::sectionResized, this, [this](int section, int before, int now) {
    if (section != CutterModel::name && before != now) fit_name();
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
  connect(&workspace_, &Workspace::data_changed, this, &CuttersPage::rebuild_libraries);
  rebuild_libraries();
  refresh_title();
  follow_selection();
  recall();
}

void CuttersPage::remember() const {
  QSettings settings;
  settings.beginGroup(QStringLiteral("cutters"));
  settings.setValue(QStringLiteral("seen_columns"), table_->horizontalHeader()->saveState());
  settings.setValue(QStringLiteral("filter"), filter_->text());
  settings.setValue(QStringLiteral("library"), model_->library() ? text_of(model_->library()->text()) : QString());
  settings.setValue(QStringLiteral("to_look_at"), only_open_->isChecked());
  settings.setValue(QStringLiteral("alike"), only_alike_->isChecked());
  settings.setValue(QStringLiteral("sorted_by"), model_->sorted_by());
  settings.setValue(QStringLiteral("sorted_down"), model_->sorted_down());
}

void CuttersPage::recall() {
  QSettings settings;
  settings.beginGroup(QStringLiteral("cutters"));
  const QByteArray columns = settings.value(QStringLiteral("seen_columns")).toByteArray();
  if (!columns.isEmpty()) table_->horizontalHeader()->restoreState(columns);
  const int by = settings.value(QStringLiteral("sorted_by"), int(CutterModel::number)).toInt();
  const bool down = settings.value(QStringLiteral("sorted_down"), false).toBool();
  if (by >= 0 && by < CutterModel::column_count && (by != CutterModel::number || down)) model_->sort(by, down ? Qt::DescendingOrder : Qt::AscendingOrder);
  // Of another shop there is no such library.
  const auto library = Id::parse(settings.value(QStringLiteral("library")).toString().toStdString());
  const auto& libraries = workspace_.state().libraries;
  for (std::size_t i = 0; library && i < libraries.size(); ++i)
    if (libraries[i].id == *library) {
      libraries_->set_current(static_cast<int>(i) + 1);
      model_->set_library(*library);
    }
  if (const QString text = settings.value(QStringLiteral("filter")).toString(); !text.isEmpty()) filter_->setText(text);
  if (settings.value(QStringLiteral("to_look_at"), false).toBool()) only_open_->setChecked(true);
  if (settings.value(QStringLiteral("alike"), false).toBool()) only_alike_->setChecked(true);
}

void CuttersPage::fit_name() {
  int others = 0;
  for (int i = 0; i < CutterModel::column_count; ++i)
    if (i != CutterModel::name) others += table_->columnWidth(i);
  table_->setColumnWidth(CutterModel::name, std::max(150, table_->viewport()->width() - others));
}

bool CuttersPage::eventFilter(QObject* object, QEvent* event) {
  if (object == table_->viewport() && event->type() == QEvent::Resize) fit_name();
  return QWidget::eventFilter(object, event);
}

void CuttersPage::choose_columns() {
  if (!column_list_) column_list_ = new PickList(this);
  std::vector<PickItem> items;
  for (int i = CutterModel::speed; i < CutterModel::column_count; ++i) {
    if (i == CutterModel::name || i == CutterModel::mark) continue;  // the name always stands
    items.push_back({model_->column_name(i), table_->isColumnHidden(i) ? tr("hidden") : tr("seen"), [this, i] {
                       table_->setColumnHidden(i, !table_->isColumnHidden(i));
                       fit_name();
                     }});
  }
  column_list_->open(columns_->mapToGlobal(QPoint(columns_->width() - 280, columns_->height() + 2)), 280, std::move(items), 0, tr("Column to show or to hide"));
}

void CuttersPage::rebuild_libraries() {
  QStringList names{tr("All libraries")};
  for (const Library& library : workspace_.state().libraries) names << QString::fromStdString(library.name);
  libraries_->set_names(names);
  if (libraries_->current() == 0 && model_->library()) model_->set_library(std::nullopt);
}

void CuttersPage::refresh_title() {
  count_->setText(tr("%1 libraries, %2 cutters · %3 shown").arg(workspace_.state().libraries.size()).arg(workspace_.state().cutters.size()).arg(model_->rowCount()));
  const bool none = model_->rowCount() == 0;
  table_->setVisible(!none);
  empty_->setVisible(none);
  empty_->setText(workspace_.state().cutters.empty() ? tr("No cutters yet. “New cutter” (Ctrl+N) makes one: the kind first, then its sizes.")
                  : only_alike_->isChecked() ? tr("No two cutters here are alike.")
                                             : tr("No cutter fits the filter. Clear it, or choose another library."));
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

void CuttersPage::new_cutter() {
  std::vector<PickItem> items;
  int current = 0;
  for (const CutterKind kind : cutter_kinds()) {
    if (workspace_.cutter() && workspace_.cutter()->kind == kind) current = static_cast<int>(items.size());
    items.push_back({text_of(label_of(kind)), reason_text(NoAnswer::cannot_do, kind), [this, kind] { make_cutter(kind); }});
  }
  kinds_->open(new_->mapToGlobal(QPoint(new_->width() - 300, new_->height() + 2)), 300, std::move(items), current, tr("Kind of the new cutter"));
}

void CuttersPage::make_cutter(CutterKind kind) {
  Change change;
  Id library = target_library();
  if (library.is_null()) {  // the first cutter of an empty shop
    Library first;
    first.id = new_id();
    first.name = tr("Cutters").toStdString();
    library = first.id;
    change.add(first);
  }
  Cutter cutter = proposed_cutter(kind, 10);
  cutter.id = new_id();
  cutter.library = library;
  cutter.number = workspace_.state().free_number(library);
  cutter.unit = workspace_.units();
  cutter.name = workspace_.state().name_for(cutter);
  // Nobody has measured any of this yet.
  for (const ParameterUse& use : declaration(kind).parameters)
    if (use.key != "diameter_mm" && number_of(cutter, *find_property<Cutter>(use.key))) cutter.guesses.insert(std::string(use.key));
  Assembly assembly;
  assembly.id = new_id();
  assembly.cutter = cutter.id;
  for (const Holder& holder : workspace_.state().holders)
    if (!holder.retired && holds(holder, cutter)) {
      assembly.holder = holder.id;
      assembly.stickout_mm = proposed_stickout_mm(cutter, &holder);
      break;
    }
  change.label = tr("New %1, number %2, with sizes to be checked").arg(within_sentence(text_of(label_of(kind)))).arg(cutter.number);
  change.add(cutter);
  change.add(assembly);
  filter_->clear();
  workspace_.shop().apply(std::move(change));
  workspace_.select_cutter(cutter.id);
  emit cutter_made();
}

void CuttersPage::copy_cutter() {
  const Cutter* original = workspace_.cutter();
  if (!original) return;
  Cutter cutter = *original;
  cutter.id = new_id();
  cutter.revision = 0;
  cutter.number = workspace_.state().free_number(cutter.library);
  Change change;
  change.label = tr("Copied %1 as number %2").arg(QString::fromStdString(original->name)).arg(cutter.number);
  change.add(cutter);
  if (const Assembly* a = workspace_.state().assembly_of(original->id)) {
    Assembly copy = *a;
    copy.id = new_id();
    copy.revision = 0;
    copy.cutter = cutter.id;
    change.add(copy);
  }
  workspace_.shop().apply(std::move(change));
  workspace_.select_cutter(cutter.id);
  emit cutter_made();
}

void CuttersPage::delete_cutter() {
  const Cutter* cutter = workspace_.cutter();
  if (!cutter) return;
  const int row = model_->row_of(cutter->id);
  Change change;
  change.label = tr("Deleted %1").arg(QString::fromStdString(cutter->name));
  // Jobs keep their own copies.
  for (const Assembly& assembly : workspace_.state().assemblies)
    if (assembly.cutter == cutter->id) change.remove(assembly);
  for (const std::size_t i : workspace_.state().recipes.of_cutter(cutter->id)) change.remove(workspace_.state().recipes[i]);
  change.remove(*cutter);
  workspace_.shop().apply(std::move(change));
  if (const Cutter* next = model_->cutter_at(std::min(row, model_->rowCount() - 1))) workspace_.select_cutter(next->id);
}

void CuttersPage::show_cutter(const Id& cutter) {
  if (model_->row_of(cutter) < 0) {
    filter_->clear();
    only_open_->setChecked(false);
    only_alike_->setChecked(false);
    libraries_->set_current(0);
    model_->set_library(std::nullopt);
  }
  workspace_.select_cutter(cutter);
  follow_selection();
}

void CuttersPage::show_next_to_look_at() {
  const auto& cutters = workspace_.state().cutters;
  std::size_t at = 0;
  while (at < cutters.size() && cutters[at].id != workspace_.cutter_id()) ++at;
  for (std::size_t step = 1; step <= cutters.size(); ++step) {
    const Cutter& c = cutters[(at + step) % cutters.size()];
    if (!to_look_at(c)) continue;
    show_cutter(c.id);
    emit open_sizes();
    return;
  }
}

void CuttersPage::focus_filter() {
  filter_->setFocus();
  filter_->selectAll();
}

}  // namespace pecorra
