// One part of the shop page: a list at the left and a bench at the right.
#pragma once

#include <QObject>
#include <QWidget>

#include "core/base/id.h"

namespace pecorra {

class PartsSection : public QObject {
  Q_OBJECT
 public:
  using QObject::QObject;
  QWidget* list() const { return list_; }
  QWidget* bench() const { return bench_; }
  virtual QString title() const = 0;
  virtual QString new_text() const { return {}; }  // empty: nothing can be added
  virtual bool can_add() const { return true; }    // false: they are made elsewhere
  virtual QString count_text() const { return {}; }
  virtual void set_text(const QString&) {}
  virtual void select(const Id&) {}
  virtual void add(QWidget*) {}  // `under`: what a drop-down list opens from
  virtual void copy() {}         // another one like the selected
  virtual void remove() {}
  virtual QWidget* focus_target() const { return list_; }

 signals:
  void said(const QString& what, bool fault);
  void counted();

 protected:
  QWidget* list_ = nullptr;
  QWidget* bench_ = nullptr;
};

}  // namespace pecorra
