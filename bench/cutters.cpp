// Silhouette, checks and drawing geometry of one cutter, on average over all kinds, against building the same outline
// with QPainterPath; and scrolling through 5,000 rows with icons against the same rows without.
#include <QApplication>
#include <QElapsedTimer>
#include <QPainter>
#include <QScrollBar>
#include <QSettings>
#include <QTemporaryDir>
#include <algorithm>
#include <cstdio>

#include "../tests/support/random_cutters.h"
#include "app/cutters/cutters_page.h"
#include "app/look/look.h"
#include "app/widgets/sheet_painter.h"
#include "core/drawing/cutter_sheet.h"
#include "shop/demo.h"

using namespace pecorra;

namespace {

double microseconds(const QElapsedTimer& timer, std::size_t calls) {
  return static_cast<double>(timer.nsecsElapsed()) / 1e3 / static_cast<double>(calls);
}

double median(std::vector<double> v) {
  std::nth_element(v.begin(), v.begin() + static_cast<std::ptrdiff_t>(v.size() / 2), v.end());
  return v[v.size() / 2];
}

// 99th percentile of painting the list once, at places all over it, in ms.
double slow_paint(QTableView& table) {
  std::vector<double> times;
  QImage paper(table.viewport()->size(), QImage::Format_RGB32);
  const int last = table.verticalScrollBar()->maximum();
  for (int i = 0; i <= 400; ++i) {
    table.verticalScrollBar()->setValue(static_cast<int>(static_cast<qint64>(last) * i / 400));
    QElapsedTimer timer;
    timer.start();
    QPainter painter(&paper);
    table.viewport()->render(&painter);
    painter.end();
    times.push_back(static_cast<double>(timer.nsecsElapsed()) / 1e6);
  }
  std::sort(times.begin(), times.end());
  return times[times.size() * 99 / 100];
}

}  // namespace

int main(int argc, char** argv) {
  QApplication application(argc, argv);
  QTemporaryDir dir;
  QSettings::setDefaultFormat(QSettings::IniFormat);
  QSettings::setPath(QSettings::IniFormat, QSettings::UserScope, dir.path());
  Look::get().dress(application);
  std::mt19937 random(1);
  std::vector<Cutter> cutters;
  for (const CutterKind kind : cutter_kinds())
    for (int i = 0; i < 50; ++i) cutters.push_back(random_cutter(kind, random));
  SheetWish wish;
  std::vector<double> ours, paths, ratios;
  std::size_t sum = 0;
  for (int round = 0; round < 15; ++round) {
    QElapsedTimer timer;
    timer.start();
    for (const Cutter& c : cutters) {
      Profile profile = silhouette(c);  // checks the cutter first
      sum += lay_out(c, std::move(profile), wish).marks.size();
    }
    ours.push_back(microseconds(timer, cutters.size()));
    std::vector<Profile> profiles;
    for (const Cutter& c : cutters) profiles.push_back(silhouette(c));
    timer.restart();
    for (const Profile& profile : profiles) sum += static_cast<std::size_t>(silhouette_path(profile).elementCount());
    paths.push_back(microseconds(timer, profiles.size()));
    ratios.push_back(ours.back() / paths.back());
  }
  std::printf("%-44s %10s %10s %9s\n", "one cutter, all kinds", "ours", "path only", "ratio");
  std::printf("%-44s %7.1f µs %7.1f µs %7.1f ×   (at most 20 µs)\n", "  silhouette, checks, drawing geometry",
              median(ours), median(paths), median(ratios));

  ShopState state = demo_state();
  const Id library = state.libraries[0].id;
  for (int i = 0; i < 5000; ++i) {
    Cutter c = cutters[static_cast<std::size_t>(i) % cutters.size()];
    c.id = Id{7, static_cast<std::uint64_t>(i) + 1};
    c.library = library;
    c.number = 1000 + i;
    c.name = suggested_name(c);
    state.cutters.put(std::move(c));
  }
  const QString file = dir.filePath(QStringLiteral("many.pecorra"));
  if (!write_shop(state, file, QStringLiteral("made"))) return 1;
  auto shop = Shop::open(file);
  if (!shop) return 1;
  Workspace workspace(**shop);
  CuttersPage page(workspace);
  page.resize(810, 720);
  page.show();
  QApplication::processEvents();
  std::vector<double> with, without, by;
  for (int round = 0; round < 5; ++round) {
    page.table().setColumnHidden(CutterModel::icon, false);
    QApplication::processEvents();
    with.push_back(slow_paint(page.table()));
    page.table().setColumnHidden(CutterModel::icon, true);
    QApplication::processEvents();
    without.push_back(slow_paint(page.table()));
    by.push_back(with.back() / without.back());
  }
  std::printf("%-44s %10s %10s %9s\n", "scrolling 5,000 rows, 99th percentile", "icons", "no icons", "ratio");
  std::printf("%-44s %7.2f ms %7.2f ms %7.2f ×   (at most 2)\n", "  painting the list once", median(with),
              median(without), median(by));
  return sum > 0 ? 0 : 1;
}
