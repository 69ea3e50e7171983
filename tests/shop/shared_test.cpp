// A library as a file that several computers share: each test has two shops, as two computers would, and one folder.
#include <sys/resource.h>
#include <unistd.h>
#include <QDir>
#include <QFile>
#include <QTemporaryDir>
#include <catch2/catch.hpp>
#include <csignal>
#include <set>
#include <thread>

#include "demo_copy.h"
#include "shop/shared_file.h"
#include "shop/shop.h"
#include "shop/words.h"

using namespace pecorra;

namespace {

struct Computer {
  QTemporaryDir dir;
  std::unique_ptr<Shop> shop;
  SharedLibrary shared;

  explicit Computer(const ShopState& state, const Id& library, const QString& file) {
    REQUIRE(write_shop(state, dir.filePath("shop.pecorra"), "made").has_value());
    shop = *Shop::open(dir.filePath("shop.pecorra"));
    shared.id = new_id();
    shared.library = library;
    shared.file = file.toStdString();
  }
  const Library& library() const { return *shop->state().libraries.find(shared.library); }
  SharedReport exchange(bool make = false, const std::vector<SharedLine>& ours_stand = {}) {
    return exchange_shared(shop->file(), shared, shared_side(shop->state(), library()), make, ours_stand);
  }
  // Everything of the file that waits.
  void take(const SharedReport& report) {
    std::vector<std::size_t> all;
    for (std::size_t i = 0; i < report.lines.size(); ++i) all.push_back(i);
    shop->apply(take_shared(shop->state(), library(), report, all));
    REQUIRE(exchange(false, report.lines).fault.isEmpty());
  }
  SharedReport exchange_and_take() {
    const SharedReport report = exchange();
    REQUIRE(report.fault.isEmpty());
    if (!report.lines.empty()) take(report);
    return report;
  }
  const Cutter& cutter(int number) const {
    const Cutter* c = shop->state().cutter_numbered(shared.library, number);
    REQUIRE(c);
    return *c;
  }
  void rename(int number, const std::string& name) {
    const Cutter before = cutter(number);
    Cutter after = before;
    after.name = name;
    shop->edit(before, after, QStringLiteral("renamed"));
  }
  void make(int number, const std::string& name) {
    Cutter c = cutter(210);
    c.id = new_id();
    c.revision = 0;
    c.number = number;
    c.name = name;
    Change change;
    change.label = QStringLiteral("made");
    change.add(c);
    shop->apply(std::move(change));
  }
  void remove(int number) {
    Change change;
    change.label = QStringLiteral("deleted");
    change.remove(cutter(number));
    shop->apply(std::move(change));
  }
  // What the library says, without what is only of this shop.
  std::string text() const {
    LibraryFile side = shared_side(shop->state(), library());
    std::sort(side.cutters.begin(), side.cutters.end(),
              [](const Cutter& a, const Cutter& b) { return a.id.text() < b.id.text(); });
    side.shop.clear();
    side.edge_materials.clear(), side.inserts.clear(), side.collets.clear(), side.holders.clear(),
        side.materials.clear();
    const auto by_id = [](const auto& a, const auto& b) { return a.id.text() < b.id.text(); };
    std::sort(side.assemblies.begin(), side.assemblies.end(), by_id);
    std::sort(side.recipes.begin(), side.recipes.end(), by_id);
    return library_text(side);
  }
};

// A shop with no cutters of its own, and the library under the same UUID.
ShopState other_shop(const ShopState& first, const Id& library) {
  ShopState state = first;
  for (const Cutter& c : first.cutters) state.cutters.remove(c.id);
  for (const Assembly& a : first.assemblies) state.assemblies.remove(a.id);
  for (const Recipe& r : first.recipes) state.recipes.remove(r.id);
  for (const Library& l : first.libraries)
    if (l.id != library) state.libraries.remove(l.id);
  state.jobs = {};
  return state;
}

struct TwoComputers {
  QTemporaryDir folder;
  QString file = folder.filePath("Library.json");
  ShopState first = the_demo();
  Id library = first.cutters[0].library;
  Computer a{first, library, file}, b{other_shop(first, library), library, file};
  // Both have what the first one had.
  void begin() {
    const SharedReport made = a.exchange(true);
    REQUIRE(made.fault.isEmpty());
    REQUIRE(made.written > 10);
    b.exchange_and_take();
    REQUIRE(b.exchange().lines.empty());
    REQUIRE(a.text() == b.text());
  }
};

}  // namespace

TEST_CASE("a shared library goes to another computer whole, and nothing is written when nothing has changed") {
  TwoComputers t;
  t.begin();
  QFile file(t.file);
  REQUIRE(file.open(QIODevice::ReadOnly));
  const QByteArray before = file.readAll();
  CHECK(t.a.exchange().written == 0);
  CHECK(t.b.exchange().written == 0);
  file.seek(0);
  CHECK(file.readAll() == before);
  CHECK(t.b.shop->state().assemblies.size() > 0);
  CHECK(t.b.shop->state().recipes.size() > 0);
}

TEST_CASE("a change goes out by itself and waits on the other side until it is taken") {
  TwoComputers t;
  t.begin();
  t.a.rename(210, "From the first");
  CHECK(t.a.exchange().written == 1);
  const SharedReport seen = t.b.exchange();
  REQUIRE(seen.lines.size() == 1);
  CHECK(seen.lines[0].state == SharedState::from_file);
  CHECK(t.b.cutter(210).name != "From the first");
  CHECK(shared_line_changes(t.b.shop->state(), t.library, SharedSide(seen.theirs), seen.lines[0], UnitSystem::metric)
            .join("; ")
            .contains("From the first"));
  t.b.take(seen);
  CHECK(t.b.cutter(210).name == "From the first");
  CHECK(t.b.exchange().lines.empty());
  // One step back takes the change back, for both.
  t.b.shop->undo();
  CHECK(t.b.exchange().written == 1);
  CHECK(t.a.exchange().lines.size() == 1);
}

TEST_CASE("changes of different cutters on both sides meet without a word; of the same cutter somebody decides") {
  TwoComputers t;
  t.begin();
  t.a.rename(210, "First");
  t.b.rename(219, "Second");
  t.a.exchange_and_take();
  t.b.exchange_and_take();
  t.a.exchange_and_take();
  CHECK(t.a.text() == t.b.text());
  CHECK(t.a.cutter(219).name == "Second");

  t.a.rename(210, "Here");
  t.b.rename(210, "There");
  REQUIRE(t.a.exchange().written == 1);
  const SharedReport both = t.b.exchange();
  REQUIRE(both.lines.size() == 1);
  CHECK(both.lines[0].state == SharedState::both);
  CHECK(both.written == 0);
  CHECK(t.b.cutter(210).name == "There");  // stays
  SECTION("theirs") {
    t.b.take(both);
    t.b.exchange();
    CHECK(t.b.cutter(210).name == "Here");
  }
  SECTION("ours") {
    CHECK(t.b.exchange(false, both.lines).written == 1);
    t.a.exchange_and_take();
    CHECK(t.a.cutter(210).name == "There");
  }
  CHECK(t.a.text() == t.b.text());
}

TEST_CASE("what is deleted here stays in the file until somebody says so, and comes back when it is taken") {
  TwoComputers t;
  t.begin();
  t.a.remove(210);
  const SharedReport report = t.a.exchange();
  CHECK(report.written == 0);
  REQUIRE(report.lines.size() == 1);
  CHECK_FALSE(report.lines[0].here);
  CHECK(t.b.exchange().lines.empty());
  SECTION("it goes") {
    REQUIRE(t.a.exchange(false, report.lines).written == 1);
    const SharedReport seen = t.b.exchange();
    REQUIRE(seen.lines.size() == 1);
    CHECK_FALSE(seen.lines[0].there);
    t.b.take(seen);
    CHECK(t.b.shop->state().cutter_numbered(t.library, 210) == nullptr);
  }
  SECTION("it comes back") {
    t.a.take(report);
    CHECK(t.a.cutter(210).number == 210);
    CHECK(t.a.exchange().lines.empty());
  }
  SECTION("it was changed there meanwhile") {
    t.b.rename(210, "Changed");
    REQUIRE(t.b.exchange().written == 1);
    const SharedReport both = t.a.exchange();
    REQUIRE(both.lines.size() == 1);
    CHECK(both.lines[0].state == SharedState::both);
  }
}

TEST_CASE("two new cutters of one number both stay; who comes in gets a free number") {
  TwoComputers t;
  t.begin();
  t.a.make(9000, "of the first");
  t.b.make(9000, "of the second");
  for (int round = 0; round < 3; ++round) {
    t.a.exchange_and_take();
    t.b.exchange_and_take();
  }
  CHECK(t.a.text() == t.b.text());
  std::set<std::string> names;
  std::set<int> numbers;
  for (const Cutter& c : t.a.shop->state().cutters) {
    if (c.name == "of the first" || c.name == "of the second") names.insert(c.name);
    if (c.library == t.library) CHECK(numbers.insert(c.number).second);
  }
  CHECK(names.size() == 2);
}

TEST_CASE("two computers that write at the same time lose nothing") {
  TwoComputers t;
  t.begin();
  constexpr int rounds = 15;
  // Each adds cutters of its own as fast as it can; only the exchange is done on threads of their own.
  const auto run = [&](const Computer& computer, int first) {
    LibraryFile ours = shared_side(computer.shop->state(), computer.library());
    SharedPrints common;
    {
      SharedPrints agreed;
      exchange_shared(ours, t.file, agreed);
      common = agreed;
    }
    for (int i = 0; i < rounds; ++i) {
      Cutter c = ours.cutters.front();
      c.id = new_id();
      c.number = first + i;
      c.name = "made " + std::to_string(c.number);
      ours.cutters.push_back(c);
      for (int attempt = 0; attempt < 100; ++attempt)
        if (exchange_shared(ours, t.file, common).written > 0) break;
    }
  };
  std::thread one([&] { run(t.a, 10000); }), two([&] { run(t.b, 20000); });
  one.join();
  two.join();
  QFile file(t.file);
  REQUIRE(file.open(QIODevice::ReadOnly));
  const auto read = read_library(file.readAll().toStdString());
  REQUIRE(read.has_value());
  std::set<int> numbers;
  for (const Cutter& c : read->file.cutters) numbers.insert(c.number);
  for (int i = 0; i < rounds; ++i) {
    CHECK(numbers.contains(10000 + i));
    CHECK(numbers.contains(20000 + i));
  }
}

TEST_CASE("a changed holder reaches the other computer as a line of its own") {
  TwoComputers t;
  t.begin();
  const Assembly* used = nullptr;
  for (const Assembly& a : t.a.shop->state().assemblies)
    if (const Cutter* c = t.a.shop->state().cutters.find(a.cutter);
        c && c->library == t.library && t.a.shop->state().holders.find(a.holder))
      used = &a;
  REQUIRE(used);
  const Holder before = *t.a.shop->state().holders.find(used->holder);
  Holder after = before;
  after.name = "Measured anew";
  t.a.shop->edit(before, after, "holder");
  CHECK(t.a.exchange().written == 1);
  const SharedReport seen = t.b.exchange();
  REQUIRE(seen.lines.size() == 1);
  CHECK(seen.lines[0].kind == ObjectKind::holder);
  CHECK(shared_line_name(t.b.shop->state(), SharedSide(seen.theirs), seen.lines[0]).contains("Measured anew"));
  t.b.take(seen);
  CHECK(t.b.shop->state().holders.find(before.id)->name == "Measured anew");
  CHECK(t.b.exchange().lines.empty());
}

TEST_CASE("a cutter that is in another library here would move, and no cutter is there twice") {
  TwoComputers t;
  t.begin();
  ShopState both = the_demo();
  const Library* other = nullptr;
  for (const Library& l : both.libraries)
    if (l.id != t.library) other = &l;
  REQUIRE(other);
  Computer c(both, other->id, t.file);  // the same UUIDs stand in the demo's first library
  const SharedReport report = c.exchange();
  REQUIRE(report.fault.isEmpty());
  std::size_t moving = 0;
  for (const SharedLine& line : report.lines)
    moving += shared_line_changes(c.shop->state(), other->id, SharedSide(report.theirs), line, UnitSystem::metric)
                  .join(" ")
                  .contains("it would move");
  CHECK(moving > 10);
  const std::size_t count = c.shop->state().cutters.size();
  c.take(report);
  CHECK(c.shop->state().cutters.size() == count);
}

TEST_CASE("a file that is gone, damaged, newer or held by others is said to be, and nothing here changes") {
  TwoComputers t;
  t.begin();
  const std::string before = t.a.text();
  t.a.rename(210, "Waits");
  const auto write = [&](const QByteArray& bytes) {
    QFile file(t.file);
    REQUIRE(file.open(QIODevice::WriteOnly));
    file.write(bytes);
  };
  const auto bytes = [&] {
    QFile file(t.file);
    REQUIRE(file.open(QIODevice::ReadOnly));
    return file.readAll();
  };
  SECTION("gone") {
    REQUIRE(QFile::remove(t.file));
    const SharedReport report = t.a.exchange();
    CHECK(report.gone);
    CHECK(report.fault.contains("no longer in its folder"));
    CHECK_FALSE(QFile::exists(t.file));
    // And is written again when that is asked for.
    CHECK(t.a.exchange(true).fault.isEmpty());
    CHECK(QFile::exists(t.file));
  }
  SECTION("cut off in the middle") {
    write(bytes().left(2000));
    const QByteArray there = bytes();
    CHECK_FALSE(t.a.exchange().fault.isEmpty());
    CHECK(bytes() == there);
  }
  SECTION("a cutter says what is not understood: it is neither lost nor written over") {
    QByteArray text = bytes();
    text.replace("\"kind\":", "\"kept_by_others\":1,\"kind\":");
    write(text);
    const SharedReport report = t.a.exchange();
    CHECK(report.fault.contains("kept_by_others"));
    CHECK(report.written == 0);
    CHECK(bytes() == text);
  }
  SECTION("being written elsewhere") {
    QFile lock(t.file + ".lock");
    REQUIRE(lock.open(QIODevice::WriteOnly));
    lock.write(QByteArray::number(getpid()) + "\nsomebody\nthe-other-computer\n");
    lock.close();
    const QByteArray there = bytes();
    const SharedReport report = t.a.exchange();
    CHECK(report.fault.contains("the-other-computer"));
    CHECK(bytes() == there);
  }
  SECTION("the disk is full") {
    // A limit on the size of files stands for it.
    rlimit old{};
    getrlimit(RLIMIT_FSIZE, &old);
    const auto handler = std::signal(SIGXFSZ, SIG_IGN);
    const QByteArray there = bytes();
    rlimit small = old;
    small.rlim_cur = 4096;
    LibraryFile ours = shared_side(t.a.shop->state(), t.a.library());
    REQUIRE(t.a.shop->wait_until_saved(5000));
    SharedPrints common;
    setrlimit(RLIMIT_FSIZE, &small);
    ours.cutters.push_back(ours.cutters.front());
    ours.cutters.back().id = new_id();
    ours.cutters.back().number = 9999;
    const SharedReport report = exchange_shared(ours, t.file, common);
    setrlimit(RLIMIT_FSIZE, &old);
    std::signal(SIGXFSZ, handler);
    CHECK(report.fault.contains("cannot be written"));
    CHECK(bytes() == there);
  }
  SECTION("the folder is write-protected") {
    QFile::setPermissions(t.folder.path(), QFileDevice::ReadOwner | QFileDevice::ExeOwner | QFileDevice::ReadGroup |
                                               QFileDevice::ExeGroup);
    QFile::setPermissions(t.file, QFileDevice::ReadOwner | QFileDevice::ReadGroup);
    const LibraryFile ours = shared_side(t.a.shop->state(), t.a.library());
    SharedPrints common;
    const bool root = geteuid() == 0;
    if (root) REQUIRE(seteuid(65534) == 0);  // nothing is protected from root
    SharedPrints agreed;
    LibraryFile with_more = ours;
    with_more.cutters.push_back(ours.cutters.front());
    with_more.cutters.back().id = new_id();
    const SharedReport report = exchange_shared(with_more, t.file, agreed);
    if (root) REQUIRE(seteuid(0) == 0);
    QFile::setPermissions(t.folder.path(), QFileDevice::ReadOwner | QFileDevice::WriteOwner | QFileDevice::ExeOwner);
    INFO(report.fault.toStdString());
    CHECK(report.fault.contains("write-protected"));
  }
  CHECK(t.a.cutter(210).name == "Waits");
  t.a.shop->undo();
  CHECK(t.a.text() == before);
}
