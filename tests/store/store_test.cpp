// The shop's file: changes whole or not at all, conflicts, history, and files that cannot be used.
#include <sqlite3.h>
#include <unistd.h>
#include <QDir>
#include <QFile>
#include <QTemporaryDir>
#include <QThread>
#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

#include "../support/core_application.h"
#include "store/store.h"

using namespace pecorra;

PECORRA_CORE_APPLICATION_TESTS

namespace {

const Id first{1, 1}, second{1, 2};

StoredEdit made(const Id& id, const std::string& body) { return {ObjectKind::cutter, id, 0, {}, body}; }
StoredEdit changed(const Id& id, std::int64_t base, const std::string& before, const std::string& after) {
  return {ObjectKind::cutter, id, base, before, after};
}

struct Folder {
  QTemporaryDir dir;
  QString file = dir.filePath("a.pecorra");
  std::unique_ptr<Store> make() {
    auto store = Store::create(file);
    REQUIRE(store.has_value());
    return std::move(*store);
  }
  StoreTrouble trouble(const QString& name) {
    const auto store = Store::open(name);
    REQUIRE_FALSE(store.has_value());
    CHECK_FALSE(store.error().sentence().isEmpty());
    return store.error().trouble;
  }
};

void sql(const QString& file, const char* text) {
  sqlite3* db = nullptr;
  REQUIRE(sqlite3_open(file.toUtf8().constData(), &db) == SQLITE_OK);
  CHECK(sqlite3_exec(db, text, nullptr, nullptr, nullptr) == SQLITE_OK);
  sqlite3_close(db);
}

}  // namespace

TEST_CASE("what is committed is there after opening again, with its history") {
  Folder f;
  {
    auto store = f.make();
    REQUIRE(
        store
            ->commit(
                {"New end mill", "maud", "2026-03-01T10:00:00Z", {made(first, R"({"diameter_mm":12,"name":"Ø12"})")}})
            .has_value());
    REQUIRE(
        store
            ->commit({"Diameter 12 → 16 mm",
                      "tam",
                      "2026-03-02T10:00:00Z",
                      {changed(first, 1, R"({"diameter_mm":12,"name":"Ø12"})", R"({"diameter_mm":16,"name":"Ø12"})")}})
            .has_value());
  }
  const auto store = Store::open(f.file);
  REQUIRE(store.has_value());
  const auto objects = (*store)->load();
  REQUIRE(objects.has_value());
  REQUIRE(objects->size() == 1);
  CHECK(objects->at(0).body == R"({"diameter_mm":16,"name":"Ø12"})");
  CHECK(objects->at(0).revision == 2);
  const auto history = (*store)->history(first, 10);
  REQUIRE(history.has_value());
  REQUIRE(history->size() == 2);
  CHECK(history->at(0).who == "tam");
  CHECK(history->at(0).label == "Diameter 12 → 16 mm");
  CHECK(nlohmann::json::parse(history->at(0).before) == nlohmann::json{{"diameter_mm", 12}});  // only what changed
  CHECK(nlohmann::json::parse(history->at(0).after) == nlohmann::json{{"diameter_mm", 16}});
  CHECK((*store)->history(second, 10)->empty());
}

TEST_CASE("a change is written whole or not at all") {
  Folder f;
  auto store = f.make();
  REQUIRE(store->commit({"a", "m", "t", {made(first, "{}")}}).has_value());
  // The second edit stands on a revision that is not there.
  const auto refused = store->commit({"b", "m", "t", {made(second, "{}"), changed(first, 7, "{}", R"({"x":1})")}});
  REQUIRE_FALSE(refused.has_value());
  CHECK(refused.error().trouble == StoreTrouble::conflict);
  CHECK(refused.error().object == first);
  CHECK(store->load()->size() == 1);
  CHECK(store->history(std::nullopt, 10)->size() == 1);
  // An object of the same id cannot be made twice; deleting needs the right revision too.
  CHECK(store->commit({"c", "m", "t", {made(first, "{}")}}).error().trouble == StoreTrouble::conflict);
  CHECK(store->commit({"d", "m", "t", {changed(first, 9, "{}", "")}}).error().trouble == StoreTrouble::conflict);
  CHECK(store->commit({"e", "m", "t", {changed(first, 1, "{}", "")}}).has_value());
  CHECK(store->load()->empty());
}

TEST_CASE("two programs on one file see each other's changes and never lose one") {
  Folder f;
  auto mine = f.make();
  REQUIRE(mine->commit({"a", "m", "t", {made(first, "{}")}}).has_value());
  auto theirs = std::move(*Store::open(f.file));
  const auto seq = mine->last_seq();
  mine->changed_outside();
  CHECK_FALSE(mine->changed_outside());
  REQUIRE(theirs->commit({"b", "t", "t", {changed(first, 1, "{}", R"({"x":1})"), made(second, "{}")}}).has_value());
  CHECK(mine->changed_outside());
  CHECK(mine->changed_since(seq)->size() == 2);
  CHECK(mine->commit({"late", "m", "t", {changed(first, 1, "{}", R"({"x":2})")}}).error().trouble ==
        StoreTrouble::conflict);
  REQUIRE(theirs->commit({"c", "t", "t", {changed(second, 1, "{}", "")}}).has_value());
  const auto now = mine->changed_since(seq);
  REQUIRE(now->size() == 2);
  CHECK(now->at(1).body.empty());  // gone
}

TEST_CASE("files that cannot be used are named plainly and left as they are") {
  Folder f;
  CHECK(f.trouble(f.dir.filePath("missing.pecorra")) == StoreTrouble::missing);
  QFile other(f.dir.filePath("words.pecorra"));
  REQUIRE(other.open(QIODevice::WriteOnly));
  other.write("these are only words, and quite a lot of them");
  other.close();
  CHECK(f.trouble(other.fileName()) == StoreTrouble::not_a_shop);
  f.make();
  // Another program's database.
  const QString foreign = f.dir.filePath("foreign.pecorra");
  sql(foreign, "CREATE TABLE t (a)");
  CHECK(f.trouble(foreign) == StoreTrouble::not_a_shop);
  // A newer version: which one, and what this program reads.
  const QString newer = f.dir.filePath("newer.pecorra");
  QFile::copy(f.file, newer);
  sql(newer, "PRAGMA user_version = 99");
  const auto refused = Store::open(newer);
  REQUIRE_FALSE(refused.has_value());
  CHECK(refused.error().trouble == StoreTrouble::newer_version);
  CHECK(refused.error().sentence().contains("99"));
  // A shop is never made over a file.
  CHECK_FALSE(Store::create(f.file).has_value());
}

TEST_CASE("damage is found and nothing is overwritten") {
  Folder f;
  {
    auto store = f.make();
    std::vector<StoredEdit> edits;
    for (std::uint64_t i = 1; i <= 400; ++i)
      edits.push_back(made(Id{9, i}, std::string("{\"name\":\"") + std::string(200, 'x') + "\"}"));
    REQUIRE(store->commit({"many", "m", "t", edits}).has_value());
  }
  QFile file(f.file);
  REQUIRE(file.open(QIODevice::ReadWrite));
  const qint64 size = file.size();
  file.seek(size / 2);
  file.write(QByteArray(8192, '\x5a'));
  file.close();
  QFile before(f.file);
  REQUIRE(before.open(QIODevice::ReadOnly));
  const QByteArray bytes = before.readAll();
  before.close();
  CHECK(f.trouble(f.file) == StoreTrouble::damaged);
  REQUIRE(before.open(QIODevice::ReadOnly));
  CHECK(before.readAll() == bytes);
  // Cut short.
  before.close();
  REQUIRE(QFile::resize(f.file, size / 3));
  CHECK(f.trouble(f.file) == StoreTrouble::damaged);
}

TEST_CASE("a locked file is said to be locked") {
  Folder f;
  f.make();
  sqlite3* db = nullptr;
  REQUIRE(sqlite3_open(f.file.toUtf8().constData(), &db) == SQLITE_OK);
  REQUIRE(sqlite3_exec(db, "BEGIN IMMEDIATE", nullptr, nullptr, nullptr) == SQLITE_OK);
  auto store = Store::open(f.file);
  REQUIRE(store.has_value());  // it can be read meanwhile
  const auto refused = (*store)->commit({"a", "m", "t", {made(first, "{}")}});
  REQUIRE_FALSE(refused.has_value());
  CHECK(refused.error().trouble == StoreTrouble::locked);
  sqlite3_exec(db, "ROLLBACK", nullptr, nullptr, nullptr);
  sqlite3_close(db);
  CHECK((*store)->commit({"a", "m", "t", {made(first, "{}")}}).has_value());
}

TEST_CASE("a write-protected file opens for reading and refuses changes") {
  Folder f;
  f.make()->commit({"a", "m", "t", {made(first, "{}")}});
  QFile::setPermissions(f.file, QFileDevice::ReadOwner);
  if (::geteuid() == 0) {
    // Root may write anywhere; the immutable path is then tried by itself.
    SUCCEED("permissions do not bind root");
  } else {
    const auto store = Store::open(f.file);
    REQUIRE(store.has_value());
    CHECK((*store)->is_read_only());
    CHECK((*store)->load()->size() == 1);
    CHECK((*store)->commit({"b", "m", "t", {made(second, "{}")}}).error().trouble == StoreTrouble::read_only);
  }
  QFile::setPermissions(f.file, QFileDevice::ReadOwner | QFileDevice::WriteOwner);
}

TEST_CASE("a full disk leaves the file as it was") {
  Folder f;
  auto store = f.make();
  REQUIRE(store->commit({"a", "m", "t", {made(first, "{}")}}).has_value());
  // SQLite's own limit on pages stands for the full disk; it gives the same result code.
  sql(f.file, "PRAGMA wal_checkpoint(TRUNCATE)");
  store->set_page_limit_for_tests(1);
  const auto refused =
      store->commit({"b", "m", "t", {made(second, "{\"name\":\"" + std::string(100000, 'x') + "\"}")}});
  REQUIRE_FALSE(refused.has_value());
  CHECK(refused.error().trouble == StoreTrouble::disk_full);
  CHECK(store->load()->size() == 1);
  store->set_page_limit_for_tests(0);
  CHECK(store->commit({"b", "m", "t", {made(second, "{}")}}).has_value());
}
