#include "shop/chain_edit.h"

#include <QObject>

#include "core/cutter/kinds/threads.h"
#include "core/job/chain.h"
#include "shop/job_edit.h"
#include "shop/job_objects.h"
#include "shop/shop.h"
#include "shop/words.h"

namespace pecorra {

namespace {

bool needs_another(const Operation& first, const Operation& then) {
  return first.path == then.path && has_parameter(first.path, "cycle") && !first.cutter.id.is_null() &&
         first.cutter.id == then.cutter.id;
}

}  // namespace

std::vector<ProposedOperation> proposed_chain(const ShopState& state, const Resolver& resolver, const Job& job,
                                              const std::vector<std::string>& features) {
  // The cutter that finishes the hole says how deep and how wide it is drilled.
  ChainCutters known;
  for (Operation o : chain_of(job, features)) {
    if (declaration(o.path).usual != OperationKind::tap && declaration(o.path).usual != OperationKind::ream) continue;
    match_cutter(state, resolver, job, o);
    known.tap_lead_mm = o.cutter.lead_threads.value_or(3) * o.cutter.pitch_mm.value_or(0);
    known.reamer_lead_mm = o.cutter.lead_length_mm.value_or(0);
    if (o.cutter.tap_form == TapForm::form) known.tapping_drill_mm = tapping_drill_mm(o.cutter).value_or(0);
  }
  std::vector<ProposedOperation> out;
  Job grown = job;
  for (Operation& o : chain_of(job, features, known)) {
    ProposedOperation proposed{std::move(o), {}};
    proposed.operation.id = new_id();
    count_from_faced(grown, proposed.operation);
    proposed.notes = match_cutter(state, resolver, grown, proposed.operation);
    // A drill that needs a pilot cannot be its own.
    if (!out.empty() && needs_another(out.back().operation, proposed.operation)) {
      Operation& pilot = out.back().operation;
      const double d = pilot.cutter.diameter_mm.value_or(0);
      out.back().notes =
          use_generic(state, resolver, grown, pilot, {CutterKind::drill, d, {}, pilot.depth_mm.value_or(0) + d});
      grown.operations.back() = pilot;
    }
    grown.operations.push_back(proposed.operation);
    out.push_back(std::move(proposed));
  }
  return out;
}

Change added_operations(const Job& job, std::vector<Operation> operations) {
  Job changed = job;
  const std::size_t count = operations.size();
  const QString first = count > 0 ? label_text(label_of(operations.front().path)) : QString();
  for (Operation& o : operations) {
    if (o.id.is_null()) o.id = new_id();
    changed.operations.push_back(std::move(o));
  }
  return job_change(
      count == 1 ? QObject::tr("New operation: %1").arg(first) : QObject::tr("%1 new operations").arg(count), job,
      changed);
}

}  // namespace pecorra
