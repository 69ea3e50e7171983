// A job as the objects that the shop keeps: what two states of it differ in, as a change.
#pragma once

#include "shop/change.h"

namespace pecorra {

// Gives each setup, feature and operation its job and an id, and a rank by its place; those that stand in order keep
// theirs.
void put_in_order(Job& job);

// Adds what differs to the change; objects that are the same in both are left alone.
void edit_job(Change& change, const Job& before, Job after);
// One operation with its trail, where neither order nor job change.
void edit_operation(Change& change, const Operation& before, const Operation& after);
void add_job(Change& change, Job job);
void remove_job(Change& change, const Job& job);
Change job_change(const QString& label, const Job& before, Job after);

// For states that are put together outside of a shop: the demo, tests.
void put_job(ShopState& state, Job job);

}  // namespace pecorra
