#include "shop/job_overview.h"

#include <QObject>
#include <algorithm>
#include <set>

namespace pecorra {

JobSummary summary_of(const ShopState& state, const Resolver& resolver, const Id& id, std::shared_ptr<PlanCache> cache,
                      const PlanProgress& go_on) {
  JobSummary out;
  out.job = id;
  const auto job = state.job(id);
  if (!job) return out;
  out.operations = static_cast<int>(job->operations.size());
  std::set<Id> cutters;
  for (const Operation& o : job->operations)
    if (!o.cutter.id.is_null()) cutters.insert(o.cutter.id);
  out.cutters = static_cast<int>(cutters.size());
  const JobPlan plan = plan_job(plan_request(state, *job, std::move(cache)), go_on);
  for (const PathFigures& f : plan.figures) out.minutes += f.minutes;
  Severity worst = Severity::note;
  for (std::size_t i = 0; i < plan.faults.size(); ++i) {
    Severity here = Severity::note;
    for (const Message& m : plan.faults[i]) {
      here = std::max(here, m.severity);
      if (m.severity > worst) {
        worst = m.severity;
        out.first_fault = job->operations[i].name;
        out.fault = m;
      }
    }
    out.faulty += here == Severity::error;
    out.warned += here == Severity::warning;
    Operation anew = job->operations[i];
    retake(state, resolver, *job, anew);
    out.moved += source_moved(job->operations[i], anew);
  }
  out.health = out.operations == 0 ? JobHealth::empty
               : out.faulty > 0    ? JobHealth::faulty
               : out.moved > 0     ? JobHealth::moved
               : out.warned > 0    ? JobHealth::warned
                                   : JobHealth::ready;
  return out;
}

QString health_text(const JobSummary& s) {
  switch (s.health) {
    case JobHealth::faulty: return QObject::tr("%1 in error").arg(s.faulty);
    case JobHealth::moved: return QObject::tr("%1 changed at source").arg(s.moved);
    case JobHealth::warned: return QObject::tr("%1 with warnings").arg(s.warned);
    case JobHealth::ready: return QObject::tr("Ready");
    case JobHealth::empty: return QObject::tr("No operations");
  }
  return {};
}

}  // namespace pecorra
