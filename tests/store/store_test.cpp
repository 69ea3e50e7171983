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
  std::unique_ptr<Store> open() {
    auto store = Store::open(file);
    REQUIRE(store.has_value());
    return std::move(*store);
  }
  std::string body(const Id& id) { return open()->objects({made(id, "")})->at(0).body; }
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
  const auto refused =
      store->commit({"b", "m", "t", {made(second, "{}"), changed(first, 7, R"({"x":0})", R"({"x":1})")}});
  REQUIRE_FALSE(refused.has_value());
  CHECK(refused.error().trouble == StoreTrouble::conflict);
  CHECK(refused.error().object == first);
  CHECK(store->load()->size() == 1);
  CHECK(store->history(std::nullopt, 10)->size() == 1);
  // An object of the same id cannot be made twice; deleting needs the right revision too.
  CHECK(store->commit({"c", "m", "t", {made(first, "{}")}}).error().trouble == StoreTrouble::conflict);
  CHECK(store->commit({"d", "m", "t", {changed(first, 9, R"({"x":0})", "")}}).error().trouble ==
        StoreTrouble::conflict);
  CHECK(store->commit({"e", "m", "t", {changed(first, 1, "{}", "")}}).has_value());
  CHECK(store->load()->empty());
}

TEST_CASE("changes of different values are brought together, and of rows of a list") {
  Folder f;
  auto mine = f.make();
  const std::string before = R"({"a":1,"b":1,"rows":[{"id":"p","v":1,"w":1},{"id":"q","v":1},{"id":"r","v":1}]})";
  REQUIRE(mine->commit({"a", "m", "t", {made(first, before)}}).has_value());
  auto theirs = f.open();
  // They change a, a row's v, take one row out and put one in behind p.
  REQUIRE(
      theirs
          ->commit({"b",
                    "t",
                    "t",
                    {changed(first, 1, before,
                             R"({"a":2,"b":1,"rows":[{"id":"p","v":2,"w":1},{"id":"s","v":5},{"id":"q","v":1}]})")}})
          .has_value());
  // We change b, the other value of the same row, and put one in at the end.
  const auto done = mine->commit(
      {"c",
       "m",
       "t",
       {changed(
           first, 1, before,
           R"({"a":1,"b":3,"rows":[{"id":"p","v":1,"w":9},{"id":"q","v":1},{"id":"r","v":1},{"id":"n","v":7}]})")}});
  REQUIRE(done.has_value());
  REQUIRE(done->merged.size() == 1);
  CHECK(done->merged[0].revision == 3);
  CHECK(f.body(first) == done->merged[0].body);
  CHECK(f.body(first) ==
        R"({"a":2,"b":3,"rows":[{"id":"p","v":2,"w":9},{"id":"s","v":5},{"id":"q","v":1},{"id":"n","v":7}]})");
  // The history says what was changed, against what stood.
  const auto history = mine->history(first, 1);
  CHECK(history->at(0).before.find("\"a\"") == std::string::npos);
  CHECK(history->at(0).after.find("\"b\":3") != std::string::npos);
}

TEST_CASE("bringing bodies together: the order of lists, and what clashes") {
  const auto list = [](const std::string& ids) {
    std::string text;
    for (const char c : ids) text += (text.empty() ? "" : ",") + std::string(R"({"id":")") + c + "\"}";
    return R"({"rows":[)" + text + "]}";
  };
  CHECK(merged_body(list("abc"), list("cab"), list("abcd")).value() == list("cdab"));  // we moved, they added
  CHECK(merged_body(list("abc"), list("abxc"), list("cba")).value() == list("cbxa"));  // the other way round
  CHECK(merged_body(list("abc"), list("ac"), list("abc")).value() == list("ac"));
  CHECK(merged_body(list("abc"), list("c"), list("ab")).value() == list(""));
  CHECK(merged_body(list(""), list("x"), list("y")).value() == list("xy"));
  // A list without ids is one value.
  CHECK(merged_body(R"({"l":[1,2]})", R"({"l":[1,2,3]})", R"({"l":[1,2]})").value() == R"({"l":[1,2,3]})");
  CHECK(merged_body(R"({"l":[1,2]})", R"({"l":[1,2,3]})", R"({"l":[1]})").error().property == "l");
  // A key that is taken out, and one that is put in.
  CHECK(merged_body(R"({"a":1,"b":1})", R"({"b":1})", R"({"a":1,"b":2})").value() == R"({"b":2})");
  CHECK(merged_body(R"({"a":1})", R"({})", R"({"a":2})").error().theirs == "2");
  CHECK(merged_body(R"({"a":1})", R"({"a":2})", R"({"a":2})").value() == R"({"a":2})");
  const auto row =
      merged_body(R"({"rows":[{"id":"p","v":1}]})", R"({"rows":[{"id":"p","v":2}]})", R"({"rows":[{"id":"p","v":3}]})");
  CHECK(row.error().property == "rows/p/v");
  CHECK_FALSE(merged_body("{}", "[]", "{}").has_value());
}

TEST_CASE("numbers of cutters and names of libraries are given once, whoever is first") {
  Folder f;
  auto mine = f.make();
  const Id library{9, 9};
  const auto cutter = [&](const Id& id, int number) {
    return StoredEdit{ObjectKind::cutter,
                      id,
                      0,
                      {},
                      R"({"number":)" + std::to_string(number) + R"(,"library":")" + library.text() + "\"}"};
  };
  const auto seq = mine->commit({"a", "m", "t", {{ObjectKind::library, library, 0, {}, R"({"name":"Shelf"})"}}})->seq;
  auto theirs = f.open();
  REQUIRE(theirs->commit({"b", "t", "t", {cutter(first, 7)}, seq}).has_value());
  const auto refused = mine->commit({"c", "m", "t", {cutter(second, 7)}, seq});
  REQUIRE_FALSE(refused.has_value());
  CHECK(refused.error().trouble == StoreTrouble::taken);
  CHECK(refused.error().clash.property == "number");
  CHECK(mine->commit({"c", "m", "t", {cutter(second, 8)}, seq}).has_value());
  REQUIRE(theirs->commit({"d", "t", "t", {{ObjectKind::library, Id{9, 8}, 0, {}, R"({"name":"New"})"}}}).has_value());
  CHECK(mine->commit({"e", "m", "t", {{ObjectKind::library, Id{9, 7}, 0, {}, R"({"name":"New"})"}}, seq})
            .error()
            .trouble == StoreTrouble::taken);
  // What they use meanwhile is not deleted, and what they deleted is not referred to.
  const auto at = mine->last_seq();
  REQUIRE(theirs->commit({"f", "t", "t", {cutter(Id{1, 3}, 9)}, at}).has_value());
  CHECK(mine->commit({"g", "m", "t", {{ObjectKind::library, library, 1, R"({"name":"Shelf"})", ""}}, at})
            .error()
            .trouble == StoreTrouble::conflict);
  REQUIRE(theirs->commit({"h", "t", "t", {{ObjectKind::library, Id{9, 8}, 1, R"({"name":"New"})", ""}}}).has_value());
  const auto into_nothing = mine->commit(
      {"i", "m", "t", {{ObjectKind::cutter, Id{1, 4}, 0, {}, R"({"library":")" + Id{9, 8}.text() + "\"}"}}, at});
  REQUIRE_FALSE(into_nothing.has_value());
  CHECK(into_nothing.error().trouble == StoreTrouble::conflict);
}

TEST_CASE("a shop that is replaced or deleted under one's feet takes nothing more") {
  for (const bool replaced : {true, false}) {
    Folder f;
    auto store = f.make();
    REQUIRE(store->commit({"a", "m", "t", {made(first, "{}")}}).has_value());
    REQUIRE(QFile::rename(f.file, f.file + ".away"));
    if (replaced) REQUIRE(QFile::copy(f.file + ".away", f.file));
    CHECK_FALSE(store->is_in_place());
    const auto refused = store->commit({"b", "m", "t", {made(second, "{}")}});
    REQUIRE_FALSE(refused.has_value());
    CHECK(refused.error().trouble == StoreTrouble::replaced);
    CHECK(refused.error().sentence().contains("save it as a new shop"));
  }
}

TEST_CASE("what is planted in a file is not run, and other tables are no shop's") {
  const char* planted[] = {"CREATE TRIGGER bad AFTER INSERT ON change BEGIN DELETE FROM object; END",
                           ("DROP TABLE object; CREATE VIEW object AS WITH RECURSIVE n(id) AS (SELECT 'x' UNION ALL "
                            "SELECT id || 'x' FROM n) "
                            "SELECT id, 'cutter' kind, 1 revision, '{}' body, 0 seq FROM n"),
                           "CREATE TABLE more (a)",
                           "DROP INDEX object_seq",
                           "CREATE INDEX extra ON object(body)",
                           "ALTER TABLE object ADD COLUMN x TEXT"};
  for (const char* text : planted) {
    Folder f;
    f.make()->commit({"a", "m", "t", {made(first, "{}")}});
    sql(f.file, text);
    CHECK(f.trouble(f.file) == StoreTrouble::damaged);
  }
}

TEST_CASE("a version that no shop has is refused, and makes no backups") {
  for (const char* version : {"-1", "0", "-2147483648"}) {
    Folder f;
    f.make()->commit({"a", "m", "t", {made(first, "{}")}});
    sql(f.file, (std::string("PRAGMA user_version = ") + version).c_str());
    CHECK(f.trouble(f.file) == StoreTrouble::damaged);
    CHECK(QDir(f.dir.path()).entryList(QDir::Files).size() == 1);
  }
}

TEST_CASE("a path is a path, also where it looks like an address") {
  Folder f;
  const QString before = QDir::currentPath();
  REQUIRE(QDir::setCurrent(f.dir.path()));
  CHECK(f.trouble(QStringLiteral("file:x.pecorra")) == StoreTrouble::missing);
  CHECK(Store::create(QStringLiteral("file:x.pecorra")).has_value());
  CHECK(QFile::exists(f.dir.filePath("file:x.pecorra")));
  CHECK_FALSE(QFile::exists(f.dir.filePath("x.pecorra")));
  CHECK(Store::open(QStringLiteral("file:x.pecorra")).has_value());
  QDir::setCurrent(before);
}

TEST_CASE("a row number that is beyond all counts for no more rows than the file has room for") {
  Folder f;
  f.make()->commit({"a", "m", "t", {made(first, "{}")}});
  sql(f.file, "UPDATE object SET rowid = 9223372036854775807");
  CHECK(f.open()->most_objects() < 10000);
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
  const auto late = mine->commit({"late", "m", "t", {changed(first, 1, "{}", R"({"x":2})")}});
  REQUIRE_FALSE(late.has_value());
  CHECK(late.error().trouble == StoreTrouble::conflict);
  CHECK(late.error().clash.property == "x");
  CHECK(late.error().clash.theirs == "1");
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
