// Every page in both unit systems and three window sizes: no text is cut off but where it scrolls, and none is over
// another.
#include <QAbstractButton>
#include <QHeaderView>
#include <QLabel>
#include <QScrollBar>
#include <QTableView>
#include <QTextDocumentFragment>

#include "app/tables/chart_view.h"
#include "app/widgets/headroom_bars.h"
#include "painted_texts.h"
#include "window_fixture.h"

using namespace pecorra;

namespace {

QString name_of(const QWidget& w) {
  return QString::fromLatin1(w.metaObject()->className()) + QLatin1Char(' ') + w.objectName();
}

void check_labels(const QWidget& window, const QString& where) {
  for (QLabel* label : window.findChildren<QLabel*>()) {
    if (!label->isVisible() || label->text().isEmpty() || label->wordWrap()) continue;
    if (label->sizePolicy().horizontalPolicy() == QSizePolicy::Ignored && label->toolTip() == label->text()) continue;
    INFO(where.toStdString() << ": " << name_of(*label).toStdString() << " “" << label->text().toStdString() << "”");
    const QString text = QTextDocumentFragment::fromHtml(label->text()).toPlainText();
    CHECK(label->fontMetrics().horizontalAdvance(text) <= label->contentsRect().width() + 1);
  }
}

void check_buttons(const QWidget& window, const QString& where) {
  for (QAbstractButton* button : window.findChildren<QAbstractButton*>()) {
    if (!button->isVisible() || button->text().isEmpty()) continue;
    INFO(where.toStdString() << ": " << name_of(*button).toStdString() << " “" << button->text().toStdString() << "”");
    CHECK(button->fontMetrics().horizontalAdvance(button->text()) <= button->width() - 2);
  }
}

void check_tables(const QWidget& window, const QString& where) {
  for (QTableView* table : window.findChildren<QTableView*>()) {
    if (!table->isVisible() || !table->horizontalHeader()->isVisible()) continue;
    for (int column = 0; column < table->model()->columnCount(); ++column) {
      if (table->isColumnHidden(column)) continue;
      const QString head = table->model()->headerData(column, Qt::Horizontal, Qt::DisplayRole).toString();
      if (head.isEmpty()) continue;  // a mark or a drawing
      INFO(where.toStdString() << ": " << name_of(*table).toStdString() << ", heading “" << head.toStdString() << "”");
      CHECK(table->horizontalHeader()->fontMetrics().horizontalAdvance(head) <= table->columnWidth(column) - 4);
      for (int row = 0; row < std::min(20, table->model()->rowCount()); ++row) {
        const QString text = table->model()->index(row, column).data().toString();
        INFO("row " << row << ": “" << text.toStdString() << "”");
        CHECK(table->fontMetrics().horizontalAdvance(text) <= table->columnWidth(column) - 12);
      }
    }
  }
}

// What a view paints itself: within its place but where the window ends, and not over its neighbour.
void check_painted(QWidget& view, double right, const QString& where) {
  const std::vector<test::PaintedText> texts = test::TextRecorder::of(view);
  const test::PaintedText* before = nullptr;
  for (const test::PaintedText& t : texts) {
    INFO(where.toStdString() << ": painted “" << t.text.toStdString() << "”");
    if (t.place.left() < right) {
      CHECK(t.place.left() >= t.clip.left() - 1);
      CHECK(t.place.right() <= t.clip.right() + 1);
      CHECK(t.place.right() <= right + 1);
    }
    if (before && std::abs(before->place.top() - t.place.top()) < 2 && before->place.left() < t.place.left()) {
      INFO("beside “" << before->text.toStdString() << "”");
      CHECK(before->place.right() <= t.place.left() + 1);
    }
    before = &t;
  }
}

void check_painters(const QWidget& window, const QString& where) {
  auto* chart = window.findChild<ChartView*>();
  if (chart && chart->isVisible()) {
    chart->horizontalScrollBar()->setValue(0);
    // Up to the last column that is seen whole.
    const int columns = (chart->viewport()->width() - ChartView::name_width) / ChartView::cell_width;
    CHECK(test::TextRecorder::of(*chart->viewport()).size() > 50);
    check_painted(*chart->viewport(), ChartView::name_width + columns * ChartView::cell_width - 1, where);
  }
  for (HeadroomBars* bars : window.findChildren<HeadroomBars*>())
    if (bars->isVisible()) check_painted(*bars, bars->width() - 1, where);
}

// Siblings that are seen and lie over each other.
void check_overlaps(const QWidget& parent, const QString& where) {
  const auto children = parent.findChildren<QWidget*>(QString(), Qt::FindDirectChildrenOnly);
  for (qsizetype i = 0; i < children.size(); ++i) {
    const QWidget& a = *children[i];
    if (!a.isVisible() || a.isWindow()) continue;
    check_overlaps(a, where);
    if (!qobject_cast<const QLabel*>(&a) && !qobject_cast<const QAbstractButton*>(&a)) continue;
    for (qsizetype j = i + 1; j < children.size(); ++j) {
      const QWidget& b = *children[j];
      if (!b.isVisible() || b.isWindow()) continue;
      if (!qobject_cast<const QLabel*>(&b) && !qobject_cast<const QAbstractButton*>(&b)) continue;
      INFO(where.toStdString() << ": " << name_of(a).toStdString() << " over " << name_of(b).toStdString());
      CHECK_FALSE(a.geometry().adjusted(1, 1, -1, -1).intersects(b.geometry().adjusted(1, 1, -1, -1)));
    }
  }
}

}  // namespace

TEST_CASE("no text is cut off or over another, on any page, in both unit systems and three window sizes", "[fit]") {
  test::Window w;
  w.choose_cutter(219);
  const auto look = [&](const QString& where) {
    QApplication::processEvents();
    QApplication::processEvents();
    check_labels(*w.window, where);
    check_buttons(*w.window, where);
    check_tables(*w.window, where);
    check_overlaps(*w.window, where);
    check_painters(*w.window, where);
  };
  for (const UnitSystem units : {UnitSystem::metric, UnitSystem::inch}) {
    Context context = w.workspace().context();
    context.units = units;
    w.workspace().set_context(context);
    for (const QSize size : {QSize(1280, 800), QSize(1600, 900), QSize(1920, 1080)}) {
      w.window->resize(size);
      const QString at = QStringLiteral("%1 × %2, %3, ")
                             .arg(size.width())
                             .arg(size.height())
                             .arg(units == UnitSystem::inch ? "inch" : "mm");
      for (const auto& [page, name] : {std::pair{MainWindow::cutters, "cutters"},
                                       {MainWindow::holders, "holders"},
                                       {MainWindow::tables, "tables"},
                                       {MainWindow::jobs, "jobs"},
                                       {MainWindow::materials, "materials"},
                                       {MainWindow::machines, "machines"},
                                       {MainWindow::stores, "shop"}}) {
        w.window->show_page(page);
        if (page == MainWindow::jobs) w.wait_planned();
        look(at + QLatin1String(name));
      }
      w.window->show_page(MainWindow::stores);
      for (int section = 0; section <= PartsPage::number_blocks; ++section) {
        w.window->shop_page().show_section(section);
        look(at + QStringLiteral("shop, section %1").arg(section));
      }
      w.window->show_page(MainWindow::machines);
      for (int section = 0; section < 4; ++section) {
        w.window->parts_page(MainWindow::machines).show_section(section);
        look(at + QStringLiteral("machines, section %1").arg(section));
      }
      w.window->parts_page(MainWindow::machines).show_section(0);
      w.window->show_page(MainWindow::jobs);
      w.wait_planned();
      w.window->jobs_page().play_bar().go_to(60);
      look(at + QLatin1String("job played"));
      w.window->jobs_page().play_bar().close();
      w.window->show_page(MainWindow::tables);
      for (const auto& [view, name] : {std::pair{TablesPage::chart, "chart"},
                                       {TablesPage::rows, "rows"},
                                       {TablesPage::recipes, "recipes"},
                                       {TablesPage::compare, "compare"}}) {
        w.window->tables_page().show_view(view);
        look(at + QLatin1String(name));
      }
      w.window->show_page(MainWindow::cutters);
      for (const auto& [side, name] : {std::pair{CutterBench::sizes, "sizes"},
                                       {CutterBench::assembly, "assembly"},
                                       {CutterBench::history, "history"},
                                       {CutterBench::conditions, "conditions"}}) {
        w.window->cutter_bench().show_side(side);
        look(at + QLatin1String(name));
      }
      REQUIRE(w.window->run("what_if"));
      look(at + QLatin1String("what if"));
      w.window->show_page(MainWindow::cutters);
    }
  }
}
