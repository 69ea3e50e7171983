// The open shop: changes, undo, saving, and two programs on one file.
#include <QFile>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <QTest>
#include <catch2/catch.hpp>

#include "../support/core_application.h"
#include "demo_copy.h"
#include "shop/edit.h"
#include "shop/shop.h"

using namespace pecorra;

PECORRA_CORE_APPLICATION_TESTS

namespace {

struct DemoShop {
  QTemporaryDir dir;
  QString file = dir.filePath("demo.pecorra");
  std::unique_ptr<Shop> shop;
  DemoShop() {
    REQUIRE(copy_demo_to(file));
    shop = open();
  }
  std::unique_ptr<Shop> open() {
    auto opened = Shop::open(file);
    REQUIRE(opened.has_value());
    return std::move(*opened);
  }
};

Change rename(const Shop& shop, std::size_t i, const std::string& name) {
  const Cutter& c = shop.state().cutters[i];
  Cutter after = c;
  after.name = name;
  Change change;
  change.label = QStringLiteral("Name: %1").arg(QString::fromStdString(name));
  change.edit(c, after);
  return change;
}

}  // namespace

TEST_CASE("a change is there at once, is saved, and comes back after opening again") {
  DemoShop d;
  QSignalSpy accepted(d.shop.get(), &Shop::accepted);
  d.shop->apply(rename(*d.shop, 0, "Long thin one"));
  CHECK(d.shop->state().cutters[0].name == "Long thin one");
  CHECK(d.shop->saving() == Shop::Saving::saving);
  REQUIRE(d.shop->wait_until_saved(5000));
  CHECK(accepted.count() == 1);
  d.shop.reset();
  CHECK(d.open()->state().cutters[0].name == "Long thin one");
}

TEST_CASE("undo and redo step through changes, and each step is a change of its own in the history") {
  DemoShop d;
  const std::string before = d.shop->state().cutters[0].name;
  d.shop->apply(rename(*d.shop, 0, "one"));
  d.shop->apply(rename(*d.shop, 0, "two"));
  CHECK(d.shop->undo_label() == "Name: two");
  d.shop->undo();
  CHECK(d.shop->state().cutters[0].name == "one");
  CHECK(d.shop->redo_label() == "Name: two");
  d.shop->undo();
  CHECK(d.shop->state().cutters[0].name == before);
  CHECK_FALSE(d.shop->can_undo());
  d.shop->redo();
  d.shop->redo();
  CHECK(d.shop->state().cutters[0].name == "two");
  CHECK_FALSE(d.shop->can_redo());
  d.shop->undo();
  d.shop->apply(rename(*d.shop, 0, "three"));
  CHECK_FALSE(d.shop->can_redo());
  REQUIRE(d.shop->wait_until_saved(5000));
  const Id id = d.shop->state().cutters[0].id;
  d.shop.reset();
  const auto store = Store::open(d.file);
  const auto history = (*store)->history(id, 100);
  REQUIRE(history.has_value());
  CHECK(history->size() == 9);  // made, one, two, 2 × undone, 2 × again, undone, three
  CHECK(history->front().label == "Name: three");
  CHECK(history->at(1).label == "Undone: Name: two");
}

TEST_CASE("nothing changed leaves no step; deleting and undoing brings all of it back") {
  DemoShop d;
  d.shop->apply(rename(*d.shop, 0, d.shop->state().cutters[0].name));
  CHECK_FALSE(d.shop->can_undo());
  const Cutter gone = d.shop->state().cutters[3];
  const Assembly assembly = *d.shop->state().assembly_of(gone.id);
  Change change;
  change.label = "Deleted";
  change.remove(assembly);
  change.remove(gone);
  d.shop->apply(change);
  CHECK(d.shop->state().cutters.find(gone.id) == nullptr);
  d.shop->undo();
  REQUIRE(d.shop->state().cutters.find(gone.id));
  Cutter back = *d.shop->state().cutters.find(gone.id);
  back.revision = gone.revision;
  CHECK(back == gone);
  CHECK(d.shop->state().assembly_of(gone.id)->stickout_mm == assembly.stickout_mm);
  REQUIRE(d.shop->wait_until_saved(5000));
}

TEST_CASE("a copy of a shop's state stays as it was, whatever is done to the shop") {
  DemoShop d;
  const ShopState copy = d.shop->state();
  CHECK(&copy.cutters[0] == &d.shop->state().cutters[0]);  // shared, until one is changed
  const std::string name = copy.cutters[0].name;
  const Id first = copy.cutters[0].id, assembly = copy.assembly_of(first)->id;
  Change change = rename(*d.shop, 0, "other");
  change.remove(*copy.assembly_of(first));
  d.shop->apply(change);
  CHECK(d.shop->state().cutters[0].name == "other");
  CHECK(d.shop->state().assemblies.find(assembly) == nullptr);
  CHECK(d.shop->state().assembly_of(first) == nullptr);
  CHECK(copy.cutters[0].name == name);
  REQUIRE(copy.assembly_of(first));
  CHECK(copy.assembly_of(first)->id == assembly);
  ShopState another = copy, moved = std::move(another);
  CHECK(moved.cutters.size() == copy.cutters.size());
  CHECK(another.cutters.empty());  // NOLINT: what was moved from is empty, not broken
  another.cutters.put(copy.cutters[0]);
  CHECK(another.cutters.find(first)->name == name);
  REQUIRE(d.shop->wait_until_saved(5000));
}

TEST_CASE("very many cutters come and go in one step") {
  DemoShop d;
  const std::size_t before = d.shop->state().cutters.size();
  Change change;
  change.label = QStringLiteral("Many");
  const Cutter c = d.shop->state().cutters[0];
  for (int i = 0; i < 3000; ++i) {
    Cutter made = c;
    made.id = Id::from_name("many/" + std::to_string(i));
    made.number = 5000 + i;
    change.add(made);
    Assembly a;
    a.id = Id::from_name("many assembly/" + std::to_string(i));
    a.cutter = made.id;
    change.add(a);
  }
  d.shop->apply(ReadChange(change));
  CHECK(d.shop->state().cutters.size() == before + 3000);
  CHECK(d.shop->state().assembly_of(Id::from_name("many/2999"))->id == Id::from_name("many assembly/2999"));
  REQUIRE(d.shop->wait_until_saved(20000));
  auto second = d.open();
  CHECK(second->state().cutters.size() == before + 3000);
  d.shop->undo();
  CHECK(d.shop->state().cutters.size() == before);
  CHECK(d.shop->state().assemblies.find(Id::from_name("many assembly/2999")) == nullptr);
  REQUIRE(d.shop->wait_until_saved(20000));
  // The other program sees them go as well.
  CHECK(QTest::qWaitFor([&] { return second->state().cutters.size() == before; }, 10000));
  // One that goes and is put again before the others are gone stays.
  ShopState state = d.shop->state();
  {
    Removal removal(state);
    removal.add(ObjectKind::cutter, c.id);
    removal.add(ObjectKind::cutter, state.cutters[1].id);
    removal.before_put(c.id);
    state.cutters.put(c);
    removal.add(ObjectKind::cutter, state.cutters[0].id);
  }
  CHECK(state.cutters.size() == before - 2);
  CHECK(state.cutters.find(c.id));
}

TEST_CASE("what another program writes while a shop is being opened arrives as well") {
  DemoShop d;
  auto loaded = load_shop(d.shop->file());
  REQUIRE(loaded.has_value());
  d.shop->apply(rename(*d.shop, 2, "meanwhile"));
  REQUIRE(d.shop->wait_until_saved(5000));
  const auto other = Shop::start(d.shop->file(), std::move(*loaded));
  CHECK(other->state().cutters[2].name != "meanwhile");
  CHECK(QTest::qWaitFor([&] { return other->state().cutters[2].name == "meanwhile"; }, 5000));
}

TEST_CASE("changes made by another program arrive, and our undo does not write over them") {
  DemoShop d;
  auto other = d.open();
  d.shop->apply(rename(*d.shop, 0, "mine"));
  d.shop->apply(rename(*d.shop, 1, "mine too"));
  REQUIRE(d.shop->wait_until_saved(5000));
  REQUIRE(QTest::qWaitFor([&] { return other->state().cutters[1].name == "mine too"; }, 5000));
  CHECK(other->state().cutters[0].name == "mine");
  other->apply(rename(*other, 0, "theirs"));
  REQUIRE(other->wait_until_saved(5000));
  REQUIRE(QTest::qWaitFor([&] { return d.shop->state().cutters[0].name == "theirs"; }, 5000));
  QSignalSpy told(d.shop.get(), &Shop::put_back);
  d.shop->undo();
  CHECK(d.shop->state().cutters[0].name == "theirs");
  CHECK(d.shop->state().cutters[1].name != "mine too");
  CHECK(told.isEmpty());
  // The step of cutter 0 would write over what they did: it goes, and that is said.
  d.shop->undo();
  CHECK(d.shop->state().cutters[0].name == "theirs");
  REQUIRE(told.count() == 1);
  CHECK(told.at(0).at(0).toString().contains("cannot be undone"));
  CHECK(told.at(0).at(0).toString().contains("Name of Cutter “theirs”"));
  CHECK_FALSE(d.shop->can_undo());
}

TEST_CASE("both change one cutter, each another value: both stand, on both sides, and each undoes its own") {
  DemoShop d;
  auto other = d.open();
  const Id id = d.shop->state().cutters[0].id;
  const auto edit = [&](Shop& shop, auto&& change) {
    const Cutter before = *shop.state().cutters.find(id);
    Cutter after = before;
    change(after);
    shop.edit(before, after, "edit");
  };
  const Cutter start = *d.shop->state().cutters.find(id);
  edit(*other, [](Cutter& c) { c.notes = "theirs"; });
  REQUIRE(other->wait_until_saved(5000));
  edit(*d.shop, [](Cutter& c) { c.order_code = "OURS-1"; });
  edit(*d.shop, [](Cutter& c) { c.order_code = "OURS-2"; });
  REQUIRE(d.shop->wait_until_saved(5000));
  const auto both = [&](const Shop& shop, const std::string& notes, const std::string& code) {
    const Cutter& c = *shop.state().cutters.find(id);
    return c.notes == notes && c.order_code == code;
  };
  REQUIRE(QTest::qWaitFor([&] { return both(*d.shop, "theirs", "OURS-2") && both(*other, "theirs", "OURS-2"); }, 5000));
  other->undo();
  REQUIRE(other->wait_until_saved(5000));
  REQUIRE(QTest::qWaitFor([&] { return both(*d.shop, start.notes, "OURS-2"); }, 5000));
  d.shop->undo();
  REQUIRE(d.shop->wait_until_saved(5000));
  CHECK(both(*d.shop, start.notes, "OURS-1"));
  d.shop.reset();
  other.reset();
  CHECK(both(*d.open(), start.notes, "OURS-1"));
}

TEST_CASE("both change sizes that the name follows: the name says both") {
  DemoShop d;
  const Cutter start = *d.shop->state().cutters.find(d.shop->state().cutters[0].id);
  Cutter named = start;
  named.name = d.shop->state().name_for(start);
  if (named != start) d.shop->edit(start, named, "name");
  REQUIRE(d.shop->wait_until_saved(5000));
  const auto loaded = load_shop(d.file);
  REQUIRE(loaded.has_value());
  const Cutter now = *loaded->state.cutters.find(start.id);
  const auto with = [&](auto&& change) {
    Cutter after = now;
    change(after);
    after.name = loaded->state.name_for(after);
    Change made;
    made.edit(now, after);
    return made;
  };
  REQUIRE(write_change(d.file, loaded->seq, with([](Cutter& c) { c.diameter_mm = *c.diameter_mm + 1; })).has_value());
  REQUIRE(write_change(d.file, loaded->seq, with([](Cutter& c) { c.flute_length_mm = *c.flute_length_mm + 2; }))
              .has_value());
  const auto after = load_shop(d.file);
  const Cutter both = *after->state.cutters.find(start.id);
  CHECK(*both.diameter_mm == *now.diameter_mm + 1);
  CHECK(*both.flute_length_mm == *now.flute_length_mm + 2);
  CHECK(both.name == after->state.name_for(both));
}

TEST_CASE("a shop whose file is taken away keeps all in memory and says so") {
  DemoShop d;
  QSignalSpy changed(d.shop.get(), &Shop::saving_changed);
  REQUIRE(QFile::rename(d.file, d.file + ".away"));
  REQUIRE(QTest::qWaitFor([&] { return d.shop->is_replaced(); }, 5000));
  d.shop->apply(rename(*d.shop, 0, "still here"));
  CHECK_FALSE(d.shop->wait_until_saved(200));
  CHECK(d.shop->state().cutters[0].name == "still here");
  // Saved elsewhere, all of it is there; where it was, nothing appears.
  const QString elsewhere = d.dir.filePath("elsewhere.pecorra");
  REQUIRE(write_shop(d.shop->state(), elsewhere, "Saved").has_value());
  d.shop.reset();
  CHECK_FALSE(QFile::exists(d.file));
  CHECK(load_shop(elsewhere)->state.cutters[0].name == "still here");
}

TEST_CASE("when both change the same thing, the first stands whole and the second is told") {
  DemoShop d;
  auto other = d.open();
  QSignalSpy told(d.shop.get(), &Shop::put_back);
  other->apply(rename(*other, 0, "theirs"));
  REQUIRE(other->wait_until_saved(5000));
  // Ours stands on what we saw before; a second one stands on ours.
  Change both = rename(*d.shop, 0, "ours");
  const Cutter& second = d.shop->state().cutters[1];
  Cutter renamed = second;
  renamed.name = "ours as well";
  both.edit(second, renamed);
  d.shop->apply(both);
  d.shop->apply(rename(*d.shop, 0, "ours again"));
  REQUIRE(told.wait(5000));
  d.shop->wait_until_saved(5000);
  CHECK(told.at(0).at(0).toString().contains("Name: ours"));
  CHECK(d.shop->state().cutters[0].name == "theirs");
  CHECK(d.shop->state().cutters[1].name != "ours as well");  // whole or not at all
  d.shop->apply(rename(*d.shop, 1, "afterwards"));
  REQUIRE(d.shop->wait_until_saved(5000));
  d.shop.reset();
  other.reset();
  const auto again = d.open();
  CHECK(again->state().cutters[0].name == "theirs");
  CHECK(again->state().cutters[1].name == "afterwards");
}

TEST_CASE("an object that cannot be read is named and the rest is there") {
  DemoShop d;
  const Id id = d.shop->state().cutters[2].id;
  d.shop.reset();
  {
    auto store = Store::open(d.file);
    REQUIRE((*store)
                ->commit({"broken", "x", "t", {{ObjectKind::cutter, id, 1, "{}", "{\"diameter_mm\": \"twelve\"}"}}})
                .has_value());
  }
  const auto shop = d.open();
  REQUIRE(shop->load_faults().size() == 1);
  CHECK(shop->load_faults()[0].key.find("diameter_mm") != std::string::npos);
  CHECK(shop->state().cutters.size() == the_demo().cutters.size());
}

TEST_CASE("edited objects keep what was typed where it says more than the number") {
  const Cutter c = proposed_cutter(CutterKind::end_mill, 10);
  const Property<Cutter>& diameter = *find_property<Cutter>("diameter_mm");
  const Cutter inch = edited(c, diameter, 11.1125, "7/16\"", UnitSystem::metric);
  CHECK(inch.typed.at("diameter_mm") == "7/16\"");
  CHECK(edited(inch, diameter, 12.0, "12", UnitSystem::metric).typed.empty());
  CHECK(edit_label(c, inch, diameter, UnitSystem::metric) == "Diameter 10 → 11.113 mm");
  CHECK(edit_label(c, edited(c, *find_property<Cutter>("tool_material"), std::monostate{}, "", UnitSystem::metric),
                   *find_property<Cutter>("tool_material"), UnitSystem::metric) == "Tool material Carbide → not given");
}
