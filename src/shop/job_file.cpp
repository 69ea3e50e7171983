#include "shop/job_file.h"

#include <QDir>
#include <QFileInfo>
#include <algorithm>
#include <cmath>
#include <set>

#include "core/operation/holes.h"
#include "shop/cutter_match.h"
#include "shop/drawing_file.h"
#include "shop/evaluation.h"
#include "shop/job_edit.h"
#include "shop/job_file_keys.h"
#include "shop/job_objects.h"
#include "shop/shop.h"
#include "shop/words.h"

namespace pecorra {
namespace {

std::string place(const std::string& path, const std::string& key) { return path.empty() ? key : path + "." + key; }
std::string entry(const std::string& list, std::size_t i) { return list + "[" + std::to_string(i) + "]"; }

// The values of one object of the file; what is wrong goes to the faults.
class Fields {
 public:
  Fields(const Json& json, std::string path, FormatFaults& faults)
      : json_(json), path_(std::move(path)), faults_(faults) {}

  bool is_object() {
    if (json_.is_object()) return true;
    wrong("", "is not an object; expected {…}");
    return false;
  }
  void only(const std::vector<std::string_view>& keys) {
    if (json_.is_object()) refuse_unknown(json_, path_, keys, faults_);
  }
  bool has(const char* key) const { return json_.is_object() && json_.contains(key) && !json_[key].is_null(); }
  const Json& at(const char* key) const { return json_[key]; }
  void wrong(const char* key, std::string text) { faults_.push_back({place(path_, key), std::move(text)}); }

  std::string text(const char* key) {
    if (!has(key)) return {};
    if (at(key).is_string()) return at(key).get<std::string>();
    wrong(key, "is not a text; expected \"…\"");
    return {};
  }
  std::optional<double> number(const char* key) {
    if (!has(key)) return std::nullopt;
    if (at(key).is_number() && std::isfinite(at(key).get<double>())) return at(key).get<double>();
    wrong(key, "is not a number");
    return std::nullopt;
  }
  std::optional<bool> flag(const char* key) {
    if (!has(key)) return std::nullopt;
    if (at(key).is_boolean()) return at(key).get<bool>();
    wrong(key, "is neither true nor false");
    return std::nullopt;
  }
  // Entries of a list; none where there is no list.
  std::vector<Json> list(const char* key) {
    if (!has(key)) return {};
    if (at(key).is_array()) return at(key).get<std::vector<Json>>();
    wrong(key, "is not a list; expected [ … ]");
    return {};
  }
  std::optional<std::vector<double>> numbers(const char* key, std::size_t count) {
    if (!has(key)) return std::nullopt;
    std::vector<double> out;
    if (at(key).is_array())
      for (const Json& n : at(key))
        if (n.is_number() && std::isfinite(n.get<double>())) out.push_back(n.get<double>());
    if (out.size() == count && at(key).size() == count) return out;
    wrong(key, "is not a list of " + std::to_string(count) + " numbers");
    return std::nullopt;
  }
  std::vector<Point2> points(const char* key) {
    std::vector<Point2> out;
    std::size_t i = 0;
    for (const Json& p : list(key)) {
      if (p.is_array() && p.size() == 2 && p[0].is_number() && p[1].is_number())
        out.push_back({p[0].get<double>(), p[1].get<double>()});
      else faults_.push_back({entry(place(path_, key), i), "is not a point; expected [x, y]"});
      ++i;
    }
    return out;
  }
  // Sets the properties of an object that stand in the file under these keys.
  template <class T>
  void properties_into(T& object, const std::vector<std::string_view>& keys) {
    for (const Property<T>& p : properties<T>()) {
      const std::string key(p.key);
      if (std::find(keys.begin(), keys.end(), p.key) == keys.end() || !has(key.c_str())) continue;
      ReadRules rules;
      rules.strict_range = true;
      read_properties(object, std::span<const Property<T>>(&p, 1), Json{{key, at(key.c_str())}}, path_, rules, faults_);
    }
  }
  const std::string& path() const { return path_; }

 private:
  const Json& json_;
  std::string path_;
  FormatFaults& faults_;
};

constexpr std::string_view every_operation[] = {
    "kind",     "features",      "cutter",         "name",        "top_mm",
    "depth_mm", "leave_wall_mm", "leave_floor_mm", "climb",       "own",
    "setup",    "operation",     "tool_number",    "stickout_mm", "permitted_deflection_mm",
    "behind",   "proven_step"};
template <class T>
std::string known_names(const std::vector<T>& all) {
  std::string text;
  for (std::size_t i = 0; i < all.size() && i < 12; ++i) text += (i ? ", " : "") + std::string(all[i]);
  return text;
}

class JobReader {
 public:
  JobReader(const ShopState& state, const Resolver& resolver, const QString& folder)
      : state_(state), resolver_(resolver), folder_(folder) {}

  tl::expected<ReadJob, FormatFaults> run(std::string_view text) {
    const auto json = parse_json(text);
    if (!json) return tl::unexpected(FormatFaults{json.error()});
    Fields f(*json, "", faults_);
    if (!f.is_object()) return tl::unexpected(faults_);
    f.only({"format_version", "name",           "machine", "material",     "pace",    "rapid_mm_min",
            "program_unit",   "program_number", "stock",   "clearance_mm", "zero",    "work_offset",
            "clamps",         "skin",           "under",   "setups",       "drawing", "drawing_lines",
            "drawing_texts",  "features",       "cutters", "operations"});
    if (const auto version = f.number("format_version"); version && *version != format_version)
      f.wrong("format_version", "is " + std::to_string(static_cast<long long>(*version)) + "; this Pecorra reads " +
                                    std::to_string(format_version));
    f.properties_into(job().head(), {"name", "pace", "rapid_mm_min", "program_unit", "program_number"});
    if (job().name.empty()) job().name = "Job";
    const std::string wanted = job().name;
    for (int i = 2; state_.jobs.named(job().name); ++i) job().name = wanted + " " + std::to_string(i);
    job().id = new_id();
    job().machine = named(f, "machine", state_.machines);
    job().material = named(f, "material", state_.materials);
    drawing(f);
    features(f);
    setups(f);
    cutter_values(f);
    operations(f);
    if (!faults_.empty()) return tl::unexpected(faults_);
    put_in_order(job());
    return std::move(out_);
  }

 private:
  Job& job() { return out_.job; }

  template <class T>
  Id named(Fields& f, const char* key, const Collection<T>& all) {
    const std::string name = f.text(key);
    if (name.empty()) {
      if (!f.has(key)) f.wrong(key, "is missing");
      return {};
    }
    if (const T* found = all.named(name)) return found->id;
    std::vector<std::string> names;
    for (const T& item : all) names.push_back(item.name);
    const std::string near = nearest_text(name, names);
    f.wrong(key, "“" + name + "” is not in this shop; " +
                     (near.empty() ? "there are: " + known_names(names) : "the nearest is “" + near + "”"));
    return {};
  }

  void drawing(Fields& f) {
    Part part;
    if (f.has("drawing")) {
      const QString file = text_of(f.text("drawing"));
      const DrawingRead read = read_drawing_file(QDir(folder_).filePath(file), 1, true);
      if (!read.fault.isEmpty()) return f.wrong("drawing", read.fault.toStdString());
      part.drawing = read.drawing;
    }
    std::size_t i = 0;
    for (const Json& line : f.list("drawing_lines")) {
      Fields l(line, entry("drawing_lines", i++), faults_);
      if (!l.is_object()) continue;
      l.only({"layer", "closed", "points", "circle"});
      if (const auto circle = l.numbers("circle", 3)) {
        part.drawing.add_circle({(*circle)[0], (*circle)[1]}, (*circle)[2], l.text("layer"));
        continue;
      }
      part.drawing.add_line(contour(l), l.text("layer"));
    }
    i = 0;
    for (const Json& text : f.list("drawing_texts")) {
      Fields t(text, entry("drawing_texts", i++), faults_);
      if (!t.is_object()) continue;
      t.only({"layer", "text", "at", "height_mm", "angle_deg"});
      const auto at = t.numbers("at", 2);
      const auto height = t.number("height_mm");
      if (!at) t.wrong("at", "is missing; expected [x, y]");
      else if (!height || !(*height > 0)) t.wrong("height_mm", "must be more than 0");
      else
        part.drawing.texts.push_back(
            {t.text("layer"), t.text("text"), {(*at)[0], (*at)[1]}, *height, t.number("angle_deg").value_or(0)});
    }
    if (part.drawing.lines.empty() && part.drawing.texts.empty()) return;
    job().part = std::make_shared<const Part>(std::move(part));
  }

  Contour contour(Fields& f) {
    Contour line;
    line.closed = f.flag("closed").value_or(false);
    std::size_t i = 0;
    for (const Json& p : f.list("points")) {
      const bool right = p.is_array() && (p.size() == 2 || p.size() == 3) &&
                         std::all_of(p.begin(), p.end(), [](const Json& n) { return n.is_number(); });
      if (right) line.vertices.push_back({p[0], p[1], p.size() == 3 ? p[2].get<double>() : 0});
      else faults_.push_back({entry(place(f.path(), "points"), i), "is not a point; expected [x, y] or [x, y, bulge]"});
      ++i;
    }
    return straightened(std::move(line));
  }

  void features(Fields& f) {
    std::set<std::string> taken;
    for (std::string& key : feature_keys(job())) taken.insert(std::move(key));
    std::size_t i = 0;
    for (const Json& json : f.list("features")) {
      Fields one(json, entry("features", i++), faults_);
      if (!one.is_object()) continue;
      Feature feature;
      feature.key = one.text("id");
      if (feature.key.empty()) one.wrong("id", "is missing; every feature has a name of its own");
      else if (!taken.insert(feature.key).second) one.wrong("id", "“" + feature.key + "” is used twice");
      const std::string kind = one.text("kind");
      const auto known = choice_from_key<FeatureKind>(kind);
      if (!known) {
        std::vector<std::string> kinds;
        for (const Choice& c : choices_of<FeatureKind>()) kinds.emplace_back(c.key);
        one.wrong("kind", "“" + kind + "” is not known; use one of " + known_names(kinds));
        continue;
      }
      feature.kind = *known;
      const auto own = fields_of(feature.kind);
      std::vector<std::string_view> keys{"id", "kind"};
      keys.insert(keys.end(), own.begin(), own.end());
      for (const std::string_view key : geometry_of(feature.kind)) keys.push_back(key);
      one.only(keys);
      one.properties_into(feature, {own.begin(), own.end()});
      geometry(one, feature);
      shape(feature);
      for (const Message& m : check_feature(feature))
        if (m.severity == Severity::error)
          one.wrong(m.property == "pattern" ? "at" : m.property.c_str(), sentence(m, UnitSystem::metric).toStdString());
      job().features.push_back(std::move(feature));
    }
    for (Feature& feature : job().features) accept_lines(job(), feature);
  }

  void geometry(Fields& f, Feature& feature) {
    const auto uses = [&](const char* key, std::vector<FeatureUse>& out) {
      for (const Json& entry : f.list(key))
        if (entry.is_string()) out.push_back({entry.get<std::string>(), {}});
        else f.wrong(key, "is not a list of ids");
    };
    if (feature.kind == FeatureKind::line) feature.line = contour(f);
    if (feature.kind == FeatureKind::pocket) uses("islands", feature.islands);
    if (feature.kind == FeatureKind::holes) {
      uses("circles", feature.circles);
      feature.at = f.points("at");
    }
    if (feature.kind == FeatureKind::text)
      if (const auto at = f.numbers("at", 2)) feature.x_mm = (*at)[0], feature.y_mm = (*at)[1];
  }

  void stock(Fields& f, Setup& setup) {
    if (!f.has("stock")) return;
    Fields s(f.at("stock"), place(f.path(), "stock"), faults_);
    if (!s.is_object()) return;
    s.only({"x_mm", "y_mm", "z_mm"});
    const auto side = [&](const char* key, std::optional<double>& low, std::optional<double>& high) {
      const auto range = s.numbers(key, 2);
      if (!range) return;
      if (!((*range)[0] < (*range)[1])) return s.wrong(key, "is inside out; expected [low, high]");
      low = (*range)[0];
      high = (*range)[1];
    };
    side("x_mm", setup.x_low_mm, setup.x_high_mm);
    side("y_mm", setup.y_low_mm, setup.y_high_mm);
    side("z_mm", setup.z_low_mm, setup.z_high_mm);
  }

  // A corner or the middle of the top of the stock as seen from above, or a place.
  void zero(Fields& f, Setup& setup) {
    if (!f.has("zero")) return;
    if (f.at("zero").is_string()) {
      const std::string name = f.text("zero");
      const StockBlock block = stock_of(job(), &setup);
      const Box& b = block.plan;
      const bool left = name.find("left") != std::string::npos, right = name.find("right") != std::string::npos,
                 top = name.find("top") != std::string::npos, bottom = name.find("bottom") != std::string::npos;
      if (!left && !right && !top && !bottom && name != "centre")
        return f.wrong("zero", "“" + name +
                                   "” is not known; use top_left, top_right, bottom_left, bottom_right, "
                                   "centre, or [x, y, z]");
      setup.zero_x_mm = left ? b.low_x : right ? b.high_x : (b.low_x + b.high_x) / 2;
      setup.zero_y_mm = bottom ? b.low_y : top ? b.high_y : (b.low_y + b.high_y) / 2;
      setup.zero_z_mm = block.top;
      return;
    }
    const auto p = f.numbers("zero", 3);
    if (!p) return;
    setup.zero_x_mm = (*p)[0];
    setup.zero_y_mm = (*p)[1];
    setup.zero_z_mm = (*p)[2];
  }

  void setup_values(Fields& f, Setup& setup) {
    stock(f, setup);
    zero(f, setup);
    f.properties_into(setup, {"name", "clearance_mm", "work_offset", "skin", "under"});
    std::size_t i = 0;
    for (const Json& json : f.list("clamps")) {
      Fields c(json, entry(place(f.path(), "clamps"), i++), faults_);
      if (!c.is_object()) continue;
      c.only({"outline", "top_mm"});
      Clamp clamp{use_of(job(), c.text("outline")), c.number("top_mm").value_or(0)};
      if (!JobIndex(job()).line(clamp.outline.key))
        c.wrong("outline", "“" + clamp.outline.key + "” is no line of this job");
      setup.clamps.push_back(std::move(clamp));
    }
  }

  void setups(Fields& f) {
    Setup common;
    Json own = Json::object();
    for (const char* key : {"stock", "clearance_mm", "zero", "work_offset", "clamps", "skin", "under"})
      if (f.has(key)) own[key] = f.at(key);
    Fields short_form(own, "", faults_);
    setup_values(short_form, common);
    const auto list = f.list("setups");
    if (list.empty()) {
      common.id = new_id();
      job().setups.push_back(std::move(common));
      return;
    }
    std::size_t i = 0;
    for (const Json& json : list) {
      Fields one(json, entry("setups", i++), faults_);
      if (!one.is_object()) continue;
      one.only({"name", "stock", "zero", "work_offset", "clearance_mm", "clamps", "skin", "under"});
      Setup setup = common;
      setup.id = new_id();
      setup_values(one, setup);
      for (const Setup& other : job().setups)
        if (!setup.name.empty() && other.name == setup.name) one.wrong("name", "“" + setup.name + "” is used twice");
      job().setups.push_back(std::move(setup));
    }
  }

  void tabs(Fields& f, Operation& o) {
    if (!f.has("tabs")) return;
    Fields t(f.at("tabs"), place(f.path(), "tabs"), faults_);
    if (!t.is_object()) return;
    t.only({"count", "width_mm", "height_mm", "at"});
    const auto positive = [&](const char* key, std::optional<double>& value) {
      value = t.number(key);
      if (value && !(*value > 0)) t.wrong(key, "must be more than 0");
    };
    if (const auto count = t.number("count")) {
      if (*count >= 0 && *count <= 100 && *count == std::floor(*count)) o.tab_count = static_cast<int>(*count);
      else t.wrong("count", "must be a whole number from 0 to 100");
    }
    positive("width_mm", o.tab_width_mm);
    positive("height_mm", o.tab_height_mm);
    o.tabs_at = t.points("at");
  }

  void own(Fields& f, Operation& o) {
    if (!f.has("own")) return;
    Fields w(f.at("own"), place(f.path(), "own"), faults_);
    if (!w.is_object()) return;
    std::vector<std::string_view> keys{"coolant"};
    for (const OwnKey& k : own_keys) keys.push_back(k.key);
    w.only(keys);
    for (const OwnKey& k : own_keys) {
      o.*k.member = w.number(k.key);
      if (o.*k.member && !(*(o.*k.member) > 0)) w.wrong(k.key, "must be more than 0");
    }
    if (w.has("coolant")) {
      o.own_coolant = choice_from_key<Coolant>(w.text("coolant"));
      std::vector<std::string> names;
      for (const Choice& c : choices_of<Coolant>()) names.emplace_back(c.key);
      if (!o.own_coolant) w.wrong("coolant", "is not known; use one of " + known_names(names));
    }
  }

  // Of this library and number; nothing, with the fault said, where there is none.
  const Cutter* cutter_in(Fields& c) {
    const std::string name = c.text("library");
    const Library* library = state_.libraries.named(name);
    if (!library) {
      std::vector<std::string> names;
      for (const Library& l : state_.libraries) names.push_back(l.name);
      c.wrong("library", "“" + name + "” is not in this shop; there are: " + known_names(names));
      return nullptr;
    }
    const auto number = c.number("number");
    const Cutter* found = number ? state_.cutter_numbered(library->id, static_cast<int>(*number)) : nullptr;
    if (!found) c.wrong("number", "there is no such cutter in “" + name + "”");
    return found;
  }

  // Values typed once for a cutter.
  void cutter_values(Fields& f) {
    std::size_t i = 0;
    for (const Json& json : f.list("cutters")) {
      Fields one(json, entry("cutters", i++), faults_);
      if (!one.is_object()) continue;
      one.only({"library", "number", "n_rpm", "vf_mm_min", "ap_mm", "ae_mm"});
      CutterValues values;
      one.properties_into(values, {"n_rpm", "vf_mm_min", "ap_mm", "ae_mm"});
      if (const Cutter* found = cutter_in(one)) values.cutter = found->id;
      if (!values.empty()) job().cutters.push_back(values);
    }
  }

  void cutter(Fields& f, Operation& o, std::vector<Message>& notes) {
    if (!f.has("cutter")) return f.wrong("cutter", "is missing; give {\"library\", \"number\"}, or \"auto\"");
    if (f.at("cutter").is_string()) {
      if (f.text("cutter") != "auto") return f.wrong("cutter", "is neither {\"library\", \"number\"} nor \"auto\"");
      return keeping_own(o, [&] { notes = match_cutter(state_, resolver_, job(), o); });
    }
    Fields c(f.at("cutter"), place(f.path(), "cutter"), faults_);
    if (!c.is_object()) return;
    if (c.has("generic")) {
      c.only({"generic"});
      return generic(c, o);
    }
    c.only({"library", "number"});
    if (const Cutter* found = cutter_in(c)) keeping_own(o, [&] { pick_cutter(state_, resolver_, job(), o, *found); });
  }

  // What is typed for the operation stays with another cutter.
  template <class Pick>
  void keeping_own(Operation& o, Pick&& pick) {
    const auto n = o.own_n_rpm, vf = o.own_vf_mm_min;
    const auto stickout = o.stickout_mm;
    pick();
    o.own_n_rpm = n;
    o.own_vf_mm_min = vf;
    if (stickout) o.stickout_mm = stickout;
  }

  // Of no library, with all its sizes; those that are alike are one.
  void generic(Fields& f, Operation& o) {
    Cutter cutter;
    ReadRules rules;
    rules.strict_range = true;
    Fields given(f.at("generic"), place(f.path(), "generic"), faults_);
    if (!given.is_object()) return;
    std::vector<std::string_view> keys;
    for (const Property<Cutter>& p : generic_properties()) keys.push_back(p.key);
    given.only(keys);
    read_properties(cutter, generic_properties(), f.at("generic"), given.path(), rules, faults_);
    if (!faults_.empty()) return;
    for (const Message& m : check_cutter(cutter))
      if (m.severity == Severity::error)
        f.wrong("generic", m.property + ": " + sentence(m, UnitSystem::metric).toStdString());
    cutter.id = new_id();
    for (const Operation& other : job().operations) {
      Cutter same = other.cutter;
      same.id = cutter.id;
      if (other.generic_cutter && same == cutter) cutter.id = other.cutter.id;
    }
    keeping_own(o, [&] { pick_cutter(state_, resolver_, job(), o, cutter); });
    o.generic_cutter = true;
  }

  void operations(Fields& f) {
    std::size_t i = 0;
    for (const Json& json : f.list("operations")) {
      Fields one(json, entry("operations", i++), faults_);
      if (!one.is_object()) continue;
      const std::string kind = one.text("kind");
      const auto known = choice_from_key<PathKind>(kind);
      if (!known) {
        std::vector<std::string> kinds;
        for (const Choice& c : choices_of<PathKind>()) kinds.emplace_back(c.key);
        one.wrong("kind", "“" + kind + "” is not known; use one of " + known_names(kinds));
        continue;
      }
      Operation o;
      o.id = new_id();
      o.path = *known;
      const OperationDeclaration& kind_of = declaration(*known);
      o.operation = kind_of.usual;
      std::vector<std::string_view> keys(std::begin(every_operation), std::end(every_operation));
      for (const std::string_view key : kind_of.parameters)
        if (key != "tab_count" && key != "tab_width_mm" && key != "tab_height_mm" && key != "own_coolant")
          keys.push_back(key);
      std::vector<std::string_view> allowed = keys;
      if (has_parameter(*known, "tab_count")) allowed.push_back("tabs");
      one.only(allowed);
      std::erase_if(keys, [](std::string_view key) {
        return key == "kind" || key == "features" || key == "cutter" || key == "own" || key == "setup" ||
               key == "behind" || key == "proven_step";
      });
      one.properties_into(o, keys);
      if (!one.has("operation")) o.operation = kind_of.manner(o);
      else if (!one.has("cycle")) follow_manner(o);
      if (!(kind_of.manners & bit(o.operation))) one.wrong("operation", "is not one that this kind can be");
      if (o.source && !can_be_followed(*o.source))
        one.wrong("source", "cannot be followed; use recipe, maker_table, shop_table or starter_table");
      tabs(one, o);
      own(one, o);
      if (one.has("setup")) {
        const std::string name = one.text("setup");
        for (const Setup& s : job().setups)
          if (s.name == name) o.setup = s.id;
        if (o.setup.is_null()) one.wrong("setup", "“" + name + "” is no setup of this job");
      }
      // An earlier or later one, by its number; found when all are read.
      if (one.has("behind")) behind_.emplace_back(job().operations.size(), one.number("behind").value_or(0));
      if (one.has("proven_step")) {
        const ProvenStep* step = state_.proven_steps.named(one.text("proven_step"));
        if (step) o.proven_step = step->id;
        else one.wrong("proven_step", "“" + one.text("proven_step") + "” is no proven step of this shop");
      }
      for (const Json& key : one.list("features"))
        if (key.is_string()) o.features.push_back(use_of(job(), key.get<std::string>()));
        else one.wrong("features", "is not a list of ids");
      out_.notes.emplace_back();
      cutter(one, o, out_.notes.back());
      if (faults_.empty()) retake(state_, resolver_, job(), o);
      job().operations.push_back(std::move(o));
    }
    for (const auto& [at, number] : behind_) {
      const auto count = static_cast<double>(job().operations.size());
      if (at >= job().operations.size()) continue;
      if (number >= 1 && number <= count && number == std::floor(number) && number - 1 != static_cast<double>(at))
        job().operations[at].behind = job().operations[static_cast<std::size_t>(number) - 1].id;
      else f.wrong("operations", "behind: expected the number of another operation, from 1");
    }
  }

  std::vector<std::pair<std::size_t, double>> behind_;
  const ShopState& state_;
  const Resolver& resolver_;
  QString folder_;
  FormatFaults faults_;
  ReadJob out_;
};

}  // namespace

tl::expected<ReadJob, FormatFaults> read_job_file(const ShopState& state, const Resolver& resolver,
                                                  std::string_view text, const QString& folder) {
  return JobReader(state, resolver, folder).run(text);
}

}  // namespace pecorra
