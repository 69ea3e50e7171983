// Work off the interface thread: its result, its cancelling, its exceptions, and an owner that goes.
#include <QSignalSpy>
#include <QTest>
#include <atomic>
#include <catch2/catch.hpp>
#include <new>
#include <stdexcept>
#include <thread>

#include "shop/task.h"

using namespace pecorra;

namespace {

template <class Condition>
bool wait_until(Condition condition) {
  return QTest::qWaitFor(condition, 20000);
}

}  // namespace

TEST_CASE("a task works on another thread, and its result comes to the owner's") {
  Tasks tasks;
  QObject owner;
  std::optional<int> result;
  const auto here = std::this_thread::get_id();
  bool elsewhere = false, back = false;
  const TaskPointer task = tasks.run(
      &owner, QStringLiteral("Counting"),
      [&, here](Task& t) {
        elsewhere = std::this_thread::get_id() != here;
        for (int i = 0; i <= 10; ++i) t.report(i / 10.0);
        return 42;
      },
      [&, here](int n) {
        back = std::this_thread::get_id() == here;
        result = n;
      });
  CHECK(tasks.running().size() == 1);
  REQUIRE(wait_until([&] { return result.has_value(); }));
  CHECK(*result == 42);
  CHECK((elsewhere && back && task->is_finished() && task->percent() == 100));
  CHECK(tasks.running().empty());
}

TEST_CASE("work that is cancelled hears it when it next reports") {
  Tasks tasks;
  QObject owner;
  std::optional<bool> stopped;
  std::atomic<int> rounds = 0;
  const TaskPointer task = tasks.run(
      &owner, QStringLiteral("For ever"),
      [&](Task& t) {
        while (t.report(0.5)) {
          ++rounds;
          std::this_thread::yield();
        }
        return t.is_cancelled();
      },
      [&](bool was) { stopped = was; });
  REQUIRE(wait_until([&] { return rounds > 0; }));
  CHECK_FALSE(stopped);
  task->cancel();
  REQUIRE(wait_until([&] { return stopped.has_value(); }));
  CHECK(*stopped);
}

TEST_CASE("an exception in the work is told with its title, and what waits for a result gets none") {
  Tasks tasks;
  QSignalSpy failed(&tasks, &Tasks::failed);
  QObject owner;
  bool done = false;
  tasks.run(
      &owner, QStringLiteral("Reading"), [](Task&) -> int { throw std::runtime_error("the disk is gone"); },
      [&](int) { done = true; });
  REQUIRE(wait_until([&] { return failed.count() == 1; }));
  CHECK(failed[0][0].toString() == QStringLiteral("Reading failed: the disk is gone"));
  CHECK_FALSE(done);
  CHECK(tasks.running().empty());
}

TEST_CASE("when the owner goes, the work is cancelled and nobody is called") {
  Tasks tasks;
  auto owner = std::make_unique<QObject>();
  std::atomic<bool> over = false;
  bool done = false;
  tasks.run(
      owner.get(), QStringLiteral("For nobody"),
      [&](Task& t) {
        while (t.report(0)) std::this_thread::yield();
        over = true;
        return 0;
      },
      [&](int) { done = true; });
  owner.reset();
  REQUIRE(wait_until([&] { return over.load(); }));
  QTest::qWait(20);
  CHECK_FALSE(done);
  CHECK(tasks.running().empty());
}
