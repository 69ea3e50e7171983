// The open shop, for window and command line alike: its objects, changes with undo, and the resolver over its tables.
#pragma once

#include <QObject>
#include <QString>
#include <QThread>
#include <functional>
#include <memory>

#include "core/conditions/resolver.h"
#include "core/mechanics/cut.h"
#include "shop/change.h"
#include "shop/state.h"

namespace pecorra {

class StoreWorker;

// Loads a whole shop; what cannot be read is in `faults`, the rest is there.
struct LoadedShop {
  ShopState state;
  FormatFaults faults;
  bool read_only = false;
  std::int64_t seq = 0;  // the last change that is in it
};
tl::expected<LoadedShop, StoreFault> load_shop(const QString& file);

// Whoever works here, as it stands in the history.
std::string current_user();
std::string current_time();
Id new_id();

class Shop : public QObject {
  Q_OBJECT
 public:
  enum class Saving { saved, saving, failing };

  // Opens the file and starts the thread that writes to it. Blocks; windows load aside and then start.
  static tl::expected<std::unique_ptr<Shop>, StoreFault> open(const QString& file);
  static std::unique_ptr<Shop> start(const QString& file, LoadedShop loaded);
  ~Shop() override;

  const ShopState& state() const { return state_; }
  const Resolver& resolver() const;
  QString file() const { return file_; }
  bool is_read_only() const { return read_only_; }
  const FormatFaults& load_faults() const { return load_faults_; }

  // Applies a change at once and hands it to the store. An empty change does nothing and leaves no step.
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
  // Waits until everything is written or cannot be; false when something is not saved.
  bool wait_until_saved(int milliseconds);

 signals:
  // Objects changed, were added or went.
  void changed();
  void did(const QString& what, bool can_be_undone);
  void accepted(quint64 ticket);
  void saving_changed(const QString& trouble);
  void put_back(const QString& why);

 private:
  Shop() = default;
  void perform(const std::shared_ptr<const Change>& change, std::vector<std::optional<Cutter>> cutters);
  void settle(quint64 ticket);

  QString file_;
  ShopState state_;
  FormatFaults load_faults_;
  bool read_only_ = false;
  mutable std::unique_ptr<Resolver> resolver_;
  std::vector<std::shared_ptr<const Change>> undo_, redo_;  // also read by the thread that writes
  QThread thread_;
  StoreWorker* worker_ = nullptr;
  quint64 next_ticket_ = 1;
  quint64 settled_ticket_ = 0;
  int epoch_ = 0;  // reloads seen
  Saving saving_ = Saving::saved;
};

}  // namespace pecorra
