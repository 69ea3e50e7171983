// Cutters and their assemblies on the command line: import, export, figures of an assembly, those that are here twice,
// merging.
#include <QFileInfo>
#include <algorithm>
#include <cmath>
#include <iostream>

#include "cli/write_planned.h"
#include "core/cutter/duplicates.h"
#include "core/holder/assembly_figures.h"
#include "shop/cutter_edit.h"
#include "shop/library_file.h"
#include "shop/words.h"

namespace pecorra::cli {
int export_library(const ExportOptions& options) {
  const auto loaded = load_shop(QString::fromStdString(options.shop));
  if (!loaded) return say(loaded.error());
  const ShopState& state = loaded->state;
  FormatFaults faults;
  const Library* library = find_named(state.libraries, options.library, "library", faults);
  const auto format = find_choice<CutterFormat>(options.format, "format", faults);
  std::vector<const Cutter*> cutters;
  if (options.number) {
    if (const Cutter* one = find_cutter(state, library, *options.number, "number", faults)) cutters.push_back(one);
  } else if (library) {
    for (const Cutter& c : state.cutters)
      if (c.library == library->id) cutters.push_back(&c);
    std::stable_sort(cutters.begin(), cutters.end(),
                     [](const Cutter* a, const Cutter* b) { return a->number < b->number; });
  }
  if (!faults.empty()) return say(faults);
  if (*format == CutterFormat::dxf || *format == CutterFormat::svg)
    for (const Cutter* c : cutters)
      if (silhouette(*c).empty())
        std::cerr << "number " << c->number << ": " << c->name
                  << " has no outline because its sizes do not fit; skipped\n";
  const Written written =
      write_cutter_file(state, library, cutters, *format, QString::fromStdString(options.out), UnitSystem::metric);
  if (!written.fault.isEmpty()) {
    std::cerr << "OUT: " << written.fault.toStdString() << "\n";
    return failed;
  }
  if (!written.left_out.isEmpty())
    std::cerr << "note: " << options.format << " does not carry "
              << written.left_out.join(QStringLiteral(", ")).toStdString() << "\n";
  return answered;
}

int import_library(const ImportOptions& options) {
  const Id fresh = new_id();
  return write_planned(options.shop, [&](const LoadedShop& loaded) -> tl::expected<Plan, int> {
    const ShopState& state = loaded.state;
    const Library* known = state.libraries.named(options.library);
    Library library;
    if (known) library = *known;
    else {
      if (trimmed(options.library).empty()) return tl::unexpected(say(FormatFaults{{"library", "a name is needed"}}));
      library.id = fresh;
      library.name = options.library;
    }
    IncomingCutters incoming = read_cutter_file(
        QString::fromStdString(options.file), options.inch ? UnitSystem::inch : UnitSystem::metric, known_names(state));
    if (!incoming.fault.isEmpty()) return tl::unexpected(say(FormatFaults{{"FILE", incoming.fault.toStdString()}}));
    CutterPreview preview = preview_cutters(state, library, incoming);
    Json rejected = Json::array(), conflicts = Json::array();
    int rejected_more = 0, conflicts_more = 0;
    for (auto& line : preview.lines) {
      for (const CellFault& f : line.faults)
        if (rejected.size() < most_listed)
          rejected.push_back({{"row", f.line}, {"column", f.column}, {"message", f.text}});
        else ++rejected_more;
      if (line.state != MergeState::conflict) continue;
      if (conflicts.size() < most_listed) conflicts.push_back({{"row", line.line}, {"message", line.why}});
      else ++conflicts_more;
      line.picked = options.conflicts;
    }
    Plan plan;
    if (!options.dry_run)
      plan.change =
          take_cutters(state, library, incoming, preview, QFileInfo(QString::fromStdString(options.file)).fileName());
    Json parts = Json::array();
    for (const FormatFault& f : incoming.part_faults) parts.push_back(f.line());
    plan.answer = {{"new", preview.counts[0]},
                   {"changed", preview.counts[1]},
                   {"same", preview.counts[2]},
                   {"conflict", preview.counts[3]},
                   {"rejected", rejected}};
    if (!conflicts.empty()) plan.answer["conflicts"] = conflicts;
    if (!incoming.unknown.empty()) plan.answer["unknown_columns"] = incoming.unknown;
    if (!parts.empty()) plan.answer["left_out"] = parts;
    if (rejected_more > 0) plan.answer["rejected_more"] = rejected_more;
    if (conflicts_more > 0) plan.answer["conflicts_more"] = conflicts_more;
    return plan;
  });
}

int assembly(const AssemblyOptions& options) {
  const auto loaded = load_shop(QString::fromStdString(options.shop));
  if (!loaded) return say(loaded.error());
  const ShopState& state = loaded->state;
  FormatFaults faults;
  const Library* library = find_named(state.libraries, options.library, "library", faults);
  const Cutter* cutter = find_cutter(state, library, options.number, "number", faults);
  for (const auto& [value, key, most] : {std::tuple{options.wall_height_mm, "wall-height", 1e6},
                                         {options.draft_deg, "draft", 80.0},
                                         {options.stickout_mm, "stickout", 1e6}})
    if (value && !(std::isfinite(*value) && *value >= 0 && *value <= most))
      faults.push_back({key, "0 to " + Json(most).dump() + " is expected"});
  const Holder* holder = options.holder.empty() ? nullptr : find_named(state.holders, options.holder, "holder", faults);
  const Assembly* named = nullptr;
  if (cutter) {
    named = state.assembly_of(cutter->id);
    if (!options.name.empty()) {
      named = nullptr;
      std::string names;
      for (const std::size_t i : state.assemblies.of_cutter(cutter->id)) {
        if (state.assemblies[i].name == options.name) named = &state.assemblies[i];
        names += (names.empty() ? "" : ", ") + state.assemblies[i].name;
      }
      if (!named)
        faults.push_back({"name", "“" + options.name + "” is not an assembly of this cutter; it has: " + names});
    }
  }
  if (!faults.empty()) return say(faults);
  Assembly a = named ? *named : Assembly{};
  if (holder) a.holder = holder->id;
  else holder = state.holders.find(a.holder);
  if (options.stickout_mm) {
    a.stickout_mm = options.stickout_mm;
    a.measured_stickout_mm.reset();
  }
  std::optional<Wall> wall;
  if (options.wall_height_mm || options.draft_deg)
    wall = Wall{options.wall_height_mm.value_or(0), options.draft_deg.value_or(0)};
  const AssemblyFigures f = figures_of(*cutter, holder, a, wall);
  Json figures = Json::object();
  const auto put = [&](const char* key, const std::optional<double>& value) {
    if (value && std::isfinite(*value)) figures[key] = *value;
  };
  put("stickout_mm", stickout_of(a));
  put("gauge_length_mm", f.gauge_length_mm);
  put("safe_stickout_mm", f.safe_stickout_mm);
  put("weight_kg", f.weight_kg);
  put("tip_stiffness_n_um", f.tip_stiffness_n_um);
  put("natural_frequency_hz", f.natural_frequency_hz);
  put("reach_beside_wall_mm", f.reach_beside_wall_mm);
  if (f.reach_beside_wall_mm) figures["reach_is_limited"] = std::isfinite(*f.reach_beside_wall_mm);
  if (f.clearance) {
    put("clearance_mm", f.clearance->distance_mm);
    put("nearest_above_tip_mm", f.clearance->on_assembly.y);
  }
  Json fitting = Json::array();
  for (const Holder& h : state.holders)
    if (!h.retired && holds(h, *cutter)) fitting.push_back(h.name);
  const std::vector<Message> messages = check_assembly(*cutter, holder, a, state.collets.find(a.collet));
  std::cout << Json{{"cutter", cutter->name},
                    {"assembly", a.name},
                    {"holder", holder ? Json(holder->name) : Json(nullptr)},
                    {"figures", figures},
                    {"holders_that_fit", fitting},
                    {"messages", messages_json(messages)}}
                   .dump(2)
            << "\n";
  return answered;
}

int duplicates(const std::string& shop) {
  const auto loaded = load_shop(QString::fromStdString(shop));
  if (!loaded) return say(loaded.error());
  const ShopState& state = loaded->state;
  Json pairs = Json::array();
  const auto named = [&](const Cutter& c) {
    const Library* library = state.libraries.find(c.library);
    return Json{{"library", library ? library->name : ""}, {"number", c.number}, {"name", c.name}};
  };
  for (const LikePair& pair : like_pairs(state.cutters.all()))
    pairs.push_back({{"first", named(state.cutters[pair.first])},
                     {"second", named(state.cutters[pair.second])},
                     {"by", pair.why == Likeness::order_code ? "order_code" : "sizes"}});
  std::cout << Json{{"duplicates", pairs}}.dump(2) << "\n";
  return answered;
}

int merge(const MergeOptions& options) {
  return write_planned(options.shop, [&](const LoadedShop& loaded) -> tl::expected<Plan, int> {
    const ShopState& state = loaded.state;
    FormatFaults faults;
    const Library* keep_library = find_named(state.libraries, options.library, "library", faults);
    const Library* gone_library = options.gone_library.empty()
                                      ? keep_library
                                      : find_named(state.libraries, options.gone_library, "gone-library", faults);
    const Cutter* keep = find_cutter(state, keep_library, options.keep, "keep", faults);
    const Cutter* gone = find_cutter(state, gone_library, options.gone, "gone", faults);
    if (keep && keep == gone) faults.push_back({"gone", "is the cutter to keep; give another number"});
    if (!faults.empty()) return tl::unexpected(say(faults));
    Plan plan;
    plan.change = merge_cutters(state, *keep, *gone);
    std::set<Id> of;
    for (const ObjectChange& o : plan.change.objects)
      if (const Operation* operation = o.kind == ObjectKind::operation ? state.operations.find(o.id) : nullptr)
        of.insert(operation->job);
    const auto jobs = of.size();
    plan.answer = {{"merged", options.gone}, {"into", options.keep}, {"jobs", jobs}};
    return plan;
  });
}

}  // namespace pecorra::cli
