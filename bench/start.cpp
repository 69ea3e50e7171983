// Start to first painted window, ours against the bare one, in turn; medians and their ratio.
#include <QCoreApplication>
#include <QElapsedTimer>
#include <QProcess>
#include <QTemporaryDir>
#include <algorithm>
#include <cstdio>
#include <vector>

#include "shop/demo.h"

int main(int argc, char** argv) {
  using namespace pecorra;
  QCoreApplication application(argc, argv);
  QTemporaryDir dir;
  const QString file = dir.filePath("Teasel Yard.pecorra");
  const ShopState shop = demo_state();
  const QString rows = QString::number(shop.cutters.size());
  if (!write_shop(shop, file, QStringLiteral("made"))) return 1;
  auto once = [&](const char* program) {
    QElapsedTimer timer;
    timer.start();
    QProcess process;
    process.start(QString::fromLocal8Bit(program), {file, rows});
    if (!process.waitForFinished(30000) || process.exitCode() != 0) return -1.0;
    return static_cast<double>(timer.nsecsElapsed()) / 1e6;
  };
  std::vector<double> ours, bare;
  for (int i = 0; i < 23; ++i) {
    const double a = once(WINDOW), b = once(BARE);
    if (a < 0 || b < 0) {
      std::fprintf(stderr, "a window did not start\n");
      return 1;
    }
    if (i < 2) continue;  // the disk's cache
    ours.push_back(a);
    bare.push_back(b);
  }
  auto median = [](std::vector<double> v) {
    std::nth_element(v.begin(), v.begin() + static_cast<std::ptrdiff_t>(v.size() / 2), v.end());
    return v[v.size() / 2];
  };
  std::printf("%-44s %10s %10s %9s\n", "start to first painted window", "ours", "bare Qt", "ratio");
  std::printf("%-44s %7.0f ms %7.0f ms %7.2f ×   (at most 2)\n", "  demo shop", median(ours), median(bare),
              median(ours) / median(bare));
  return 0;
}
