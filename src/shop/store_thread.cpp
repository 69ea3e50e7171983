#include "shop/store_thread.h"

#include <algorithm>
#include <utility>

#include "shop/merge_change.h"

namespace pecorra {
namespace {

constexpr int outside_interval_ms = 1000;
constexpr int retry_interval_ms = 3000;

}  // namespace

void StoreWorker::open() {
  again_ = new QTimer(this);
  again_->setSingleShot(true);
  connect(again_, &QTimer::timeout, this, &StoreWorker::retry);
  outside_ = new QTimer(this);
  connect(outside_, &QTimer::timeout, this, &StoreWorker::look_outside);
  outside_->start(outside_interval_ms);
  connect_store();
}

// False, and reported, if it cannot be opened; the next change tries again.
bool StoreWorker::connect_store() {
  auto opened = Store::open(file_);
  if (!opened) {
    emit failed(0, opened.error());
    return false;
  }
  store_ = std::move(*opened);
  follow_names(*store_);
  // What others wrote since the shop was loaded.
  take_news();
  return true;
}

void StoreWorker::close() {
  if (!again_ || !again_->isActive()) write_waiting();
  delete outside_;
  delete again_;
  store_.reset();
}

void StoreWorker::commit(StoredChange change, quint64 ticket, int epoch) {
  waiting_.push_back({std::move(change), ticket, epoch});
  if (!again_ || !again_->isActive()) write_waiting();
}

void StoreWorker::retry() { write_waiting(); }

void StoreWorker::write_waiting() {
  while (!waiting_.empty()) {
    Waiting& next = waiting_.front();
    if (!store_ && !connect_store()) {
      if (again_) again_->start(retry_interval_ms);
      return;
    }
    // Queued before its maker knew of a refusal, so it may build on what was refused.
    next.change.compare_bodies = next.epoch != epoch_;
    // Everything written since the last news of others is our own.
    if (next.change.known_seq >= news_seq_) next.change.known_seq = seq_;
    const auto done = store_->commit(next.change);
    if (done) {
      if (done->alone) seq_ = done->seq;
      if (!done->merged.empty()) emit changed_outside(done->merged, seq_, true);
      emit committed(next.ticket, seq_);
      waiting_.erase(waiting_.begin());
      if (!done->alone) take_news();
      continue;
    }
    if (done.error().trouble == StoreTrouble::conflict || done.error().trouble == StoreTrouble::taken) {
      const Waiting gone = std::move(waiting_.front());
      waiting_.erase(waiting_.begin());
      ++epoch_;
      const auto stand = store_->objects(gone.change.edits);
      if (!stand) {
        emit failed(gone.ticket, stand.error());
        return;
      }
      emit refused(gone.ticket, done.error(), QString::fromStdString(gone.change.label), *stand, epoch_);
      take_news();
      continue;
    }
    emit failed(next.ticket, done.error());
    if (again_) again_->start(retry_interval_ms);  // the change stays at the front of the queue
    return;
  }
}

void StoreWorker::look_outside() {
  if (store_ && waiting_.empty() && !store_->is_in_place()) {
    // Reported once; nothing more can be written there.
    if (!std::exchange(told_replaced_, true))
      emit failed(0, {StoreTrouble::replaced, file_, {}, 0, ObjectKind::cutter, {}, {}});
    return;
  }
  if (store_ && waiting_.empty() && store_->changed_outside()) take_news();
}

// The mark is read first, so that what is written meanwhile is read twice rather than never.
void StoreWorker::take_news() {
  const std::int64_t mark = store_->last_seq();
  const auto objects = store_->changed_since(seq_);
  if (!objects) return;
  seq_ = news_seq_ = mark;
  if (!objects->empty()) emit changed_outside(*objects, seq_, false);
}

}  // namespace pecorra

#include "moc_store_thread.cpp"
