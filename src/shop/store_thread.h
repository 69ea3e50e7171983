// The store on a thread of its own: changes are written in order, each acknowledged when it is durable.
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
  // Writes what is waiting, unless it was told as not written.
  void close();
  // `epoch` counts the refusals that whoever made the change knew of.
  void commit(pecorra::StoredChange change, quint64 ticket, int epoch);
  void retry();
  void look_outside();

 signals:
  // `known`: the last change that whoever hears this has seen then.
  void committed(quint64 ticket, qint64 known);
  void failed(quint64 ticket, pecorra::StoreFault fault);
  // It cannot be brought together with what another program wrote: why, its label, and its objects as they stand.
  void refused(quint64 ticket, pecorra::StoreFault why, QString label, std::vector<pecorra::StoredObject> objects,
               int epoch);
  // Others' changes, or ours brought together with them.
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
  std::int64_t seq_ = 0;          // whoever listens has been told of everything up to here
  std::int64_t news_seq_ = 0;     // what others wrote was last told then; all after it up to seq_ is our own
  int epoch_ = 0;
  bool told_replaced_ = false;
  QTimer* outside_ = nullptr;
  QTimer* again_ = nullptr;
};

}  // namespace pecorra
