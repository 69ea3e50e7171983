#include "shop/shop.h"

#include <QDateTime>
#include <QElapsedTimer>
#include <QEventLoop>
#include <QRandomGenerator>
#include <algorithm>
#include <array>
#include <deque>
#include <future>
#include <random>
#include <thread>
#include <utility>

#include "core/base/parallel.h"
#include "formats/json/quick_read.h"
#include "shop/merge_change.h"
#include "shop/store_thread.h"

namespace pecorra {

Change Change::reversed() const {
  Change back;
  back.label = label;
  for (auto it = objects.rbegin(); it != objects.rend(); ++it)
    back.objects.push_back({it->kind, it->id, it->after, it->before});
  return back;
}

ReadChange::ReadChange(Change from) : change(std::move(from)) {
  if (std::none_of(change.objects.begin(), change.objects.end(),
                   [](const ObjectChange& o) { return o.kind == ObjectKind::cutter && !o.after.empty(); }))
    return;
  reserve_large(cutters, change.objects.size());
  cutters.resize(change.objects.size());
  in_parts(change.objects.size(), 500, [this](std::size_t first, std::size_t last) {
    FormatFaults faults;
    for (std::size_t i = first; i < last; ++i) {
      const ObjectChange& o = change.objects[i];
      if (o.kind != ObjectKind::cutter || o.after.empty()) continue;
      cutters[i] = object_from_body<Cutter>(o.after, faults);
      if (cutters[i]) cutters[i]->id = o.id;
    }
  });
}

std::string current_user() {
  const QByteArray user = qgetenv("PECORRA_USER");
  const QByteArray name = user.isEmpty() ? qgetenv("USER") : user;
  return name.isEmpty() ? "programmer" : name.toStdString();
}

std::string current_time() { return QDateTime::currentDateTimeUtc().toString(Qt::ISODateWithMs).toStdString(); }

Id new_id() {
  // RFC 9562, version 4. One generator per thread, seeded by the system: asking the system for each id would be most of
  // the work when many are made.
  thread_local std::mt19937_64 random = [] {
    std::array<quint32, 16> words;
    QRandomGenerator::system()->fillRange(words.data(), words.size());
    std::seed_seq seed(words.begin(), words.end());
    return std::mt19937_64(seed);
  }();
  return {(random() & ~std::uint64_t{0xf000}) | 0x4000,
          (random() & ~(std::uint64_t{3} << 62)) | std::uint64_t{2} << 62};
}

namespace {

void put_faults(FormatFaults& all, FormatFaults&& faults, ObjectKind kind, const Id& id) {
  for (FormatFault& fault : faults) {
    fault.key = std::string(key_of(kind)) + " " + id.text() + " " + fault.key;
    all.push_back(std::move(fault));
  }
}

// Cutters are most of a shop: this thread reads their texts from the file while others parse them in batches, each into
// its final place.
class CutterBatches {
 public:
  explicit CutterBatches(LoadedShop& loaded) : loaded_(loaded) {}
  void add(const Store::RawObject& object) {
    next_.ids.push_back(object.id);
    next_.entries.push_back({object.revision, next_.texts.size(), object.body.size()});
    next_.texts.append(object.body);
    if (next_.ids.size() == batch_size) send();
  }
  void finish() {
    if (running_.empty()) note(read(prepared()));  // too few to start a thread for
    else if (!next_.ids.empty()) send();
    while (!running_.empty()) take_first();
    loaded_.state.cutters.remove(unreadable_);
  }

 private:
  static constexpr std::size_t batch_size = 500;
  struct Entry {
    std::int64_t revision;
    std::size_t from, size;
  };
  struct Batch {
    std::vector<Id> ids;
    std::vector<Entry> entries;
    std::string texts;
    std::span<Cutter> cutters;
  };
  struct Trouble {
    FormatFaults faults;
    std::vector<Id> unreadable;
    Batch used;  // reuses its memory
  };
  static Trouble read(Batch batch) {
    Trouble out;
    for (std::size_t i = 0; i < batch.ids.size(); ++i) {
      const Entry& e = batch.entries[i];
      const std::string_view body = std::string_view(batch.texts).substr(e.from, e.size);
      Cutter& cutter = batch.cutters[i];
      if (!quick_read(cutter, body)) {
        cutter = {};
        FormatFaults faults;
        auto strict = object_from_body<Cutter>(body, faults);
        put_faults(out.faults, std::move(faults), ObjectKind::cutter, batch.ids[i]);
        if (strict) cutter = std::move(*strict);
        else out.unreadable.push_back(batch.ids[i]);
      }
      cutter.id = batch.ids[i];
      cutter.revision = e.revision;
    }
    batch.ids.clear();
    batch.entries.clear();
    batch.texts.clear();
    out.used = std::move(batch);
    return out;
  }
  Batch prepared() {
    // If more come than were reserved, nobody may be filling any while they are moved.
    if (loaded_.state.cutters.size() + next_.ids.size() > loaded_.state.cutters.capacity())
      while (!running_.empty()) take_first();
    next_.cutters = loaded_.state.cutters.grow(next_.ids);
    return std::exchange(next_, std::exchange(spare_, {}));
  }
  void send() {
    const std::size_t most = std::max(2u, std::thread::hardware_concurrency());
    if (running_.size() >= most) take_first();
    running_.push_back(std::async(std::launch::async, read, prepared()));
  }
  void take_first() {
    note(running_.front().get());
    running_.pop_front();
  }
  void note(Trouble trouble) {
    spare_ = std::move(trouble.used);
    std::move(trouble.faults.begin(), trouble.faults.end(), std::back_inserter(loaded_.faults));
    unreadable_.insert(unreadable_.end(), trouble.unreadable.begin(), trouble.unreadable.end());
  }

  LoadedShop& loaded_;
  Batch next_, spare_;
  std::deque<std::future<Trouble>> running_;
  std::vector<Id> unreadable_;
};

}  // namespace

namespace {

tl::expected<LoadedShop, StoreFault> load_all(const QString& file) {
  const auto store = Store::open(file);
  if (!store) return tl::unexpected(store.error());
  LoadedShop loaded;
  loaded.seq = (*store)->last_seq();  // before the objects: what is written meanwhile is read again
  loaded.read_only = (*store)->is_read_only();
  const std::int64_t most = (*store)->most_objects();
  if (most > 4000) loaded.state.cutters.reserve(static_cast<std::size_t>(most));
  // The longest table of conditions is most of a small shop: it is parsed on another thread and inserted in order.
  std::vector<StoredObject> tables;
  CutterBatches cutters(loaded);
  const auto fault = (*store)->load_each([&](const Store::RawObject& object) {
    if (object.kind == ObjectKind::cutter) return cutters.add(object);
    StoredObject stored{object.kind, object.id, object.revision, std::string(object.body)};
    if (object.kind == ObjectKind::table) return tables.push_back(std::move(stored));
    put_faults(loaded.faults, put_stored(loaded.state, stored), object.kind, object.id);
  });
  if (fault) return tl::unexpected(*fault);
  const auto longest = std::max_element(tables.begin(), tables.end(), [](const StoredObject& a, const StoredObject& b) {
    return a.body.size() < b.body.size();
  });
  std::future<std::pair<std::optional<ConditionTable>, FormatFaults>> aside;
  if (longest != tables.end())
    aside = std::async(std::launch::async, [body = &longest->body] {
      std::pair<std::optional<ConditionTable>, FormatFaults> read;
      read.first = object_from_body<ConditionTable>(*body, read.second);
      return read;
    });
  cutters.finish();
  for (const StoredObject& object : tables) {
    if (&object != &*longest) {
      put_faults(loaded.faults, put_stored(loaded.state, object), object.kind, object.id);
      continue;
    }
    auto [table, faults] = aside.get();
    put_faults(loaded.faults, std::move(faults), object.kind, object.id);
    if (!table) continue;
    table->id = object.id;
    table->revision = object.revision;
    loaded.state.tables.put(std::move(*table));
  }
  return loaded;
}

}  // namespace

tl::expected<LoadedShop, StoreFault> load_shop(const QString& file) {
  StoreFault fault;
  fault.file = file;
  fault.trouble = StoreTrouble::damaged;
  try {
    return load_all(file);
  } catch (const std::bad_alloc&) {
    fault.trouble = StoreTrouble::io;
    fault.detail = Shop::tr("not enough memory");
  } catch (const std::exception&) {
    fault.detail = Shop::tr("it contains data that does not belong in a shop");
  }
  return tl::unexpected(fault);
}

tl::expected<Accepted, StoreFault> write_change(const QString& file, std::int64_t known_seq, const Change& change) {
  constexpr int most_tries = 8;  // of two seconds each
  // Revisions are unknown here: an object is unchanged if its text is the same.
  StoredChange stored{change.label.toStdString(), current_user(), current_time(), {}, known_seq, true};
  for (const ObjectChange& o : change.objects) stored.edits.push_back({o.kind, o.id, 0, o.before, o.after});
  for (int i = 1;; ++i) {
    auto store = Store::open(file);
    if (store) {
      follow_names(**store);
      auto done = (*store)->commit(stored);
      if (done || done.error().trouble != StoreTrouble::locked || i == most_tries) return done;
    } else if (store.error().trouble != StoreTrouble::locked || i == most_tries) {
      return tl::unexpected(store.error());
    }
  }
}

tl::expected<std::unique_ptr<Shop>, StoreFault> Shop::open(const QString& file) {
  auto loaded = load_shop(file);
  if (!loaded) return tl::unexpected(loaded.error());
  return start(file, std::move(*loaded));
}

std::unique_ptr<Shop> Shop::start(const QString& file, LoadedShop loaded) {
  std::unique_ptr<Shop> shop(new Shop);
  shop->file_ = file;
  shop->state_ = std::move(loaded.state);
  shop->load_faults_ = std::move(loaded.faults);
  shop->read_only_ = loaded.read_only;
  shop->known_seq_ = loaded.seq;
  if (shop->read_only_) return shop;
  qRegisterMetaType<StoredChange>();
  qRegisterMetaType<StoreFault>();
  qRegisterMetaType<std::vector<StoredObject>>();
  shop->worker_ = new StoreWorker(file, loaded.seq);
  shop->worker_->moveToThread(&shop->thread_);
  Shop* self = shop.get();
  connect(shop->worker_, &StoreWorker::committed, self, [self](quint64 ticket, qint64 known) {
    self->known_seq_ = std::max<std::int64_t>(self->known_seq_, known);
    self->settle(ticket);
    emit self->accepted(ticket);
  });
  connect(shop->worker_, &StoreWorker::failed, self, [self](quint64, const StoreFault& fault) {
    self->saving_ = Saving::failing;
    self->trouble_ = fault.trouble;
    emit self->saving_changed(fault.sentence());
  });
  connect(shop->worker_, &StoreWorker::refused, self,
          [self](quint64 ticket, const StoreFault& why, const QString& label, const std::vector<StoredObject>& objects,
                 int epoch) {
            self->epoch_ = epoch;
            const QString sentence = refusal_text(self->state_, why);
            self->take_over(objects, true);
            if (const auto step = std::find_if(self->pending_.begin(), self->pending_.end(),
                                               [&](const Pending& p) { return p.ticket == ticket; });
                step != self->pending_.end())
              for (auto* steps : {&self->undo_, &self->redo_}) std::erase(*steps, step->step);
            self->settle(ticket);
            emit self->changed();
            emit self->put_back(tr("Not saved: %1 (%2).").arg(label, sentence));
          });
  connect(shop->worker_, &StoreWorker::changed_outside, self,
          [self](const std::vector<StoredObject>& objects, qint64 known, bool merged) {
            self->known_seq_ = std::max<std::int64_t>(self->known_seq_, known);
            if (!self->take_over(objects, false)) return;
            emit self->changed();
            emit self->did(merged ? tr("Saved, merged with changes from another program")
                                  : tr("Updated with changes from another program"),
                           false);
          });
  shop->thread_.start();
  QMetaObject::invokeMethod(shop->worker_, &StoreWorker::open, Qt::QueuedConnection);
  return shop;
}

// Objects as stored. Our own writes come back this way too and are recognised by their revision.
bool Shop::take_over(const std::vector<StoredObject>& objects, bool all) {
  bool any = false;
  Removal removal(state_);
  for (const StoredObject& object : objects) {
    const auto mine = state_.revision_of(object.kind, object.id);
    const bool newer = object.body.empty() ? mine.has_value() : !mine || *mine < object.revision;
    if (!all && !newer) continue;
    any = true;
    changed_by_others_.insert(object.id);
    if (object.body.empty()) {
      removal.add(object.kind, object.id);
      continue;
    }
    removal.before_put(object.id);
    put_body(state_, object.kind, object.id, object.revision, object.body);
  }
  removal.finish();
  if (any) resolver_.reset();
  return any;
}

Shop::~Shop() {
  if (!worker_) return;
  QMetaObject::invokeMethod(worker_, &StoreWorker::close, Qt::BlockingQueuedConnection);
  thread_.quit();
  thread_.wait();
  delete worker_;
}

const Resolver& Shop::resolver() const {
  if (!resolver_) resolver_ = std::make_unique<Resolver>(state_.tables.shared(), state_.resolver_options());
  return *resolver_;
}

void Shop::apply(ReadChange read) {
  if (read.change.empty()) return;
  if (read_only_) {
    emit put_back(tr("This shop is read-only; nothing was changed."));
    emit changed();
    return;
  }
  const auto change = std::make_shared<const Change>(std::move(read.change));
  perform(change, std::move(read.cutters), change);
  undo_.push_back(change);
  redo_.clear();
  emit did(change->label, true);
}

// Undo or redo, adjusted to what others have changed meanwhile.
bool Shop::step(std::vector<std::shared_ptr<const Change>>& from, std::vector<std::shared_ptr<const Change>>& to,
                bool back) {
  if (from.empty()) return false;
  const auto change = from.back();
  auto now = brought_up_to_date(state_, back ? change->reversed() : *change, changed_by_others_);
  if (!now) {
    // Others' work is never undone: the step is dropped, with a message.
    from.pop_back();
    emit put_back(
        (back ? tr("“%1” cannot be undone: %2.") : tr("“%1” cannot be redone: %2.")).arg(change->label, now.error()));
    emit changed();
    return false;
  }
  from.pop_back();
  ReadChange read(std::move(*now));
  if (back) read.change.label = tr("Undone: %1").arg(change->label);
  const QString label = back ? read.change.label : tr("Redone: %1").arg(change->label);
  perform(std::make_shared<const Change>(std::move(read.change)), std::move(read.cutters), change);
  emit did(label, !back);
  to.push_back(change);
  return true;
}

void Shop::undo() { step(undo_, redo_, true); }

void Shop::redo() { step(redo_, undo_, false); }

void Shop::perform(const std::shared_ptr<const Change>& change, std::vector<std::optional<Cutter>> cutters,
                   const std::shared_ptr<const Change>& step) {
  std::vector<std::int64_t> base;  // revision of each object
  base.reserve(change->objects.size());
  const auto fresh =
      static_cast<std::size_t>(std::count_if(change->objects.begin(), change->objects.end(), [](const ObjectChange& o) {
        return o.kind == ObjectKind::cutter && o.before.empty();
      }));
  if (fresh > 1000) state_.cutters.reserve(state_.cutters.size() + fresh);
  {
    Removal removal(state_);
    for (std::size_t i = 0; i < change->objects.size(); ++i) {
      const ObjectChange& object = change->objects[i];
      base.push_back(state_.revision_of(object.kind, object.id).value_or(0));
      if (object.kind == ObjectKind::table || object.kind == ObjectKind::recipe ||
          object.kind == ObjectKind::settings || object.kind == ObjectKind::edge_material ||
          object.kind == ObjectKind::never_rule)
        resolver_.reset();
      if (object.after.empty()) {
        removal.add(object.kind, object.id);
        continue;
      }
      removal.before_put(object.id);
      if (object.kind != ObjectKind::cutter) {
        put_body(state_, object.kind, object.id, base.back() + 1, object.after);
      } else if (i < cutters.size() && cutters[i]) {
        cutters[i]->revision = base.back() + 1;
        state_.cutters.put(std::move(*cutters[i]));
      }
    }
  }
  saving_ = saving_ == Saving::failing ? Saving::failing : Saving::saving;
  const quint64 ticket = next_ticket_++;
  pending_.push_back({ticket, step});
  // The texts are copied off the interface thread.
  QMetaObject::invokeMethod(
      worker_,
      [worker = worker_, change, base = std::move(base), who = current_user(), when = current_time(), ticket,
       epoch = epoch_, known = known_seq_] {
        StoredChange stored{change->label.toStdString(), who, when, {}, known};
        stored.edits.reserve(change->objects.size());
        for (std::size_t i = 0; i < change->objects.size(); ++i) {
          const ObjectChange& o = change->objects[i];
          stored.edits.push_back({o.kind, o.id, base[i], o.before, o.after});
        }
        worker->commit(std::move(stored), ticket, epoch);
      },
      Qt::QueuedConnection);
  emit changed();
  emit saving_changed(QString());
}

void Shop::settle(quint64 ticket) {
  settled_ticket_ = std::max(settled_ticket_, ticket);
  while (!pending_.empty() && pending_.front().ticket <= settled_ticket_) pending_.pop_front();
  saving_ = settled_ticket_ + 1 == next_ticket_ ? Saving::saved : Saving::saving;
  emit saving_changed(QString());
}

bool Shop::wait_until_saved(int milliseconds) {
  QElapsedTimer timer;
  timer.start();
  QEventLoop loop;
  while (saving_ == Saving::saving && timer.elapsed() < milliseconds)
    loop.processEvents(QEventLoop::ExcludeUserInputEvents | QEventLoop::WaitForMoreEvents, 20);
  return saving_ == Saving::saved;
}

}  // namespace pecorra

#include "moc_shop.cpp"
