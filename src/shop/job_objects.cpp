#include "shop/job_objects.h"

#include <algorithm>
#include <limits>
#include <map>
#include <set>

#include "shop/shop.h"

namespace pecorra {
namespace {

// The longest row of ranks that rise already keeps them; the others get places between.
template <class T>
void rank(std::vector<T>& list) {
  const std::size_t n = list.size();
  std::vector<std::size_t> length(n, 1), before(n, n);
  std::size_t last = n;
  for (std::size_t i = 0; i < n; ++i) {
    if (list[i].rank <= 0) {
      length[i] = 0;
      continue;
    }
    for (std::size_t k = 0; k < i; ++k)
      if (length[k] > 0 && list[k].rank < list[i].rank && length[k] + 1 > length[i])
        length[i] = length[k] + 1, before[i] = k;
    if (last == n || length[i] > length[last]) last = i;
  }
  std::vector<bool> keeps(n, false);
  for (std::size_t i = last; i < n; i = before[i]) keeps[i] = true;
  double low = 0;
  for (std::size_t i = 0; i < n; ++i) {
    if (!keeps[i]) {
      double high = std::numeric_limits<double>::infinity();
      double to_come = 1;
      for (std::size_t k = i + 1; k < n; ++k, ++to_come)
        if (keeps[k]) {
          high = list[k].rank;
          break;
        }
      list[i].rank = high < std::numeric_limits<double>::infinity() ? low + (high - low) / (to_come + 1) : low + 1;
    }
    low = list[i].rank;
  }
}

template <class T>
void edit_list(Change& change, const std::vector<T>& before, const std::vector<T>& after) {
  std::map<Id, const T*> were;
  for (const T& old : before) were.emplace(old.id, &old);
  std::set<Id> are;
  for (const T& now : after) are.insert(now.id);
  for (const T& old : before)
    if (!are.contains(old.id)) change.remove(old);
  for (const T& now : after)
    if (const auto old = were.find(now.id); old == were.end()) change.add(now);
    else if (!(*old->second == now)) change.edit(*old->second, now);
}

std::vector<OperationTrail> trails_of(const Job& job) {
  std::vector<OperationTrail> trails;
  for (const Operation& o : job.operations)
    if (OperationTrail trail = trail_of(o); !trail.empty()) trails.push_back(std::move(trail));
  return trails;
}

std::vector<Part> parts_of(const Job& job) { return job.part ? std::vector<Part>{*job.part} : std::vector<Part>{}; }

}  // namespace

void put_in_order(Job& job) {
  if (job.id.is_null()) job.id = new_id();
  const auto own = [&](auto& list) {
    for (auto& item : list) {
      if (item.id.is_null()) item.id = new_id();
      item.job = job.id;
    }
    rank(list);
  };
  own(job.setups);
  own(job.features);
  own(job.operations);
  if (job.part && (job.part->id.is_null() || job.part->job != job.id)) {
    Part part = *job.part;
    if (part.id.is_null()) part.id = new_id();
    part.job = job.id;
    job.part = std::make_shared<const Part>(std::move(part));
  }
}

void edit_job(Change& change, const Job& before, Job after) {
  put_in_order(after);
  if (!(before.head() == after.head())) change.edit(before.head(), after.head());
  if (before.part != after.part) edit_list(change, parts_of(before), parts_of(after));
  edit_list(change, before.setups, after.setups);
  edit_list(change, before.features, after.features);
  edit_list(change, before.operations, after.operations);
  edit_list(change, trails_of(before), trails_of(after));
}

void edit_operation(Change& change, const Operation& before, const Operation& after) {
  if (!(before == after)) change.edit(before, after);
  const OperationTrail was = trail_of(before), is = trail_of(after);
  if (was == is) return;
  if (was.empty()) change.add(is);
  else if (is.empty()) change.remove(was);
  else change.edit(was, is);
}

void add_job(Change& change, Job job) {
  put_in_order(job);
  change.add(job.head());
  Job none;
  none.head() = job.head();
  edit_job(change, none, std::move(job));
}

void remove_job(Change& change, const Job& job) {
  Job none;
  none.head() = job.head();
  edit_job(change, job, none);
  change.remove(job.head());
}

Change job_change(const QString& label, const Job& before, Job after) {
  Change change;
  change.label = label;
  edit_job(change, before, std::move(after));
  return change;
}

void put_job(ShopState& state, Job job) {
  put_in_order(job);
  state.jobs.put(job.head());
  if (job.part) state.parts.put(*job.part);
  for (const Setup& s : job.setups) state.setups.put(s);
  for (const Feature& f : job.features) state.features.put(f);
  for (OperationTrail& t : trails_of(job)) state.trails.put(std::move(t));
  for (Operation& o : job.operations) {
    put_trail(o, {});
    state.operations.put(std::move(o));
  }
}

}  // namespace pecorra
