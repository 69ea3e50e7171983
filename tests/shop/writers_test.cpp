// Sixteen programs write to one shop at once, everything that people change, half of them as a window does and half as
// the command line. Every change that was acknowledged is in the shop's history once, none that was refused is, what
// was added is there or was deleted later, and numbers and names are given once.
#include <sqlite3.h>

#include <QCoreApplication>
#include <QEventLoop>
#include <QFile>
#include <QProcess>
#include <QTemporaryDir>
#include <cstdio>
#include <map>
#include <random>
#include <set>

#include "shop/cutter_edit.h"
#include "shop/demo.h"
#include "shop/edit.h"
#include "shop/merge_change.h"
#include "shop/number_plan.h"
#include "shop/shop.h"

using namespace pecorra;

namespace {

constexpr int writers = 16;

template <class T>
const T& any(const Collection<T>& all, std::mt19937& random) {
  return all[random() % all.size()];
}

// One of the things that people do; `mark` is found again in the history.
Change some_change(const ShopState& state, std::mt19937& random, const QString& mark) {
  Change change;
  const std::string text = mark.toStdString();
  const auto edit = [&](const auto& before, auto&& change_it) {
    auto after = before;
    change_it(after);
    change.edit(before, after);
  };
  const auto own_table = [&]() -> const ConditionTable& {
    for (;;)
      if (const auto& t = any(state.tables, random); t.level != TableLevel::starter && !t.rows.empty()) return t;
  };
  switch (random() % 10) {
    case 0:
    case 1: {  // a cutter with the next free number
      Cutter c = any(state.cutters, random);
      c.id = new_id();
      c.revision = 0;
      c.number = state.free_number(c.library);
      c.notes = text;
      change.add(c);
      break;
    }
    case 2: edit(any(state.cutters, random), [&](Cutter& c) { c.notes = text; }); break;
    case 3: edit(any(state.cutters, random), [&](Cutter& c) { c.order_code = text; }); break;
    case 4: {
      ConditionTable t = own_table();
      const ConditionTable before = t;
      ConditionRow row = t.rows[random() % t.rows.size()];
      row.id = new_id();
      row.note = text;
      t.rows.insert(t.rows.begin() + static_cast<std::ptrdiff_t>(random() % t.rows.size()), row);
      change.edit(before, t);
      break;
    }
    case 5: edit(own_table(), [&](ConditionTable& t) { t.rows[random() % t.rows.size()].note = text; }); break;
    case 6: {
      ConditionTable t = own_table();
      const ConditionTable before = t;
      if (t.rows.size() > 3) t.rows.erase(t.rows.begin() + static_cast<std::ptrdiff_t>(random() % t.rows.size()));
      change.edit(before, t);
      break;
    }
    case 7: {
      Library l;
      l.id = new_id();
      l.name = "New " + std::to_string(random() % 40);
      l.notes = text;
      if (!state.libraries.named(l.name)) change.add(l);
      break;
    }
    case 8: change = delete_cutters(state, {any(state.cutters, random).id}); break;
    default:
      if (random() % 2) edit(any(state.operations, random), [&](Operation& o) { o.name = text; });
      else edit(any(state.materials, random), [&](WorkMaterial& m) { m.notes = text; });
  }
  change.label = mark;
  return change;
}

// What one writer did: a line for each change, "+ mark" or "- mark".
int write(const QString& file, int writer, int operations) {
  std::mt19937 random(static_cast<unsigned>(writer) * 7919 + 1);
  const auto tell = [](bool done, const QString& mark) { std::printf("%c %s\n", done ? '+' : '-', qPrintable(mark)); };
  std::unique_ptr<Shop> shop;
  if (writer % 2 == 0) {
    auto opened = Shop::open(file);
    if (!opened) return 1;
    shop = std::move(*opened);
  }
  for (int i = 0; i < operations; ++i) {
    const QString mark = QStringLiteral("writer %1 change %2 end").arg(writer).arg(i);
    if (shop) {
      const Change change = some_change(shop->state(), random, mark);
      if (change.empty()) continue;
      bool accepted = false, refused = false;
      const auto a = QObject::connect(shop.get(), &Shop::accepted, [&](quint64) { accepted = true; });
      const auto b = QObject::connect(shop.get(), &Shop::put_back, [&](const QString&) { refused = true; });
      shop->apply(change);
      QEventLoop loop;
      while (!accepted && !refused) loop.processEvents(QEventLoop::WaitForMoreEvents);
      QObject::disconnect(a);
      QObject::disconnect(b);
      tell(accepted, mark);
      continue;
    }
    bool done = false;
    for (int attempt = 0; attempt < 200 && !done; ++attempt) {
      const auto loaded = load_shop(file);
      if (!loaded) return 1;
      const Change change = some_change(loaded->state, random, mark);
      if (change.empty()) break;
      const auto written = write_change(file, loaded->seq, change);
      done = written.has_value();
      if (!done && written.error().trouble != StoreTrouble::taken) break;
    }
    tell(done, mark);
  }
  return 0;
}

int fail(const QString& what) {
  std::fprintf(stderr, "%s\n", qPrintable(what));
  return 1;
}

int check(const QString& file, const std::map<QString, bool>& told) {
  const auto store = Store::open(file);
  if (!store) return fail(store.error().sentence());
  const auto history = (*store)->history(std::nullopt, 1000000);
  std::map<QString, int> found;  // also of a deletion that another was quicker with, which changed nothing more
  sqlite3* database = nullptr;
  sqlite3_stmt* labels = nullptr;
  sqlite3_open(QFile::encodeName(file).constData(), &database);
  sqlite3_prepare_v2(database, "SELECT label FROM change", -1, &labels, nullptr);
  while (sqlite3_step(labels) == SQLITE_ROW)
    ++found[QString::fromUtf8(reinterpret_cast<const char*>(sqlite3_column_text(labels, 0)))];
  sqlite3_finalize(labels);
  sqlite3_close(database);
  std::map<Id, int> alive;
  for (const HistoryEntry& e : *history) {
    alive[e.id] += (e.before.empty() ? 1 : 0) - (e.after.empty() ? 1 : 0);
  }
  int acknowledged = 0, refused = 0;
  for (const auto& [mark, done] : told) {
    const auto at = found.find(mark);
    const int times = at == found.end() ? 0 : at->second;
    if (done && times != 1) return fail(QStringLiteral("acknowledged and found %1 times: %2").arg(times).arg(mark));
    if (!done && times != 0) return fail(QStringLiteral("refused and found: ") + mark);
    (done ? acknowledged : refused)++;
  }
  const auto objects = (*store)->load();
  std::set<Id> there;
  for (const StoredObject& o : *objects) there.insert(o.id);
  for (const auto& [id, count] : alive)
    if ((count > 0) != there.contains(id))
      return fail(QStringLiteral("made or deleted and not so: ") + QString::fromStdString(id.text()));
  const auto loaded = load_shop(file);
  if (!loaded || !loaded->faults.empty()) return fail(QStringLiteral("the shop is faulty afterwards"));
  std::set<std::pair<Id, int>> numbers;
  for (const Cutter& c : loaded->state.cutters) {
    if (!numbers.insert({c.library, c.number}).second) return fail(QStringLiteral("number %1 twice").arg(c.number));
    if (!loaded->state.libraries.find(c.library)) return fail(QStringLiteral("a cutter without its library"));
  }
  std::set<std::string> names;
  for (const Library& l : loaded->state.libraries)
    if (!names.insert(l.name).second) return fail(QStringLiteral("two libraries ") + QString::fromStdString(l.name));
  std::printf("%d writers: %d changes acknowledged and found, %d refused and absent\n", writers, acknowledged, refused);
  return acknowledged > 500 ? 0 : fail(QStringLiteral("too few came through"));
}

}  // namespace

int main(int argc, char** argv) {
  QCoreApplication application(argc, argv);
  if (argc == 4) return write(QString::fromLocal8Bit(argv[1]), std::atoi(argv[2]), std::atoi(argv[3]));
  const int operations = argc > 1 ? std::atoi(argv[1]) : 2000;
  const QTemporaryDir folder;
  const QString file = folder.filePath(QStringLiteral("shop.pecorra"));
  if (const auto made = write_shop(demo_state(), file, QStringLiteral("made")); !made)
    return fail(made.error().sentence());
  std::vector<std::unique_ptr<QProcess>> running;
  for (int i = 0; i < writers; ++i) {
    running.push_back(std::make_unique<QProcess>());
    running.back()->setProcessChannelMode(QProcess::ForwardedErrorChannel);
    running.back()->start(QCoreApplication::applicationFilePath(),
                          {file, QString::number(i), QString::number(operations / writers)});
  }
  std::map<QString, bool> told;
  for (const auto& process : running) {
    if (!process->waitForFinished(600000) || process->exitCode() != 0) return fail(QStringLiteral("a writer failed"));
    for (const QByteArray& line : process->readAllStandardOutput().split('\n'))
      if (line.size() > 2) told[QString::fromUtf8(line.mid(2))] = line[0] == '+';
  }
  return check(file, told);
}
