// Cutters and their assemblies on the command line: export, figures of an assembly, those that are here twice, merging.
#include <algorithm>
#include <cmath>
#include <iostream>

#include "cli/lookup.h"
#include "core/base/stock.h"
#include "core/cutter/duplicates.h"
#include "core/drawing/cutter_sheet.h"
#include "formats/dxf/dxf_writer.h"
#include "formats/svg/sheet_svg.h"
#include "shop/cutter_edit.h"
#include "shop/drawing_file.h"
#include "shop/words.h"

namespace pecorra::cli {
namespace {

Json cutter_json(const ShopState& state, const Cutter& c) {
  Json json = to_json(c);
  json.erase("library");
  if (const Insert* insert = state.inserts.find(c.insert)) json["insert"] = insert->name;
  else json.erase("insert");
  return json;
}

std::string csv_cell(std::string text) {
  // What a spreadsheet would take for a formula is kept from being one.
  if (!text.empty() && std::string_view("=+-@\t\r").find(text[0]) != std::string_view::npos && !(text[0] == '-' && text.size() > 1 && std::isdigit(static_cast<unsigned char>(text[1])))) text = "'" + text;
  if (text.find_first_of(",\"\n\r") == std::string::npos) return text;
  std::string out = "\"";
  for (const char c : text) out += c == '"' ? std::string("\"\"") : std::string(1, c);
  return out + "\"";
}

std::string csv_of(const ShopState& state, const std::vector<const Cutter*>& cutters) {
  std::string csv;
  const auto skip = [](const Property<Cutter>& p) { return p.key == "library"; };
  for (const Property<Cutter>& p : properties<Cutter>())
    if (!skip(p)) csv += (csv.empty() ? "" : ",") + std::string(p.key);
  csv += "\r\n";
  for (const Cutter* c : cutters) {
    bool first = true;
    for (const Property<Cutter>& p : properties<Cutter>()) {
      if (skip(p)) continue;
      if (!first) csv += ',';
      first = false;
      const Value value = p.get(*c);
      if (p.key == "insert") {
        if (const Insert* insert = state.inserts.find(c->insert)) csv += csv_cell(insert->name);
      } else if (const double* number = std::get_if<double>(&value)) {
        csv += *number == std::floor(*number) && std::abs(*number) < 1e15 ? std::to_string(static_cast<long long>(*number)) : Json(*number).dump();
      } else if (const bool* flag = std::get_if<bool>(&value)) {
        csv += *flag ? "true" : "false";
      } else if (const std::string* text = std::get_if<std::string>(&value)) {
        csv += csv_cell(*text);
      }
    }
    csv += "\r\n";
  }
  return csv;
}

// One below the other, each as it is drawn in the window, in its holder.
std::string svg_of(const ShopState& state, const std::vector<const Cutter*>& cutters) {
  constexpr double width = 900, height = 620;
  std::string sheets;
  double y = 0;
  for (const Cutter* c : cutters) {
    const Profile profile = silhouette(*c);
    if (profile.empty()) continue;
    const Assembly* a = state.assembly_of(c->id);
    SheetWish wish;
    wish.width = width;
    wish.height = height;
    wish.units = c->unit;
    wish.holder = a ? state.holders.find(a->holder) : nullptr;
    wish.stickout_mm = a ? stickout_of(*a) : std::nullopt;
    std::string svg = svg_of_sheet(lay_out(*c, profile, wish), wish);
    if (cutters.size() == 1) return svg;
    svg.insert(4, " y=\"" + std::to_string(y) + "\"");
    sheets += svg;
    y += height;
  }
  return "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"" + std::to_string(width) + "\" height=\"" + std::to_string(y) + "\">\n" + sheets + "</svg>\n";
}

std::string dxf_of(const std::vector<const Cutter*>& cutters) {
  std::vector<PlacedProfile> placed;
  double x = 0;
  for (const Cutter* c : cutters) {
    Profile profile = silhouette(*c);
    if (profile.empty()) continue;
    const double half = largest_radius_mm(profile, std::numeric_limits<double>::infinity());
    placed.push_back({std::move(profile), placed.empty() ? 0 : x + half, std::to_string(c->number) + " " + c->name});
    x = placed.back().x_mm + half + 10;
  }
  return dxf_of_profiles(placed);
}

}  // namespace

int export_library(const ExportOptions& options) {
  const auto loaded = load_shop(QString::fromStdString(options.shop));
  if (!loaded) return say(loaded.error());
  const ShopState& state = loaded->state;
  FormatFaults faults;
  const Library* library = find_named(state.libraries, options.library, "library", faults);
  static const std::vector<std::string> formats{"json", "csv", "dxf", "svg"};
  if (std::find(formats.begin(), formats.end(), options.format) == formats.end()) faults.push_back({"format", "“" + options.format + "” is not written; json, csv, dxf or svg is expected"});
  std::vector<const Cutter*> cutters;
  if (options.number) {
    if (const Cutter* one = find_cutter(state, library, *options.number, "number", faults)) cutters.push_back(one);
  } else if (library) {
    for (const Cutter& c : state.cutters)
      if (c.library == library->id) cutters.push_back(&c);
    std::stable_sort(cutters.begin(), cutters.end(), [](const Cutter* a, const Cutter* b) { return a->number < b->number; });
  }
  if (!faults.empty()) return say(faults);
  std::string text;
  if (options.format == "json") {
    Json json{{"format", "pecorra-library"}, {"format_version", format_version}, {"library", {{"name", library->name}, {"notes", library->notes}}}, {"cutters", Json::array()}};
    for (const Cutter* c : cutters) json["cutters"].push_back(cutter_json(state, *c));
    text = json.dump(1) + "\n";
  } else if (options.format == "csv") {
    text = csv_of(state, cutters);
  } else {
    const bool dxf = options.format == "dxf";
    for (const Cutter* c : cutters)
      if (silhouette(*c).empty()) std::cerr << "number " << c->number << ": " << c->name << " has no outline, its sizes do not fit; left out\n";
    text = dxf ? dxf_of(cutters) : svg_of(state, cutters);
  }
  const QString trouble = write_file(QString::fromStdString(options.out), QByteArray::fromStdString(text));
  if (trouble.isEmpty()) return answered;
  std::cerr << "OUT: " << trouble.toStdString() << "\n";
  return failed;
}

int assembly(const AssemblyOptions& options) {
  const auto loaded = load_shop(QString::fromStdString(options.shop));
  if (!loaded) return say(loaded.error());
  const ShopState& state = loaded->state;
  FormatFaults faults;
  const Library* library = find_named(state.libraries, options.library, "library", faults);
  const Cutter* cutter = find_cutter(state, library, options.number, "number", faults);
  for (const auto& [value, key, most] : {std::tuple{options.wall_height_mm, "wall-height", 1e6}, {options.draft_deg, "draft", 80.0}, {options.stickout_mm, "stickout", 1e6}})
    if (value && !(std::isfinite(*value) && *value >= 0 && *value <= most)) faults.push_back({key, "0 to " + Json(most).dump() + " is expected"});
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
      if (!named) faults.push_back({"name", "“" + options.name + "” is no assembly of this cutter; there are: " + names});
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
  if (options.wall_height_mm || options.draft_deg) wall = Wall{options.wall_height_mm.value_or(0), options.draft_deg.value_or(0)};
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
  std::cout << Json{{"cutter", cutter->name}, {"assembly", a.name}, {"holder", holder ? Json(holder->name) : Json(nullptr)}, {"figures", figures}, {"holders_that_fit", fitting}, {"messages", messages_json(messages)}}.dump(2) << "\n";
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
    pairs.push_back({{"first", named(state.cutters[pair.first])}, {"second", named(state.cutters[pair.second])}, {"by", pair.why == Likeness::order_code ? "order_code" : "sizes"}});
  std::cout << Json{{"duplicates", pairs}}.dump(2) << "\n";
  return answered;
}

int merge(const MergeOptions& options) {
  auto opened = Shop::open(QString::fromStdString(options.shop));
  if (!opened) return say(opened.error());
  Shop& shop = **opened;
  const ShopState& state = shop.state();
  FormatFaults faults;
  const Library* keep_library = find_named(state.libraries, options.library, "library", faults);
  const Library* gone_library = options.gone_library.empty() ? keep_library : find_named(state.libraries, options.gone_library, "gone-library", faults);
  const Cutter* keep = find_cutter(state, keep_library, options.keep, "keep", faults);
  const Cutter* gone = find_cutter(state, gone_library, options.gone, "gone", faults);
  if (keep && keep == gone) faults.push_back({"gone", "is the cutter that is to be kept; another number is expected"});
  if (!faults.empty()) return say(faults);
  if (shop.is_read_only()) {
    std::cerr << "shop: can only be read; nothing was changed\n";
    return failed;
  }
  const Change change = merge_cutters(state, *keep, *gone);
  int jobs = 0;
  for (const ObjectChange& o : change.objects) jobs += o.kind == ObjectKind::job;
  shop.apply(change);
  if (!shop.wait_until_saved(30000)) {
    std::cerr << "shop: not written; it stays as it was\n";
    return failed;
  }
  std::cout << Json{{"merged", options.gone}, {"into", options.keep}, {"jobs", jobs}}.dump() << "\n";
  return answered;
}

}  // namespace pecorra::cli
