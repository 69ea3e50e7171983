#include "shop/cutter_match.h"

#include <QObject>
#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/operation/generic_cutter.h"
#include "core/quantity/print.h"
#include "shop/job_edit.h"
#include "shop/planning.h"
#include "shop/shop.h"
#include "shop/words.h"

namespace pecorra {
namespace {

// Another kind than the wanted one, and a rounded corner on a floor, count as so much of the size.
constexpr double another_kind = 0.2, per_corner = 0.5;

double off_by(const Cutter& cutter, const std::optional<WantedCutter>& wanted) {
  const double corner = cutter.corner_radius_mm.value_or(0) / std::max(1e-9, *cutter.diameter_mm);
  if (!wanted || !(wanted->diameter_mm > 0)) return per_corner * corner;
  return std::abs(*cutter.diameter_mm - wanted->diameter_mm) / wanted->diameter_mm +
         (cutter.kind == wanted->kind ? 0 : another_kind) + per_corner * corner;
}

bool is_better(const CutterOption& a, const CutterOption& b) {
  if (a.misfits.size() != b.misfits.size()) return a.misfits.size() < b.misfits.size();
  if (a.generic != b.generic) return b.generic;
  if (a.here != b.here) return a.here;
  if (!a.other_holder != !b.other_holder) return !a.other_holder;
  if (a.in_job != b.in_job) return a.in_job;
  // Of one size the shorter is the stiffer.
  if (std::abs(a.off - b.off) > 1e-9) return a.off < b.off;
  return a.cutter->flute_length_mm.value_or(0) < b.cutter->flute_length_mm.value_or(0);
}

}  // namespace

CutterSearch::CutterSearch(const ShopState& state, const Resolver& resolver, const Job& job, const Operation& o)
    : state_(state),
      resolver_(resolver),
      job_(job),
      operation_(o),
      material_(state.materials.find(job.material)),
      machine_(state.machines.find(job.machine)) {
  std::vector<Message> unused;
  const JobIndex index(job);
  const OperationInput input = input_of(job, index, o, path_rules(state.shop_settings()), unused);
  const std::vector<Room> rooms = rooms_of(o, input);
  wanted_ = declaration(o.path).wanted(o, input, rooms);
  std::set<Id> in_job, off;
  for (const Operation& other : job.operations) in_job.insert(other.cutter.id);
  for (const Library& library : state.libraries)
    if (!library.switched_on) off.insert(library.id);
  const auto add = [&](const Cutter& cutter, const Cutter& as_used, bool generic) {
    CutterOption option;
    option.cutter = &cutter;
    option.generic = generic;
    option.in_job = in_job.contains(cutter.id);
    option.misfits = misfits_of(o, input, rooms, as_used);
    option.here = !generic && (!cutter.in_stock || *cutter.in_stock > 0);
    option.off = off_by(as_used, wanted_);
    all_.push_back(std::move(option));
  };
  for (const Cutter& cutter : state.cutters) {
    if (cutter.retired || !can_do(cutter.kind, o.operation) || !cutter.diameter_mm) continue;
    if (off.contains(cutter.library) && !in_job.contains(cutter.id)) continue;
    const Assembly* held = state.assembly_of(cutter.id);
    if (held && held->set_diameter_mm) add(cutter, as_set(cutter, *held), false);
    else add(cutter, cutter, false);
    const Holder* holder = held ? state.holders.find(held->holder) : nullptr;
    if (holder && machine_ && holder->machine_side && machine_->interface &&
        *holder->machine_side != *machine_->interface)
      all_.back().other_holder = holder;
  }
  std::set<Id> known;
  for (const Operation& other : job.operations)
    if (other.generic_cutter && can_do(other.cutter.kind, o.operation) && known.insert(other.cutter.id).second)
      add(other.cutter, other.cutter, true);
}

bool CutterSearch::look_closely(CutterOption& option) const {
  const Cutter& cutter = *option.cutter;
  if (has_error(check_cutter(cutter))) return false;
  if (!option.fits() || !material_ || !machine_) return true;
  Query query = query_for(state_, job_, operation_);
  query.own_n_rpm = query.own_vf_mm_min = not_given;
  Trail trail;
  option.resolution = resolver_.resolve(key_as_used(state_, resolver_, cutter), resolver_.key_of(*material_),
                                        resolver_.key_of(*machine_), query, trail);
  option.advised_against =
      std::any_of(trail.begin(), trail.end(), [](const TrailStep& step) { return step.step == "never_warning"; });
  return true;
}

void CutterSearch::sort(std::size_t most) {
  const std::size_t count = std::min(most, all_.size());
  std::partial_sort(all_.begin(), all_.begin() + static_cast<std::ptrdiff_t>(count), all_.end(),
                    [](const CutterOption& a, const CutterOption& b) {
                      if (is_better(a, b)) return true;
                      return !is_better(b, a) && a.cutter < b.cutter;  // as in the library
                    });
}

std::vector<CutterOption> CutterSearch::first(std::size_t most) {
  std::vector<CutterOption> out, without;  // conditions
  for (std::size_t looked = 0, block = std::max<std::size_t>(most, 64); out.size() + without.size() < most;
       block *= 2) {
    sort(looked + block);
    const std::size_t end = std::min(all_.size(), looked + block);
    for (; looked < end && out.size() + without.size() < most; ++looked) {
      if (!look_closely(all_[looked])) continue;
      const bool none = all_[looked].fits() && !all_[looked].resolution.found();
      (none ? without : out).push_back(all_[looked]);
    }
    if (looked == all_.size()) break;
  }
  const auto behind = std::find_if(out.begin(), out.end(), [](const CutterOption& o) { return !o.fits(); });
  out.insert(behind, without.begin(), without.end());
  return out;
}

std::optional<CutterOption> CutterSearch::best() {
  // Rising, so that only as many are put in order as are looked at.
  std::size_t looked = 0;
  std::optional<CutterOption> found;
  for (std::size_t block = 16; looked < all_.size(); block *= 4) {
    sort(looked + block);
    for (const std::size_t end = std::min(all_.size(), looked + block); looked < end; ++looked) {
      CutterOption& option = all_[looked];
      const bool worse = found && (!option.fits() || option.here != found->here || option.in_job != found->in_job ||
                                   !option.other_holder != !found->other_holder || option.generic != found->generic ||
                                   option.off > found->off + another_kind);
      if (!option.fits() || worse) return found;
      if (!look_closely(option) || !option.resolution.found()) continue;
      // One that a never rule advises against only where no other is as good.
      if (!option.advised_against) return option;
      if (!found) found = option;
    }
  }
  return found;
}

namespace {
// So that two of one name can be told apart.
std::string called(const ShopState& state, const Cutter& cutter) {
  const Library* library = state.libraries.find(cutter.library);
  return library ? cutter.name + " (" + library->name + " " + std::to_string(cutter.number) + ")" : cutter.name;
}
std::string numbered(const Cutter& c) {
  return c.number > 0 ? c.name + ", number " + std::to_string(c.number) : c.name;
}
}  // namespace

Message reason_against(const CutterOption& option, const CutterOption& taken,
                       const std::optional<WantedCutter>& wanted) {
  if (!option.fits()) return option.misfits.front();
  if (!option.resolution.found()) return {Severity::note, "no_conditions_for", "cutter", {}};
  if (option.here != taken.here) return {Severity::note, "not_in_stock", "cutter", {}};
  if (option.other_holder && !taken.other_holder)
    return {Severity::note, "holder_of_other_machine", "cutter", {{"holder", option.other_holder->name}}};
  if (option.in_job != taken.in_job)
    return {Severity::note, "another_is_in_job", "cutter", {{"name", numbered(*taken.cutter)}}};
  if (taken.advised_against < option.advised_against)
    return {Severity::note, "less_advised", "cutter", {{"name", numbered(*taken.cutter)}}};
  if (std::abs(option.off - taken.off) < 1e-9 && option.cutter->flute_length_mm > taken.cutter->flute_length_mm)
    return {Severity::note,
            "longer_than_needed",
            "flute_length_mm",
            {{"cutter_mm", *option.cutter->flute_length_mm}, {"taken_mm", taken.cutter->flute_length_mm.value_or(0)}}};
  if (wanted && wanted->diameter_mm > 0 && option.off > taken.off + 1e-9)
    return {Severity::note,
            "size_further_off",
            "diameter_mm",
            {{"cutter_mm", option.cutter->diameter_mm.value_or(0)}, {"wanted_mm", wanted->diameter_mm}}};
  return {Severity::note, "later_in_library", "cutter", {{"name", numbered(*taken.cutter)}}};
}

QString short_reason(const Message& note, UnitSystem units) {
  const auto number = [&](std::string_view name) {
    for (const auto& [key, value] : note.values)
      if (const double* n = std::get_if<double>(&value); n && key == name) return *n;
    return 0.0;
  };
  if (note.code == "generic_chosen") return QObject::tr("generic: no suitable cutter");
  if (note.code != "cutter_chosen") return sentence(note, units);
  QStringList parts;
  if (number("wanted_mm") > 0)
    parts << QObject::tr("nearest to Ø%1").arg(text_of(shown_with_unit(number("wanted_mm"), Quantity::length, units)));
  if (number("in_job") > 0) parts << QObject::tr("in this job");
  return parts.isEmpty() ? QObject::tr("fits and has conditions") : parts.join(QStringLiteral(", "));
}

namespace {

// False where such a cutter cannot do it.
bool put_generic(const ShopState& state, const Resolver& resolver, const Job& job, Operation& o,
                 const WantedCutter& wanted) {
  Cutter made = generic_cutter(wanted);
  // Of what the shop has most of this kind in.
  std::map<ToolMaterial, int> count;
  for (const Cutter& cutter : state.cutters)
    if (cutter.kind == made.kind && cutter.tool_material && !cutter.retired) ++count[*cutter.tool_material];
  if (const auto most = std::max_element(count.begin(), count.end(),
                                         [](const auto& a, const auto& b) { return a.second < b.second; });
      most != count.end())
    made.tool_material = most->first;
  if (!can_do(made.kind, o.operation) || has_error(check_cutter(made))) return false;
  made.id = new_id();
  pick_cutter(state, resolver, job, o, made);
  o.generic_cutter = true;
  return true;
}

Message generic_note(const Operation& o, bool again) {
  return {Severity::note, "generic_chosen", "cutter", {{"name", o.cutter.name}, {"again", again ? 1.0 : 0.0}}};
}

}  // namespace

std::vector<Message> use_generic(const ShopState& state, const Resolver& resolver, const Job& job, Operation& o,
                                 const WantedCutter& wanted) {
  if (!put_generic(state, resolver, job, o, wanted)) return {};
  return {generic_note(o, false)};
}

std::vector<Message> match_cutter(const ShopState& state, const Resolver& resolver, const Job& job, Operation& o) {
  std::vector<Message> notes;
  CutterSearch search(state, resolver, job, o);
  std::vector<CutterOption> next;
  const auto best = search.best();
  constexpr std::size_t told = 3;
  const auto pass_over = [&](const CutterOption& option, const Message& why) {
    notes.push_back(
        {Severity::note,
         "cutter_passed_over",
         "cutter",
         {{"name", called(state, *option.cutter)}, {"why", sentence(why, UnitSystem::metric).toStdString()}}});
  };
  for (const CutterOption& option : search.first(told + 1))
    if (!best || option.cutter != best->cutter) next.push_back(option);
  if (best && !best->generic) {
    pick_cutter(state, resolver, job, o, *best->cutter);
    notes.push_back({Severity::note,
                     "cutter_chosen",
                     "cutter",
                     {{"name", called(state, *best->cutter)},
                      {"in_job", best->in_job ? 1.0 : 0.0},
                      {"cutter_mm", best->cutter->diameter_mm.value_or(0)},
                      {"wanted_mm", search.wanted() ? search.wanted()->diameter_mm : 0.0}}});
    for (const CutterOption& option : next)
      if (notes.size() <= told) pass_over(option, reason_against(option, *best, search.wanted()));
    return notes;
  }
  if (best) {
    pick_cutter(state, resolver, job, o, *best->cutter);
    o.generic_cutter = true;
  } else if (search.wanted() && search.wanted()->diameter_mm > 0) {
    if (!put_generic(state, resolver, job, o, *search.wanted())) return notes;
  } else {
    return notes;
  }
  notes.push_back(generic_note(o, best.has_value()));
  for (const CutterOption& option : next)
    if (!option.fits() && notes.size() <= told) pass_over(option, option.misfits.front());
  return notes;
}

}  // namespace pecorra
