// Old shops are migrated step by step on raw data, after a backup; open, close, open again gives the same content.
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QTemporaryDir>
#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

#include "store/store.h"

using namespace pecorra;

namespace {

QString copy_of_version(int version, const QTemporaryDir& dir) {
  const QString file = dir.filePath("old.pecorra");
  REQUIRE(QFile::copy(QStringLiteral(PECORRA_TEST_DATA "/shops/version-%1.pecorra").arg(version), file));
  QFile::setPermissions(file, QFileDevice::ReadOwner | QFileDevice::WriteOwner);
  return file;
}

}  // namespace

TEST_CASE("a shop of every earlier version opens with everything in it, and a backup stands beside it") {
  const int version = GENERATE(1, 2);
  QTemporaryDir dir;
  const QString file = copy_of_version(version, dir);
  for (int round = 0; round < 2; ++round) {
    const auto store = Store::open(file);
    REQUIRE(store.has_value());
    const auto objects = (*store)->load();
    REQUIRE(objects.has_value());
    REQUIRE(objects->size() == 2);
    const StoredObject& cutter = objects->at(0).kind == ObjectKind::cutter ? objects->at(0) : objects->at(1);
    CHECK(cutter.revision == 3);
    const auto body = nlohmann::json::parse(cutter.body);
    CHECK(body["name"] == "Old half inch");
    CHECK(body["diameter_mm"] == 12.7);
    CHECK(body["typed"]["diameter_mm"] == "1/2\"");
    const auto history = (*store)->history(cutter.id, 10);
    REQUIRE(history.has_value());
    REQUIRE(history->size() == 3);
    CHECK(history->front().label == "Number 4 → 5");
    CHECK(history->front().when == "2026-01-04T08:00:00.000Z");
    // The step filled in which change wrote each object last.
    CHECK((*store)->changed_since(3)->size() == 1);
    CHECK((*store)->changed_since(0)->size() == 2);
    CHECK((*store)->last_seq() == 4);
    // What is kept beside the objects: empty at first, and no change of anybody.
    CHECK((*store)->kept("note") == (round ? std::string("\0\1two", 5) : std::string()));
    REQUIRE_FALSE((*store)->keep("note", "one").has_value());
    REQUIRE_FALSE((*store)->keep("note", std::string_view("\0\1two", 5)).has_value());
    CHECK((*store)->last_seq() == 4);
  }
  const QString backup = file + QStringLiteral(".version-%1").arg(version);
  REQUIRE(QFileInfo::exists(backup));
  CHECK(QFileInfo(backup).size() > 0);
}

TEST_CASE("a migrated shop takes changes like any other") {
  QTemporaryDir dir;
  const QString file = copy_of_version(1, dir);
  {
    auto store = Store::open(file);
    REQUIRE(store.has_value());
    REQUIRE((*store)->commit({"New", "m", "t", {{ObjectKind::library, Id{5, 5}, 0, {}, "{}"}}}).has_value());
  }
  const auto store = Store::open(file);
  REQUIRE(store.has_value());
  CHECK((*store)->load()->size() == 3);
  CHECK((*store)->last_seq() == 5);
}

TEST_CASE("a second migration keeps the first backup") {
  QTemporaryDir dir;
  const QString file = copy_of_version(1, dir);
  QFile marker(file + ".version-1");
  REQUIRE(marker.open(QIODevice::WriteOnly));
  marker.write("kept");
  marker.close();
  REQUIRE(Store::open(file).has_value());
  REQUIRE(marker.open(QIODevice::ReadOnly));
  CHECK(marker.readAll() == "kept");
}
