// The one way to work off the interface thread (disk, network, long computations), with progress, cancel and errors.
#pragma once

#include <QFutureWatcher>
#include <QObject>
#include <QtConcurrent/QtConcurrentRun>
#include <atomic>
#include <exception>
#include <functional>
#include <memory>
#include <new>
#include <tl/expected.hpp>
#include <vector>

namespace pecorra {

// One piece of work, shared by both sides: the work reports its progress and asks whether to continue; its owner
// watches and can cancel.
class Task {
 public:
  explicit Task(QString title) : title_(std::move(title)) {}
  // Called by the work with the share done, 0 to 1. False: cancelled; the rest need not be done.
  bool report(double done) {
    percent_ = static_cast<int>(100 * done);
    return !cancelled_;
  }
  const QString& title() const { return title_; }
  int percent() const { return percent_; }
  bool is_cancelled() const { return cancelled_; }
  bool is_finished() const { return finished_; }  // the work itself; its result may still be on its way
  void cancel() { cancelled_ = true; }

 private:
  QString title_;
  std::atomic<int> percent_ = -1;  // none told
  std::atomic<bool> cancelled_ = false, finished_ = false;
  friend class Tasks;
};

using TaskPointer = std::shared_ptr<Task>;

// All work running for one window. Work without a title is not shown.
class Tasks : public QObject {
  Q_OBJECT
 public:
  using QObject::QObject;
  ~Tasks() override;

  // work(Task&) runs on another thread and owns everything it uses; done(its result) is called on the owner's thread if
  // the owner still lives. An exception is reported by `failed`, and done is not called. The work is cancelled when its
  // owner is destroyed.
  template <class Work, class Done>
  TaskPointer run(QObject* owner, const QString& title, Work work, Done done) {
    auto task = std::make_shared<Task>(title);
    using Result = std::invoke_result_t<Work, Task&>;
    using Outcome = std::shared_ptr<tl::expected<Result, QString>>;
    const auto guarded = [task, work = std::move(work)]() mutable -> Outcome {
      Outcome outcome;
      try {
        outcome = std::make_shared<tl::expected<Result, QString>>(work(*task));
      } catch (const std::bad_alloc&) {
        outcome = std::make_shared<tl::expected<Result, QString>>(tl::unexpected(tr("not enough memory")));
      } catch (const std::exception& error) {
        outcome = std::make_shared<tl::expected<Result, QString>>(tl::unexpected(QString::fromUtf8(error.what())));
      }
      task->finished_ = true;
      return outcome;
    };
    auto* watcher = new QFutureWatcher<Outcome>(owner);
    connect(watcher, &QFutureWatcher<Outcome>::finished, owner,
            [this, watcher, task, done = std::move(done)]() mutable {
              watcher->deleteLater();
              const Outcome outcome = watcher->result();
              end(task);
              if (*outcome) done(std::move(**outcome));
              else fail(task->title(), outcome->error());
            });
    connect(watcher, &QObject::destroyed, this, [this, task] {
      task->cancel();
      end(task);
    });
    begin(task);
    watcher->setFuture(QtConcurrent::run(std::move(guarded)));
    return task;
  }

  // Those with a title, the oldest first.
  std::vector<TaskPointer> running() const;

 signals:
  void changed();  // some work starts or ends
  void failed(const QString& what);

 private:
  void begin(const TaskPointer& task);
  void end(const TaskPointer& task);
  void fail(const QString& title, const QString& why);
  std::vector<TaskPointer> tasks_;
};

// Frees large data in the background.
template <class T>
void drop_aside(std::shared_ptr<T>&& held) {
  if (auto mine = std::move(held); mine && mine.use_count() == 1) [[maybe_unused]]
    const auto last = QtConcurrent::run([mine = std::move(mine)]() mutable { mine.reset(); });
}

}  // namespace pecorra
