// Work off the interface thread: disk, network, long computations.
#pragma once

#include <QFutureWatcher>
#include <QtConcurrent/QtConcurrentRun>
#include <memory>

namespace pecorra {

// Hands the result to `done` on the owner's thread, while the owner lives.
template <class Result, class Done>
void when_done(const QFuture<Result>& future, QObject* owner, Done done) {
  auto* watcher = new QFutureWatcher<Result>(owner);
  QObject::connect(watcher, &QFutureWatcher<Result>::finished, owner, [watcher, done = std::move(done)]() mutable {
    watcher->deleteLater();
    done(watcher->result());
  });
  watcher->setFuture(future);
}

// `work` runs on another thread and must own all that it uses.
template <class Work, class Done>
void aside(QObject* owner, Work work, Done done) {
  when_done(QtConcurrent::run(std::move(work)), owner, std::move(done));
}

// Lets go of what can be so much that freeing it takes a while.
template <class T>
void drop_aside(std::shared_ptr<T>&& held) {
  if (auto mine = std::move(held); mine && mine.use_count() == 1) [[maybe_unused]]
    const auto last = QtConcurrent::run([mine = std::move(mine)]() mutable { mine.reset(); });
}

}  // namespace pecorra
