// A library of 100,000 cutters: opening the shop against reading all its rows through SQLite's C interface; a keystroke
// in the filter against QSortFilterProxyModel over the same rows; importing them from CSV against splitting that file
// with libcsv; memory over the empty application.
#include <csv.h>
#include <malloc.h>
#include <sqlite3.h>
#include <unistd.h>

#include <QApplication>
#include <QElapsedTimer>
#include <QFile>
#include <QSettings>
#include <QSortFilterProxyModel>
#include <QTemporaryDir>
#include <algorithm>
#include <cstdio>

#include "../tests/support/made_library.h"
#include "app/cutters/cutters_page.h"
#include "app/look/look.h"
#include "formats/sheet/sheet_file.h"
#include "shop/library_file.h"

using namespace pecorra;

namespace {

constexpr std::size_t count = 100000;

double median(std::vector<double> v) {
  std::nth_element(v.begin(), v.begin() + static_cast<std::ptrdiff_t>(v.size() / 2), v.end());
  return v[v.size() / 2];
}

template <class Work>
double milliseconds(int times, Work&& work) {
  std::vector<double> all;
  for (int i = 0; i < times; ++i) {
    QElapsedTimer timer;
    timer.start();
    work();
    all.push_back(static_cast<double>(timer.nsecsElapsed()) / 1e6);
  }
  return median(std::move(all));
}

std::size_t resident_bytes() {
  QFile statm(QStringLiteral("/proc/self/statm"));
  if (!statm.open(QIODevice::ReadOnly)) return 0;
  return statm.readAll().split(' ')[1].toULongLong() * static_cast<std::size_t>(sysconf(_SC_PAGESIZE));
}

std::size_t read_all_rows(const QByteArray& file) {
  sqlite3* database = nullptr;
  sqlite3_open_v2(file.constData(), &database, SQLITE_OPEN_READONLY, nullptr);
  sqlite3_stmt* statement = nullptr;
  sqlite3_prepare_v2(database, "SELECT id, kind, revision, body FROM object ORDER BY rowid", -1, &statement, nullptr);
  std::size_t bytes = 0;
  while (sqlite3_step(statement) == SQLITE_ROW) {
    for (const int i : {0, 1, 3}) {
      const std::string text(reinterpret_cast<const char*>(sqlite3_column_text(statement, i)),
                             static_cast<std::size_t>(sqlite3_column_bytes(statement, i)));
      bytes += text.size();
    }
    bytes += static_cast<std::size_t>(sqlite3_column_int64(statement, 2));
  }
  sqlite3_finalize(statement);
  sqlite3_close(database);
  return bytes;
}

std::size_t split_csv(const QByteArray& text) {
  std::vector<std::vector<std::string>> lines(1);
  csv_parser parser;
  csv_init(&parser, 0);
  csv_parse(
      &parser, text.constData(), static_cast<std::size_t>(text.size()),
      [](void* data, std::size_t size, void* to) {
        static_cast<std::vector<std::vector<std::string>>*>(to)->back().emplace_back(static_cast<const char*>(data),
                                                                                     size);
      },
      [](int, void* to) { static_cast<std::vector<std::vector<std::string>>*>(to)->emplace_back(); }, &lines);
  csv_fini(&parser, nullptr, nullptr, &lines);
  csv_free(&parser);
  return lines.size();
}

}  // namespace

int main(int argc, char** argv) {
  QApplication application(argc, argv);
  QTemporaryDir dir;
  QSettings::setDefaultFormat(QSettings::IniFormat);
  QSettings::setPath(QSettings::IniFormat, QSettings::UserScope, dir.path());
  const std::string only = argc > 1 ? argv[1] : "";
  const auto wanted = [&](const char* what) { return only.empty() || only == what; };
  Look::get().dress(application);
  const QString file = dir.filePath(QStringLiteral("made.pecorra"));
  {
    const ShopState state = made_shop(count);
    if (const auto made = write_shop(state, file, QStringLiteral("Made")); !made)
      return std::fprintf(stderr, "%s\n", qPrintable(made.error().sentence())), 1;
  }
  malloc_trim(0);

  if (wanted("open")) {
    const QByteArray path = file.toUtf8();
    read_all_rows(path);
    std::optional<tl::expected<LoadedShop, StoreFault>> loaded;
    std::vector<double> times, references;  // turn by turn: the machine may be slower later
    for (int i = 0; i < 7; ++i) {
      loaded.reset();
      references.push_back(milliseconds(1, [&] { read_all_rows(path); }));
      times.push_back(milliseconds(1, [&] { loaded.emplace(load_shop(file)); }));
      if (!*loaded || (**loaded).state.cutters.size() != count || !(**loaded).faults.empty())
        std::fprintf(stderr, "not all read\n");
    }
    const double opening = median(std::move(times)), rows = median(std::move(references));
    std::printf("%-44s %8.1f ms, all rows through the C interface %.1f ms: %.2f x (at most 3)\n",
                "open a shop of 100,000 cutters", opening, rows, opening / rows);
  }

  if (wanted("import")) {
    ShopState state = made_shop(count);
    std::vector<const Cutter*> all;
    for (const Cutter& c : state.cutters) all.push_back(&c);
    CutterSheetWish wish;
    wish.keys = {"number",
                 "kind",
                 "name",
                 "diameter_mm",
                 "corner_radius_mm",
                 "flutes",
                 "flute_length_mm",
                 "reach_mm",
                 "shank_diameter_mm",
                 "overall_length_mm",
                 "helix_deg",
                 "point_angle_deg",
                 "tool_material",
                 "maker",
                 "series",
                 "order_code",
                 "coating",
                 "price",
                 "in_stock",
                 "notes"};
    Sheet sheet = cutter_sheet(all, wish);
    for (std::size_t i = 1; i < sheet.lines.size(); ++i) sheet.lines[i][0] = std::to_string(i);
    const QByteArray text = QByteArray::fromStdString(csv_text(sheet));
    const QString csv = dir.filePath(QStringLiteral("made.csv"));
    QFile out(csv);
    if (!out.open(QIODevice::WriteOnly) || out.write(text) != text.size()) return 1;
    out.close();
    sheet = {};
    state = {};
    all.clear();
    const ShopState empty = new_shop_state("Empty");
    double read_ms = 0, preview_ms = 0, change_ms = 0;
    std::size_t taken = 0;
    std::vector<double> times, references;
    for (int round = 0; round < 7; ++round) {
      references.push_back(milliseconds(1, [&] { split_csv(text); }));
      QElapsedTimer timer;
      timer.start();
      IncomingCutters incoming = read_cutter_file(csv, UnitSystem::metric, known_names(empty));
      read_ms = static_cast<double>(timer.nsecsElapsed()) / 1e6;
      const CutterPreview preview = preview_cutters(empty, empty.libraries[0], incoming);
      preview_ms = static_cast<double>(timer.nsecsElapsed()) / 1e6;
      const Change change = take_cutters(empty, empty.libraries[0], incoming, preview, QStringLiteral("made.csv"));
      change_ms = static_cast<double>(timer.nsecsElapsed()) / 1e6 - preview_ms;
      taken = change.objects.size();
      times.push_back(preview_ms + change_ms);  // up to the finished change
    }
    const double importing = median(std::move(times)), split = median(std::move(references));
    std::printf(
        "%-44s %8.1f ms, split by libcsv %.1f ms: %.2f x (at most 3); read after %.1f, preview after %.1f, the change "
        "made in %.1f, %zu taken\n",
        "import 100,000 lines of CSV", importing, split, importing / split, read_ms, preview_ms, change_ms, taken);
    const QString target = dir.filePath(QStringLiteral("target.pecorra"));
    if (write_shop(empty, target, QStringLiteral("Empty"))) {
      auto shop = Shop::open(target);
      IncomingCutters incoming = read_cutter_file(csv, UnitSystem::metric, known_names(empty));
      const CutterPreview preview = preview_cutters((*shop)->state(), empty.libraries[0], incoming);
      Change change = take_cutters((*shop)->state(), empty.libraries[0], incoming, preview, QStringLiteral("made.csv"));
      QElapsedTimer timer;
      timer.start();
      ReadChange read_change(std::move(change));
      const double readied = static_cast<double>(timer.nsecsElapsed()) / 1e6;
      timer.restart();
      (*shop)->apply(std::move(read_change));
      const double applied = static_cast<double>(timer.nsecsElapsed()) / 1e6;
      (*shop)->wait_until_saved(600000);
      std::printf("%-44s %8.1f ms on the interface thread, %.1f ms aside before it, on the disk after %.0f ms",
                  "  taken into the open shop", applied, readied, static_cast<double>(timer.nsecsElapsed()) / 1e6);
      timer.restart();
      (*shop)->undo();
      std::printf("; undone in %.1f ms\n", static_cast<double>(timer.nsecsElapsed()) / 1e6);
      (*shop)->wait_until_saved(600000);
    }
  }

  if (wanted("filter") || wanted("memory")) {
    malloc_trim(0);
    // The empty application: the same page over a shop without cutters.
    const QString none = dir.filePath(QStringLiteral("none.pecorra"));
    if (!write_shop(new_shop_state("None"), none, QStringLiteral("None"))) return 1;
    std::size_t before = 0;
    {
      auto shop = Shop::open(none);
      Workspace workspace(**shop);
      CuttersPage page(workspace);
      page.resize(800, 700);
      page.show();
      QApplication::processEvents();
      malloc_trim(0);
      before = resident_bytes();
    }
    auto shop = Shop::open(file);
    Workspace workspace(**shop);
    CuttersPage page(workspace);
    page.resize(800, 700);
    page.show();
    QApplication::processEvents();
    malloc_trim(0);
    const std::size_t after = resident_bytes();
    std::printf("%-44s %8.0f bytes a cutter (at most 2048)\n", "resident memory over the empty application",
                static_cast<double>(after - before) / count);
    if (wanted("filter")) {
      QSortFilterProxyModel proxy;
      auto* model = page.findChild<CutterModel*>();
      proxy.setSourceModel(model);
      proxy.setFilterKeyColumn(-1);
      proxy.setFilterCaseSensitivity(Qt::CaseInsensitive);
      auto* filter = page.findChild<QLineEdit*>(QStringLiteral("cutter_filter"));
      const QString typed = QStringLiteral("ferrow ball 7");
      std::vector<double> ours, theirs, painted;
      for (int n = 1; n <= typed.size(); ++n) {
        const QString text = typed.left(n);
        proxy.setFilterFixedString(QString());
        theirs.push_back(milliseconds(1, [&] { proxy.setFilterFixedString(text); }));
      }
      proxy.setSourceModel(nullptr);
      for (int round = 0; round < 3; ++round) {
        filter->clear();
        QApplication::processEvents();
        for (int n = 1; n <= typed.size(); ++n) {
          QElapsedTimer timer;
          timer.start();
          filter->setText(typed.left(n));
          ours.push_back(static_cast<double>(timer.nsecsElapsed()) / 1e6);
          QApplication::processEvents();
          painted.push_back(static_cast<double>(timer.nsecsElapsed()) / 1e6);
        }
      }
      const double slowest = *std::max_element(ours.begin(), ours.end()),
                   slowest_painted = *std::max_element(painted.begin(), painted.end());
      std::printf(
          "%-44s %8.2f ms (slowest %.1f; painted %.1f, slowest %.1f), QSortFilterProxyModel %.1f ms: %.0f x (at least "
          "20)\n",
          "a keystroke in the filter", median(ours), slowest, median(painted), slowest_painted, median(theirs),
          median(theirs) / median(ours));
    }
  }
  return 0;
}
