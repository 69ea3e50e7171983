#include "shop/store_thread.h"

#include <algorithm>

namespace pecorra {
namespace {

constexpr int outside_interval_ms = 1000;
constexpr int retry_interval_ms = 3000;

}  // namespace

void StoreWorker::open() {
  auto opened = Store::open(file_);
  if (!opened) {
    emit failed(0, opened.error());
    return;
  }
  store_ = std::move(*opened);
  // What others wrote since the shop was loaded.
  take_news();
  outside_ = new QTimer(this);
  connect(outside_, &QTimer::timeout, this, &StoreWorker::look_outside);
  outside_->start(outside_interval_ms);
  again_ = new QTimer(this);
  again_->setSingleShot(true);
  connect(again_, &QTimer::timeout, this, &StoreWorker::retry);
}

void StoreWorker::close() {
  write_waiting();
  delete outside_;
  delete again_;
  store_.reset();
}

void StoreWorker::commit(StoredChange change, quint64 ticket, int epoch) {
  if (epoch != epoch_) {  // it stands on objects that have been put back since
    emit refused(ticket);
    return;
  }
  waiting_.push_back({std::move(change), ticket});
  if (!again_ || !again_->isActive()) write_waiting();
}

void StoreWorker::retry() { write_waiting(); }

void StoreWorker::write_waiting() {
  while (!waiting_.empty()) {
    const Waiting& next = waiting_.front();
    if (!store_) {
      emit failed(next.ticket, {StoreTrouble::io, file_, QStringLiteral("not open"), 0, {}});
      return;
    }
    const auto seq = store_->commit(next.change);
    if (seq) {
      emit committed(next.ticket, *seq);
      waiting_.erase(waiting_.begin());
      continue;
    }
    if (seq.error().trouble == StoreTrouble::conflict) {
      // What the others wrote stands; everything that was to follow on this change goes with it.
      QStringList labels;
      for (const Waiting& w : waiting_) labels << QString::fromStdString(w.change.label);
      const quint64 last = waiting_.back().ticket;
      waiting_.clear();
      ++epoch_;
      seq_ = store_->last_seq();
      store_->changed_outside();
      const auto everything = store_->load();
      if (everything) emit conflicted(last, *everything, labels, epoch_);
      else emit failed(last, everything.error());
      return;
    }
    emit failed(next.ticket, seq.error());
    if (again_) again_->start(retry_interval_ms);  // the change stays at the head of the queue
    return;
  }
}

void StoreWorker::look_outside() {
  if (store_ && waiting_.empty() && store_->changed_outside()) take_news();
}

// The mark is read first: what is written meanwhile comes twice rather than never.
void StoreWorker::take_news() {
  const std::int64_t mark = store_->last_seq();
  const auto objects = store_->changed_since(seq_);
  if (!objects) return;
  seq_ = mark;
  if (!objects->empty()) emit changed_outside(*objects);
}

}  // namespace pecorra

#include "moc_store_thread.cpp"
