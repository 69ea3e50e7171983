// Writes a library of a shop into its shared file once: for tests in which the disk fails.
// shared_write SHOP FILE: 0 and written, or 1 and why.
#include <QCoreApplication>
#include <cstdio>

#include "shop/shared_file.h"
#include "shop/shop.h"

using namespace pecorra;

int main(int argc, char** argv) {
  QCoreApplication application(argc, argv);
  if (argc != 3) return 2;
  const auto loaded = load_shop(QString::fromLocal8Bit(argv[1]));
  if (!loaded) return 2;
  SharedPrints common;
  const SharedReport report = exchange_shared(shared_side(loaded->state, loaded->state.libraries[0]),
                                              QString::fromLocal8Bit(argv[2]), common, true);
  if (report.fault.isEmpty() && report.written > 0) return 0;
  std::fprintf(stderr, "%s\n", qPrintable(report.fault));
  return 1;
}
