// The only way to change a shop: objects before and after, with a label for people.
#pragma once

#include <QString>
#include <optional>
#include <vector>

#include "shop/state.h"

namespace pecorra {

struct ObjectChange {
  ObjectKind kind = ObjectKind::cutter;
  Id id;
  std::string before;  // JSON; empty: the object is new
  std::string after;   // JSON; empty: it is deleted
};

struct Change {
  QString label;
  std::vector<ObjectChange> objects;

  bool empty() const { return objects.empty(); }

  // Does nothing if before and after are equal.
  template <class T>
  void edit(const T& before, const T& after) {
    std::string from = body_of(before), to = body_of(after);
    if (from != to) objects.push_back({kind_of(after), after.id, std::move(from), std::move(to)});
  }
  template <class T>
  void add(const T& object) {
    objects.push_back({kind_of(object), object.id, {}, body_of(object)});
  }
  template <class T>
  void remove(const T& object) {
    objects.push_back({kind_of(object), object.id, body_of(object), {}});
  }

  Change reversed() const;
};

// A change whose cutters are already parsed, which is most of the work when there are many. Can be made on another
// thread.
struct ReadChange {
  explicit ReadChange(Change change);
  Change change;
  std::vector<std::optional<Cutter>> cutters;  // by index in the change, or none
};

}  // namespace pecorra
