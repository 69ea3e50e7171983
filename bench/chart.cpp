// The chart of 2,000 cutters × 120 materials: painting what is seen after the context changed, against painting the
// same number of texts in a bare table view; the time until all cells are known while the window stays free; and the
// memory.
#include <QApplication>
#include <QElapsedTimer>
#include <QHeaderView>
#include <QPainter>
#include <QSettings>
#include <QStandardItemModel>
#include <QTableView>
#include <QTemporaryDir>
#include <algorithm>
#include <cstdio>

#include "../tests/support/random_cutters.h"
#include "app/look/look.h"
#include "app/tables/chart_view.h"
#include "shop/demo.h"

using namespace pecorra;

namespace {

double median(std::vector<double> v) {
  std::nth_element(v.begin(), v.begin() + static_cast<std::ptrdiff_t>(v.size() / 2), v.end());
  return v[v.size() / 2];
}
double milliseconds(const QElapsedTimer& timer) { return static_cast<double>(timer.nsecsElapsed()) / 1e6; }

ShopState large_shop() {
  ShopState state = demo_state();
  std::mt19937 random(2);
  const Id library = state.libraries[0].id;
  const auto kinds = cutter_kinds();
  for (int i = static_cast<int>(state.cutters.size()); i < 2000; ++i) {
    Cutter c = random_cutter(kinds[static_cast<std::size_t>(i) % kinds.size()], random);
    c.id = Id{7, static_cast<std::uint64_t>(i) + 1};
    c.library = library;
    c.number = 1000 + i;
    c.name = suggested_name(c);
    state.cutters.put(std::move(c));
  }
  int cut = 0;
  for (std::size_t i = 0; i < state.materials.size(); ++i) {
    WorkMaterial m = state.materials[i];
    m.cut_here = cut < 120;
    cut += m.cut_here;
    state.materials.put(m);
  }
  return state;
}

}  // namespace

int main(int argc, char** argv) {
  QApplication application(argc, argv);
  QTemporaryDir dir;
  QSettings::setDefaultFormat(QSettings::IniFormat);
  QSettings::setPath(QSettings::IniFormat, QSettings::UserScope, dir.path());
  Look::get().dress(application);
  const QString file = dir.filePath(QStringLiteral("large.pecorra"));
  if (!write_shop(large_shop(), file, QStringLiteral("made"))) return 1;
  auto shop = Shop::open(file);
  if (!shop) return 1;
  Workspace workspace(**shop);
  ChartView view(workspace);
  view.resize(810, 720);
  view.show();
  while (!view.is_complete()) QApplication::processEvents();

  // The reference: a bare table view with as many cells of two figures in sight.
  QStandardItemModel model(26, 9);
  for (int r = 0; r < model.rowCount(); ++r)
    for (int c = 0; c < model.columnCount(); ++c)
      model.setItem(r, c, new QStandardItem(QString::number(1000 + 37 * r + c)));
  QTableView bare;
  bare.setModel(&model);
  bare.horizontalHeader()->setDefaultSectionSize(90);
  bare.verticalHeader()->setDefaultSectionSize(27);
  bare.resize(810, 720);
  bare.show();
  QApplication::processEvents();

  std::vector<double> ours, theirs, ratios, complete, longest;
  QImage paper(view.viewport()->size(), QImage::Format_RGB32);
  const OperationKind operations[] = {OperationKind::slot, OperationKind::side_rough};
  for (int round = 0; round < 21; ++round) {
    Context context = workspace.context();
    context.operation = operations[round % 2];
    QElapsedTimer timer;
    timer.start();
    workspace.set_context(context);  // everything in it is worked out anew
    {
      QPainter painter(&paper);
      view.viewport()->render(&painter);
    }
    ours.push_back(milliseconds(timer));
    double slice = 0;
    while (!view.is_complete()) {
      QElapsedTimer step;
      step.start();
      QApplication::processEvents();
      slice = std::max(slice, milliseconds(step));
    }
    complete.push_back(milliseconds(timer));
    longest.push_back(slice);
    timer.restart();
    {
      QPainter painter(&paper);
      bare.viewport()->render(&painter);
    }
    theirs.push_back(milliseconds(timer));
    ratios.push_back(ours.back() / theirs.back());
  }
  const ChartGrid& grid = view.grid();
  std::printf("%-52s %10s %10s %9s\n", "chart of 2,000 cutters × materials", "ours", "bare", "ratio");
  std::printf("%-52s %7.2f ms %7.2f ms %7.2f ×   (a frame is 16.7 ms)\n", "  context changed, what is seen painted",
              median(ours), median(theirs), median(ratios));
  std::printf("%-52s %7.1f ms                        (at most 250 ms)\n", "  every cell known", median(complete));
  std::printf("%-52s %7.2f ms                        longest time the window was busy with it\n", "  ",
              median(longest));
  std::printf("%-52s %7.1f MB                        %d × %d = %d cells\n", "  memory",
              static_cast<double>(grid.bytes()) / 1e6, grid.row_count(), grid.column_count(),
              grid.row_count() * grid.column_count());
  return 0;
}
