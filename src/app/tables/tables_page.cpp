#include "app/tables/tables_page.h"

#include <QApplication>
#include <QClipboard>
#include <QFile>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QPainter>
#include <QShortcut>
#include <QStyledItemDelegate>
#include <QVBoxLayout>

#include "app/look/look.h"
#include "app/tables/recipes_section.h"
#include "app/tables/row_preview.h"
#include "app/widgets/filter_edit.h"
#include "app/widgets/pick_list.h"
#include "app/widgets/plain_header.h"
#include "app/widgets/property_form.h"
#include "app/widgets/quantity_edit.h"
#include "app/widgets/sheet_painter.h"
#include "app/widgets/steady_combo.h"
#include "core/tables/starter_rules.h"
#include "formats/sheet/sheet_file.h"
#include "shop/recipe_edit.h"
#include "shop/table_sheet.h"
#include "shop/task.h"
#include "shop/words.h"

namespace pecorra {
namespace {

// What the marks mean.
class Legend : public QWidget {
 public:
  Legend() {
    setFixedHeight(20);
    connect(&Look::get(), &Look::changed, this, qOverload<>(&QWidget::update));
  }
  QSize sizeHint() const override { return {340, 20}; }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter p(this);
    p.setFont(Look::get().text(11.5));
    int x = width();
    for (const Mark mark : {Mark::beyond, Mark::guess, Mark::table, Mark::proven}) {
      const QString name = mark_name(mark);
      x -= p.fontMetrics().horizontalAdvance(name);
      p.setPen(colours().quiet);
      p.drawText(QRect(x, 0, 120, height()), Qt::AlignLeft | Qt::AlignVCenter, name);
      x -= 15;
      draw_mark(p, QRectF(x, 0, 12, height()), mark);
      x -= 9;
    }
  }
};

class RowDelegate : public QStyledItemDelegate {
 public:
  RowDelegate(RowModel& model, TablesPage& page) : QStyledItemDelegate(&page), model_(model), page_(page) {}

  void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
    const Colours& d = colours();
    if (option.state & QStyle::State_Selected) p->fillRect(option.rect, d.lit);
    p->setPen(d.line);
    p->drawLine(option.rect.bottomLeft(), option.rect.bottomRight());
    if (index.column() == RowModel::mark)
      return draw_mark(*p, QRectF(option.rect), static_cast<Mark>(index.data(RowModel::mark_role).toInt()));
    if (index.column() == RowModel::kind) {
      if (const ConditionRow* row = model_.row_at(index.row()))
        draw_cutter_icon(*p, QRectF(option.rect.center().x() - 9, option.rect.top() + 3, 18, option.rect.height() - 6),
                         proposed_cutter(row->kind, row->diameter_mm.value_or(10)), d.accent);
      return;
    }
    const bool wrong = !index.data(RowModel::wrong_text_role).toString().isEmpty();
    const bool fault = !index.data(RowModel::fault_role).toString().isEmpty();
    const auto field = RowModel::field_of(index.column());
    const bool strong = field == RowField::diameter;
    const bool quiet = index.data(RowModel::derived_role).toBool();
    p->setPen(wrong ? d.error : fault ? d.warning_text : quiet ? d.quiet : d.ink);
    p->setFont(Look::get().text(12.5, strong));
    QRect r = option.rect.adjusted(6, 0, -8, 0);
    if (wrong || fault) {
      draw_mark(*p, QRectF(r.left() - 2, r.top(), 10, r.height()), wrong ? Mark::beyond : Mark::changed);
      r.setLeft(r.left() + 10);
    }
    p->drawText(r, static_cast<int>(index.data(Qt::TextAlignmentRole).toInt()),
                p->fontMetrics().elidedText(index.data().toString(), Qt::ElideRight, r.width()));
    if ((option.state & QStyle::State_HasFocus) && field) {
      p->setPen(QPen(d.accent, 1.4));
      p->setBrush(Qt::NoBrush);
      p->drawRect(option.rect.adjusted(1, 1, -2, -2));
    }
  }

  QWidget* createEditor(QWidget* parent, const QStyleOptionViewItem&, const QModelIndex&) const override {
    auto* edit = new QLineEdit(parent);
    edit->setObjectName(QStringLiteral("cell_editor"));
    edit->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    edit->setMaxLength(200);
    return edit;
  }
  void setEditorData(QWidget* editor, const QModelIndex& index) const override {
    auto* edit = static_cast<QLineEdit*>(editor);
    if (edit->isModified()) return;
    edit->setText(index.data(Qt::EditRole).toString());
    edit->selectAll();
  }
  void setModelData(QWidget* editor, QAbstractItemModel*, const QModelIndex& index) const override {
    const QString fault = model_.enter(index, static_cast<QLineEdit*>(editor)->text());
    if (!fault.isEmpty()) emit page_.said(fault, true);
  }

 private:
  RowModel& model_;
  TablesPage& page_;
};

}  // namespace

TablesPage::TablesPage(Workspace& workspace, QWidget* parent)
    : QWidget(parent),
      workspace_(workspace),
      model_(new RowModel(workspace, this)),
      views_(new SwitchRow({tr("Chart"), tr("Rows"), tr("Recipes"), tr("Compare")})),
      tables_(new SteadyCombo),
      name_(new QLineEdit),
      filter_(new FilterEdit(tr("Filter rows"), [this] { return grid_; })),
      add_(new QPushButton(tr("Add row"))),
      more_(new QPushButton(tr("More"))),
      only_context_(new QPushButton),
      new_recipe_(new QPushButton(tr("New recipe"))),
      count_(new QLabel),
      note_(new QLabel),
      empty_(new QLabel),
      stack_(new QStackedWidget),
      chart_(new ChartPane(workspace)),
      grid_(new QTableView),
      recipes_(make_recipes_section(
          workspace, [this](const TrailTarget& target) { show_row(target); }, this)),
      compare_(new CompareView(workspace)),
      import_(new ChangePreview(workspace)),
      legend_(new Legend) {
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(16, 12, 12, 8);
  layout->setSpacing(8);
  auto* head = new QHBoxLayout;
  head->setSpacing(8);
  head->addWidget(section_heading(tr("Tables"), 16));
  views_->setObjectName(QStringLiteral("table_views"));
  views_->setSizePolicy(QSizePolicy::Maximum, QSizePolicy::Fixed);
  head->addWidget(views_);
  set_tone(count_, Tone::quiet);
  head->addWidget(count_);
  head->addStretch(1);
  new_recipe_->setObjectName(QStringLiteral("new_recipe"));
  head->addWidget(new_recipe_);
  layout->addLayout(head);

  stack_->addWidget(chart_);
  auto* rows_page = new QWidget;
  build_rows(rows_page);
  stack_->addWidget(rows_page);
  stack_->addWidget(recipes_->list());
  stack_->addWidget(compare_);
  stack_->addWidget(import_);
  layout->addWidget(stack_, 1);
  layout->addWidget(legend_);

  connect(views_, &SwitchRow::chosen, this, [this](int i) { show_view(static_cast<View>(i)); });
  connect(chart_, &ChartPane::counted, this, &TablesPage::refresh);
  connect(chart_, &ChartPane::said, this, &TablesPage::said);
  connect(recipes_, &PartsSection::said, this, &TablesPage::said);
  connect(recipes_, &PartsSection::counted, this, [this] {
    if (view() == recipes) refresh();
  });
  connect(new_recipe_, &QPushButton::clicked, this, [this] { recipes_->add(new_recipe_); });
  connect(import_, &ChangePreview::said, this, &TablesPage::said);
  connect(import_, &ChangePreview::done, this, [this] { show_view(rows); });
  refresh();
  show_view(chart);
}

void TablesPage::build_rows(QWidget* rows_page) {
  auto* rows_layout = new QVBoxLayout(rows_page);
  rows_layout->setContentsMargins(0, 0, 0, 0);
  rows_layout->setSpacing(8);
  auto* tools = new QHBoxLayout;
  tools->setSpacing(6);
  tables_->setObjectName(QStringLiteral("table_choice"));
  tables_->setMinimumWidth(210);
  tables_->setAccessibleName(tr("Table"));
  name_->setObjectName(QStringLiteral("table_name"));
  name_->hide();
  only_context_->setCheckable(true);
  only_context_->setObjectName(QStringLiteral("only_context"));
  filter_->setFixedWidth(150);
  filter_->setObjectName(QStringLiteral("row_filter"));
  add_->setObjectName(QStringLiteral("add_row"));
  tools->addWidget(tables_);
  tools->addWidget(name_);
  tools->addWidget(only_context_);
  tools->addStretch(1);
  more_->setObjectName(QStringLiteral("more_rows"));
  more_->setToolTip(tr("Import and export CSV and XLSX, paste, data sheets, new tables"));
  tools->addWidget(filter_);
  tools->addWidget(add_);
  tools->addWidget(more_);
  rows_layout->addLayout(tools);
  grid_->setHorizontalHeader(new PlainHeader(11.5));
  grid_->setModel(model_);
  grid_->setObjectName(QStringLiteral("row_table"));
  grid_->setItemDelegate(new RowDelegate(*model_, *this));
  grid_->setSelectionBehavior(QAbstractItemView::SelectRows);
  grid_->setSelectionMode(QAbstractItemView::SingleSelection);
  grid_->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed |
                         QAbstractItemView::AnyKeyPressed);
  grid_->setTabKeyNavigation(true);
  grid_->setShowGrid(false);
  grid_->verticalHeader()->hide();
  grid_->verticalHeader()->setDefaultSectionSize(26);
  grid_->horizontalHeader()->setMinimumSectionSize(24);
  grid_->setHorizontalScrollMode(QAbstractItemView::ScrollPerPixel);
  const int widths[RowModel::column_count] = {20, 26, 88, 96, 104, 59, 66, 54, 62, 76, 62, 68};
  for (int i = 0; i < RowModel::column_count; ++i) grid_->setColumnWidth(i, widths[i]);
  grid_->horizontalHeader()->setSectionResizeMode(RowModel::material, QHeaderView::Stretch);
  empty_->setAlignment(Qt::AlignCenter);
  empty_->setWordWrap(true);
  rows_layout->addWidget(grid_, 1);
  rows_layout->addWidget(empty_, 1);
  set_tone(note_, Tone::quiet);
  note_->setFont(Look::get().text(11.5));
  note_->setWordWrap(true);
  rows_layout->addWidget(note_);
  connect(tables_, &QComboBox::activated, this,
          [this](int i) { show_table(Id::parse(tables_->itemData(i).toString().toStdString()).value_or(Id{})); });
  connect(filter_, &QLineEdit::textChanged, model_, &RowModel::set_text);
  connect(only_context_, &QPushButton::toggled, model_, &RowModel::set_only_context);
  connect(add_, &QPushButton::clicked, this, &TablesPage::add_row);
  connect(more_, &QPushButton::clicked, this, &TablesPage::choose_more);
  connect(new QShortcut(QKeySequence::Paste, grid_, nullptr, nullptr, Qt::WidgetShortcut), &QShortcut::activated, this,
          &TablesPage::paste);
  connect(grid_->selectionModel(), &QItemSelectionModel::currentRowChanged, this, [this](const QModelIndex& now) {
    const ConditionRow* row = model_->row_at(now.row());
    if (!row || resetting_) return;
    kept_row_ = row->id;
    emit row_chosen(row->id);
  });
  connect(model_, &QAbstractItemModel::modelAboutToBeReset, this, [this] {
    if (const ConditionRow* row = model_->row_at(grid_->currentIndex().row()); row && kept_row_.is_null())
      kept_row_ = row->id;
    resetting_ = true;  // the view briefly selects its first row
  });
  connect(model_, &QAbstractItemModel::modelReset, this, [this] {
    resetting_ = false;
    select_row(kept_row_, std::max<int>(RowModel::diameter, grid_->currentIndex().column()));
    refresh();
  });
  connect(model_, &QAbstractItemModel::headerDataChanged, this, &TablesPage::refresh);
  connect(name_, &QLineEdit::editingFinished, this, [this] {
    if (name_->isHidden()) return;
    name_->hide();
    tables_->show();
    rename_table(name_->text().trimmed());
  });
}

void TablesPage::show_view(View view) {
  stack_->setCurrentIndex(view);
  views_->set_current(view == importing ? rows : view);
  refresh();
  if (view == chart) chart_->view().setFocus();
  else if (view == rows) {
    // Otherwise the focus makes the first row current without highlighting it.
    const ConditionRow* first = model_->row_at(0);
    select_row(!current_row().is_null() ? current_row()
               : first                  ? first->id
                                        : Id{},
               std::max<int>(RowModel::diameter, grid_->currentIndex().column()));
    grid_->setFocus();
  } else if (view == recipes) recipes_->focus_target()->setFocus();
  else if (view == compare) compare_->table().setFocus();
  emit view_changed();
}

void TablesPage::show_table(const Id& table) {
  model_->set_table(table);
  if (model_->row_of(kept_row_) < 0 && model_->row_at(0)) select_row(model_->row_at(0)->id);
}

void TablesPage::show_row(const TrailTarget& target) {
  if (target.table.is_null()) {
    if (!workspace_.state().recipes.find(target.row)) return emit said(tr("This recipe was deleted."), true);
    show_view(recipes);
    return recipes_->select(target.row);
  }
  filter_->clear();
  only_context_->setChecked(false);
  show_view(rows);
  kept_row_ = target.row;
  model_->set_table(target.table);
  select_row(target.row);
}

void TablesPage::select_row(const Id& row, int column) {
  const int at = model_->row_of(row);
  if (at < 0) return;
  // Selected even where it is the current one already: a view that was made anew has a current row and no selection.
  grid_->selectionModel()->setCurrentIndex(model_->index(at, column),
                                           QItemSelectionModel::ClearAndSelect | QItemSelectionModel::Rows);
  grid_->scrollTo(model_->index(at, column));
}

Id TablesPage::current_row() const {
  const ConditionRow* row = model_->row_at(grid_->currentIndex().row());
  return row ? row->id : Id{};
}

void TablesPage::refresh() {
  tables_->clear();
  for (const ConditionTable& t : workspace_.state().tables) tables_->addItem(text_of(t.name), text_of(t.id.text()));
  tables_->addItem(tr("Starter rules, every kind"), text_of(starter_rules_id.text()));
  tables_->setCurrentIndex(tables_->findData(text_of(model_->table_id().text())));
  const WorkMaterial* material = workspace_.material();
  only_context_->setText(tr("Only %1, %2")
                             .arg(material ? text_of(material->name) : tr("no material"),
                                  label_text(label_of(workspace_.context().operation))));
  add_->setEnabled(model_->is_editable());
  add_->setToolTip(model_->is_editable() ? tr("Adds a row like the selected one, for another diameter (Ctrl+Return)")
                                         : tr("Shipped values cannot be changed; copy the row to a shop table"));
  const ConditionTable* table = model_->table();
  legend_->setVisible(view() == chart || view() == rows);
  new_recipe_->setVisible(view() == recipes);
  switch (view()) {
    case chart: count_->setText(chart_->count_text()); break;
    case rows:
      count_->setText(table ? tr("%1 of %2 rows").arg(model_->rowCount()).arg(table->rows.size()) : QString());
      break;
    case recipes: count_->setText(recipes_->count_text()); break;
    default: count_->clear();
  }
  const bool none = model_->rowCount() == 0;
  grid_->setVisible(!none);
  empty_->setVisible(none);
  empty_->setText(!table                ? tr("No tables yet. Press Ctrl+K and choose “New table”.")
                  : table->rows.empty() ? tr("This table has no rows yet. “Add row” makes the first, for the material "
                                             "and operation of the line above.")
                                        : tr("No row matches. Clear the filter, or turn off “Only …”."));
  if (table) {
    QString text =
        table->level == TableLevel::starter
            ? (model_->shows_rules() ? tr("Used where no row of any table fits; feeds grow with the diameter. ")
                                     : QString()) +
                  tr("Shipped starter values, unproven: %1 Copy a row to a shop table to change it.")
                      .arg(text_of(table->source))
            : tr("Type either side: vc or n, feed or vf; the grey value is calculated. vc and feed also take low – "
                 "target – high; ap and ae take mm or × D. A block from a spreadsheet is pasted at the current cell.");
    note_->setText(text);
  }
}

void TablesPage::focus_filter() {
  if (view() == chart) return chart_->focus_filter();
  show_view(rows);
  filter_->setFocus();
  filter_->selectAll();
}

}  // namespace pecorra

#include "moc_tables_page.cpp"
