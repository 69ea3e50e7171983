// Libraries that also live as files: each is checked periodically and synchronised with the shop in the background.
// Changes by others wait for review.
#pragma once

#include <QHash>
#include <QTimer>

#include "shop/shared_file.h"
#include "shop/shop.h"
#include "shop/task.h"

namespace pecorra {

class SharedLibraries : public QObject {
  Q_OBJECT
 public:
  SharedLibraries(Shop& shop, Tasks& tasks, QObject* parent = nullptr);
  ~SharedLibraries() override;

  // Shares the library as that file from now on, creating it if it is missing.
  void share(const Id& library, const QString& file);
  // Adds a library for that file; its content waits for review.
  void open(const QString& file);
  // Stops sharing: the library stays here, and the file stays where it is.
  void stop(const Id& library);
  // The file has moved, or must be written again.
  void set_file(const Id& library, const QString& file);

  const SharedLibrary* shared(const Id& library) const;
  // What is wrong with the file; empty: nothing.
  QString fault(const Id& library) const;
  int waiting(const Id& library) const;  // changes in the file
  bool is_busy() const;
  // The first library that needs a review.
  std::optional<Id> to_look_at() const;
  // What is waiting for review in the file; nothing if there is none.
  std::shared_ptr<const SharedReport> changes(const Id& library) const;
  // For these lines our side counts: it is written with the next exchange.
  void settle(const Id& library, const std::vector<SharedLine>& lines);
  void look();  // at once

 signals:
  void changed();
  void said(const QString& what, bool fault);
  // The changes of an opened file have been read.
  void opened(const pecorra::Id& library);

 private:
  struct Versions {
    std::uint64_t cutters = 0, kept = 0, parts = 0;
    bool operator==(const Versions&) const = default;
  };
  struct State {
    std::shared_ptr<const SharedReport> report;
    Versions seen;
    std::vector<SharedLine> ours_stand;  // to be written with the next exchange
    bool looked = false, busy = false, make = false, just_opened = false;
  };
  Versions versions() const;
  bool is_ours_changed(const State& state, const Id& library) const;
  void exchange(const SharedLibrary& shared);
  const State* state_of(const Id& library) const;

  Shop& shop_;
  Tasks& tasks_;
  QHash<QString, State> states_;  // by the shared library
  QTimer timer_;
};

}  // namespace pecorra
