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
  void close();
  // `epoch` counts the reloads that the change was made after; one made before a reload is refused.
  void commit(pecorra::StoredChange change, quint64 ticket, int epoch);
  void retry();
  void look_outside();

 signals:
  void committed(quint64 ticket, qint64 seq);
  void failed(quint64 ticket, pecorra::StoreFault fault);
  // Another program was first: the shop as it stands now, and the labels of what was not written.
  void conflicted(quint64 ticket, std::vector<pecorra::StoredObject> everything, QStringList refused, int epoch);
  void refused(quint64 ticket);
  void changed_outside(std::vector<pecorra::StoredObject> objects);

 private:
  struct Waiting {
    StoredChange change;
    quint64 ticket;
  };
  void write_waiting();
  void take_news();

  QString file_;
  std::unique_ptr<Store> store_;
  std::vector<Waiting> waiting_;  // not accepted yet, in order
  std::int64_t seq_ = 0;
  int epoch_ = 0;
  QTimer* outside_ = nullptr;
  QTimer* again_ = nullptr;
};

}  // namespace pecorra
