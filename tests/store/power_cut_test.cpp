// The power goes at every single write, truncation, deletion and synchronisation of a row of changes. Whatever is found
// on the disk afterwards must open, hold every change that was accepted, and none by half.
#include <QCoreApplication>
#include <QTemporaryDir>
#include <cstdio>
#include <filesystem>
#include <nlohmann/json.hpp>

#include "cut_vfs.h"
#include "store/store.h"

using namespace pecorra;

namespace {

int failures = 0;
void expect(bool fine, const char* what, long at, int variant) {
  if (fine) return;
  ++failures;
  std::printf("FAILED: %s (cut at operation %ld, variant %d)\n", what, at, variant);
}

const Id object{1, 1};
std::string body(int n) {
  return "{\"number\":" + std::to_string(n) + ",\"notes\":\"" + std::string(3000, static_cast<char>('a' + n % 26)) +
         "\"}";
}

// Ten changes, each of an object and a new one; returns how many were accepted.
int edit(const QString& file) {
  auto store = Store::open(file);
  if (!store) return 0;
  int accepted = 0;
  for (int n = 1; n <= 10; ++n) {
    StoredChange change{"change " + std::to_string(n),
                        "m",
                        "t",
                        {{ObjectKind::cutter, object, n, body(n - 1), body(n)},
                         {ObjectKind::cutter, Id{2, static_cast<std::uint64_t>(n)}, 0, {}, body(n)}}};
    if (!(*store)->commit(change)) return accepted;
    ++accepted;
  }
  return accepted;
}

void verify(const QString& file, int accepted, long at, int variant) {
  const auto store = Store::open(file);
  if (!store) std::printf("  %s\n", qPrintable(store.error().sentence()));
  expect(store.has_value(), "the file opens", at, variant);
  if (!store) return;
  const auto objects = (*store)->load();
  expect(objects.has_value(), "the file can be read", at, variant);
  if (!objects) return;
  int number = -1, others = 0;
  for (const StoredObject& o : *objects) {
    const auto json = nlohmann::json::parse(o.body, nullptr, false);
    expect(json.is_object(), "every object is whole", at, variant);
    if (o.id == object) number = json.value("number", -1);
    else ++others;
  }
  expect(number >= accepted, "no accepted change is lost", at, variant);
  expect(number <= accepted + 1, "nothing that was never asked for is there", at, variant);
  expect(others == number, "no change is there by half", at, variant);
  expect(static_cast<int>((*store)->history(object, 100)->size()) == number + 1, "the history says the same", at,
         variant);
}

}  // namespace

int main(int argc, char** argv) {
  QCoreApplication application(argc, argv);
  test::install_cut_vfs();
  long cuts = 0;
  for (long at = 1;; ++at) {
    test::start_afresh();
    QTemporaryDir dir;
    const QString file = dir.filePath("shop.pecorra");
    {
      auto store = Store::create(file);
      if (!store || !(*store)->commit({"made", "m", "t", {{ObjectKind::cutter, object, 0, {}, body(0)}}})) return 2;
    }
    test::start_afresh();
    test::cut_power_at(at);
    const int accepted = edit(file);
    const bool cut = test::power_is_off();
    const QString folder = dir.path();
    for (int variant = 0; variant < 3; ++variant) {
      const QString found = dir.filePath(QStringLiteral("found%1").arg(variant));
      test::write_found_files(folder.toStdString(), found.toStdString(), static_cast<test::Unsynced>(variant));
    }
    test::start_afresh();
    for (int variant = 0; variant < 3; ++variant) {
      test::start_afresh();
      verify(dir.filePath(QStringLiteral("found%1/shop.pecorra").arg(variant)), accepted, at, variant);
    }
    if (!cut) {
      expect(accepted == 10, "without a cut everything is accepted", at, -1);
      break;
    }
    ++cuts;
  }
  std::printf("power cut at %ld operations, 3 kinds of disk each: %d failures\n", cuts, failures);
  return failures == 0 && cuts > 20 ? 0 : 1;
}
