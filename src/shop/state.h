// The open shop in memory: one flat array for each kind of object.
#pragma once

#include <concepts>
#include <map>
#include <optional>
#include <span>
#include <string>
#include <tl/expected.hpp>
#include <unordered_map>
#include <unordered_set>
#include <vector>

#include "core/base/large_memory.h"
#include "core/base/shared_value.h"
#include "core/conditions/resolver.h"
#include "core/stored/stored_kinds.h"
#include "formats/json/body.h"
#include "store/store.h"

namespace pecorra {

// Copies share what is in it until one of them is changed.
template <class T>
class Collection {
 public:
  const std::vector<T>& all() const { return held_->items; }
  // A snapshot; while somebody holds it, a change copies the list.
  std::shared_ptr<const std::vector<T>> shared() const {
    auto held = held_.shared();
    if (!held) return std::make_shared<const std::vector<T>>();
    const std::vector<T>* items = &held->items;
    return {std::move(held), items};
  }
  auto begin() const { return all().begin(); }
  auto end() const { return all().end(); }
  std::size_t size() const { return all().size(); }
  bool empty() const { return all().empty(); }
  const T& operator[](std::size_t i) const { return all()[i]; }

  const T* find(const Id& id) const {
    const Held& held = *held_;
    const auto found = held.index.find(id);
    return found == held.index.end() ? nullptr : &held.items[found->second];
  }
  // By exact name or by id text; nothing if there is none.
  const T* named(const std::string& name) const requires requires(const T& t) { t.name; }
  {
    for (const T& item : all())
      if (item.name == name) return &item;
    const auto id = Id::parse(name);
    return id && !id->is_null() ? find(*id) : nullptr;
  }
  void reserve(std::size_t count) {
    Held& held = held_.own();
    reserve_large(held.items, count);
    held.index.reserve(count);
  }
  // For loading: reserves room for many new objects that are then filled in place. Until then nothing else may be put,
  // and no more may be grown than were reserved. Their ids must be known.
  std::span<T> grow(std::span<const Id> ids) {
    Held& held = held_.own();
    const std::size_t from = held.items.size();
    held.items.resize(from + ids.size());
    for (std::size_t i = 0; i < ids.size(); ++i) held.index.try_emplace(ids[i], from + i);
    forget_log();
    return std::span<T>(held.items).subspan(from);
  }
  std::size_t capacity() const { return all().capacity(); }
  void put(T item) {
    Held& held = held_.own();
    const auto [at, added] = held.index.try_emplace(item.id, held.items.size());
    log_.push_back(at->second);
    if (added) held.items.push_back(std::move(item));
    else held.items[at->second] = std::move(item);
    if (log_.size() > most_logged) forget_log();
  }
  void remove(const Id& id) { remove(std::vector<Id>{id}); }
  // Many in one go.
  void remove(const std::vector<Id>& ids) {
    std::vector<bool> gone(size());
    bool any = false;
    for (const Id& id : ids)
      if (const auto found = held_->index.find(id); found != held_->index.end()) any = gone[found->second] = true;
    if (!any) return;
    Held& held = held_.own();
    std::size_t to = 0;
    for (std::size_t i = 0; i < held.items.size(); ++i) {
      if (gone[i]) continue;
      if (to != i) held.items[to] = std::move(held.items[i]);
      ++to;
    }
    held.items.erase(held.items.begin() + static_cast<std::ptrdiff_t>(to), held.items.end());
    held.index.clear();
    for (std::size_t i = 0; i < held.items.size(); ++i) held.index[held.items[i].id] = i;
    forget_log();
  }

  // Counts puts, so that caches can ask what was put since.
  std::uint64_t version() const { return forgotten_ + log_.size(); }
  // Indices put since that version; nothing: too many, or some were deleted, and everything must be checked.
  std::optional<std::span<const std::size_t>> put_since(std::uint64_t version) const {
    if (version < forgotten_ || version > this->version()) return std::nullopt;
    return std::span<const std::size_t>(log_).subspan(version - forgotten_);
  }

 private:
  struct Held {
    std::vector<T> items;
    std::unordered_map<Id, std::size_t> index;
  };
  static constexpr std::size_t most_logged = 1000;
  void forget_log() {
    forgotten_ += log_.size() + 1;
    log_.clear();
  }
  SharedValue<Held> held_;
  std::vector<std::size_t> log_;
  std::uint64_t forgotten_ = 0;
};

// What an object belongs to: its cutter, its job, its operation.
template <class T>
const Id* owner_of(const T& t) {
  if constexpr (requires { requires std::same_as<decltype(T::cutter), Id>; }) return &t.cutter;
  else if constexpr (requires { requires std::same_as<decltype(T::job), Id>; }) return &t.job;
  else if constexpr (requires { requires std::same_as<decltype(T::operation), Id>; }) return &t.operation;
  else return nullptr;
}
template <class T>
concept Owned = requires {
  requires std::same_as<decltype(T::cutter), Id>;
}
|| requires { requires std::same_as<decltype(T::job), Id>; }
|| requires { requires std::same_as<decltype(T::operation), Id>; };

// Looked up by owner, for every row of a list.
template <class T>
class OwnedCollection : public Collection<T> {
 public:
  void put(T item) {
    const T* known = this->find(item.id);
    const Id owner = *owner_of(item);
    const bool is_new = !known, moved = known && *owner_of(*known) != owner;
    Collection<T>::put(std::move(item));
    if (moved) index_owners();
    else if (is_new) by_owner_.own()[owner].push_back(this->size() - 1);
  }
  void remove(const std::vector<Id>& ids) {
    Collection<T>::remove(ids);
    index_owners();
  }
  void remove(const Id& id) { remove(std::vector<Id>{id}); }
  // Indices into all(), in order.
  std::span<const std::size_t> of(const Id& owner) const {
    const auto found = by_owner_->find(owner);
    return found == by_owner_->end() ? std::span<const std::size_t>() : std::span<const std::size_t>(found->second);
  }
  std::span<const std::size_t> of_cutter(const Id& cutter) const { return of(cutter); }

 private:
  void index_owners() {
    auto& by_owner = by_owner_.own();
    by_owner.clear();
    for (std::size_t i = 0; i < this->size(); ++i) by_owner[*owner_of((*this)[i])].push_back(i);
  }
  SharedValue<std::unordered_map<Id, std::vector<std::size_t>>> by_owner_;
};

template <class T>
struct CollectionFor {
  using List = Collection<T>;
};
template <Owned T>
struct CollectionFor<T> {
  using List = OwnedCollection<T>;
};

struct ShopState {
#define PECORRA_COLLECTION(kind, Type, list, label) CollectionFor<Type>::List list;
  PECORRA_STORED_KINDS(PECORRA_COLLECTION)
#undef PECORRA_COLLECTION

  // Calls call(collection) for the array of that kind.
  template <class Call>
  void visit(ObjectKind kind, Call&& call) {
    visit(*this, kind, call);
  }
  template <class Call>
  void visit(ObjectKind kind, Call&& call) const {
    visit(*this, kind, call);
  }
  // For every kind in turn.
  template <class Call>
  void visit_all(Call&& call) const {
    for (int i = 0; i < object_kind_count; ++i) visit(static_cast<ObjectKind>(i), call);
  }

  // Nothing if there is no such object.
  std::optional<std::int64_t> revision_of(ObjectKind kind, const Id& id) const;
  ShopSettings shop_settings() const { return settings.empty() ? ShopSettings{} : settings[0]; }
  // The usual assembly of a cutter, or its first one if none is marked.
  const Assembly* assembly_of(const Id& cutter) const;
  // The cutter at the diameter that its usual assembly sets it to.
  Cutter as_used(const Cutter& cutter) const;
  EdgeFactors edge_factors() const;
  ResolverOptions resolver_options() const;  // as the shop has set them; points into the recipes
  const Recipe* recipe_named(const Id& cutter, const std::string& name) const;
  // By the shop's pattern.
  std::string name_for(const Cutter& cutter) const { return suggested_name(cutter, shop_settings().name_pattern); }
  // The job with everything that belongs to it, in order; nothing if there is none.
  std::optional<Job> job(const Id& id) const;
  std::vector<Job> whole_jobs() const;
  const Cutter* cutter_numbered(const Id& library, int number) const;
  int free_number(const Id& library) const;

 private:
  template <class State, class Call>
  static void visit(State& state, ObjectKind kind, Call& call) {
    switch (kind) {
#define PECORRA_CASE(kind, Type, list, label) \
  case ObjectKind::kind: call(state.list); return;
      PECORRA_STORED_KINDS(PECORRA_CASE)
#undef PECORRA_CASE
    }
  }
};

// Puts one stored object into its array, or removes it if its body is empty. Faults name object and key.
FormatFaults put_stored(ShopState& state, const StoredObject& stored);
// The same for one that is not deleted.
FormatFaults put_body(ShopState& state, ObjectKind kind, const Id& id, std::int64_t revision, std::string_view body);

// Deletes objects all at once: one by one, each would cost a pass over the list.
class Removal {
 public:
  explicit Removal(ShopState& state) : state_(state) {}
  ~Removal() { finish(); }
  Removal(const Removal&) = delete;
  Removal& operator=(const Removal&) = delete;
  void add(ObjectKind kind, const Id& id) { gone_[kind].push_back(id), ids_.insert(id); }
  // Before it is put again.
  void before_put(const Id& id) {
    if (ids_.contains(id)) finish();
  }
  void finish();

 private:
  ShopState& state_;
  std::map<ObjectKind, std::vector<Id>> gone_;
  std::unordered_set<Id> ids_;
};

}  // namespace pecorra
