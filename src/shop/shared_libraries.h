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

  // The library as that file from now on, which is made where it is missing.
  void share(const Id& library, const QString& file);
  // A library of the shop for that file; what is in it waits to be looked at.
  void open(const QString& file);
  // The library stays here, the file where it is.
  void stop(const Id& library);
  // The file is somewhere else now, or has to be written again.
  void set_file(const Id& library, const QString& file);

  const SharedLibrary* shared(const Id& library) const;
  // What is the matter with the file; empty: nothing.
  QString fault(const Id& library) const;
  int waiting(const Id& library) const;  // changes in the file
  bool is_busy() const;
  // The first library that somebody should look at.
  std::optional<Id> to_look_at() const;
  // What waits in the file; nothing where none does.
  std::shared_ptr<const SharedReport> changes(const Id& library) const;
  // For these lines ours stands: it is written with the next exchange.
  void settle(const Id& library, const std::vector<SharedLine>& lines);
  void look();  // at once

 signals:
  void changed();
  void said(const QString& what, bool fault);
  // The changes of a file that has been opened have been read.
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
