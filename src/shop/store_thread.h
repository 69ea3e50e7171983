// The store on its own thread: changes are written in order, each acknowledged once it is durable.
#pragma once

#include <QObject>
#include <QStringList>
#include <QThread>
#include <QTimer>
#include <memory>

#include "store/store.h"

namespace pecorra {

// Lives on the store's thread.
class StoreWorker : public QObject {
  Q_OBJECT
 public:
  // `seq`: the last change that is known already.
  StoreWorker(QString file, std::int64_t seq) : file_(std::move(file)), seq_(seq) {}

 public slots:
  void open();
  // Writes what is waiting, except what was reported as not written.
  void close();
  // `epoch`: number of refusals known to the maker of the change.
  void commit(pecorra::StoredChange change, quint64 ticket, int epoch);
  void retry();
  void look_outside();

 signals:
  // `known`: the last change the receiver has then seen.
  void committed(quint64 ticket, qint64 known);
  void failed(quint64 ticket, pecorra::StoreFault fault);
  // It conflicts with what another program wrote: why, its label, and its objects as stored.
  void refused(quint64 ticket, pecorra::StoreFault why, QString label, std::vector<pecorra::StoredObject> objects,
               int epoch);
  // Others' changes, or ours merged with them.
  void changed_outside(std::vector<pecorra::StoredObject> objects, qint64 known, bool merged);

 private:
  struct Waiting {
    StoredChange change;
    quint64 ticket;
    int epoch;
  };
  void write_waiting();
  bool connect_store();
  void take_news();

  QString file_;
  std::unique_ptr<Store> store_;
  std::vector<Waiting> waiting_;  // not accepted yet, in order
  std::int64_t seq_ = 0;          // everything up to here has been reported
  std::int64_t news_seq_ = 0;     // others' changes were last reported here; everything after it up to seq_ is our own
  int epoch_ = 0;
  bool told_replaced_ = false;
  QTimer* outside_ = nullptr;
  QTimer* again_ = nullptr;
};

}  // namespace pecorra
