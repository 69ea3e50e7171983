// The open shop, for window and command line: its objects, changes with undo, and the resolver over its tables.
#pragma once

#include <QObject>
#include <QString>
#include <QThread>
#include <deque>
#include <functional>
#include <memory>
#include <unordered_set>

#include "core/conditions/resolver.h"
#include "core/mechanics/cut.h"
#include "shop/change.h"
#include "shop/state.h"

namespace pecorra {

class StoreWorker;

// Loads a whole shop. What cannot be read is listed in `faults`; the rest is loaded.
struct LoadedShop {
  ShopState state;
  FormatFaults faults;
  bool read_only = false;
  std::int64_t seq = 0;  // the last change it includes
};
tl::expected<LoadedShop, StoreFault> load_shop(const QString& file);

// Writes a change made from a shop as it was at `known_seq`, without a window. Waits a few seconds for a lock. Blocks.
tl::expected<Accepted, StoreFault> write_change(const QString& file, std::int64_t known_seq, const Change& change);

// The user's name for the history.
std::string current_user();
std::string current_time();
Id new_id();

class Shop : public QObject {
  Q_OBJECT
 public:
  enum class Saving { saved, saving, failing };

  // Opens the file and starts the thread that writes to it. Blocks; windows load on another thread and then start.
  static tl::expected<std::unique_ptr<Shop>, StoreFault> open(const QString& file);
  static std::unique_ptr<Shop> start(const QString& file, LoadedShop loaded);
  ~Shop() override;

  const ShopState& state() const { return state_; }
  const Resolver& resolver() const;
  QString file() const { return file_; }
  bool is_read_only() const { return read_only_; }
  const FormatFaults& load_faults() const { return load_faults_; }

  // Applies a change at once and hands it to the store. An empty change does nothing and adds no undo step.
  void apply(Change change) { apply(ReadChange(std::move(change))); }
  void apply(ReadChange change);
  // One object changed.
  template <class T>
  void edit(const T& before, const T& after, const QString& label) {
    Change change;
    change.label = label;
    change.edit(before, after);
    apply(std::move(change));
  }
  bool can_undo() const { return !undo_.empty(); }
  bool can_redo() const { return !redo_.empty(); }
  QString undo_label() const { return undo_.empty() ? QString() : undo_.back()->label; }
  QString redo_label() const { return redo_.empty() ? QString() : redo_.back()->label; }
  void undo();
  void redo();

  Saving saving() const { return saving_; }
  // Why saving fails: the file was replaced or removed, and the shop has to be saved as a new one.
  bool is_replaced() const {
    return saving_ == Saving::failing && (trouble_ == StoreTrouble::replaced || trouble_ == StoreTrouble::missing ||
                                          trouble_ == StoreTrouble::not_a_shop || trouble_ == StoreTrouble::damaged);
  }
  // Waits until everything is written or has failed; false if something is not saved.
  bool wait_until_saved(int milliseconds);

 signals:
  // Objects were changed, added or deleted.
  void changed();
  void did(const QString& what, bool can_be_undone);
  void accepted(quint64 ticket);
  void saving_changed(const QString& trouble);
  void put_back(const QString& why);

 private:
  Shop() = default;
  using Step = std::shared_ptr<const Change>;
  struct Pending {
    quint64 ticket;
    Step step;
  };
  // `step`: for undo and redo.
  void perform(const Step& change, std::vector<std::optional<Cutter>> cutters, const Step& step);
  bool step(std::vector<Step>& from, std::vector<Step>& to, bool back);
  bool take_over(const std::vector<StoredObject>& objects, bool all);
  void settle(quint64 ticket);

  QString file_;
  ShopState state_;
  FormatFaults load_faults_;
  bool read_only_ = false;
  mutable std::unique_ptr<Resolver> resolver_;
  std::vector<Step> undo_, redo_;  // also read by the thread that writes
  std::deque<Pending> pending_;    // not confirmed yet
  std::unordered_set<Id> changed_by_others_;
  std::int64_t known_seq_ = 0;  // the last change of the file included in the state
  QThread thread_;
  StoreWorker* worker_ = nullptr;
  quint64 next_ticket_ = 1;
  quint64 settled_ticket_ = 0;
  int epoch_ = 0;  // refusals seen
  Saving saving_ = Saving::saved;
  StoreTrouble trouble_ = StoreTrouble::io;
};

}  // namespace pecorra
