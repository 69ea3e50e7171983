#include "shop/demo.h"

#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QRandomGenerator>

#include "formats/dxf/dxf_reader.h"
#include "formats/json/objects.h"
#include "shop/evaluation.h"
#include "shop/job_objects.h"
#include "shop/shop.h"
#include "store/write_file.h"

namespace pecorra {
namespace {

std::string resource(const QString& name) {
  QFile file(QStringLiteral(":/pecorra/") + name);
  if (!file.open(QIODevice::ReadOnly)) qFatal("shipped file is missing: %s", qPrintable(name));
  return file.readAll().toStdString();
}

Json shipped_json(const QString& name) {
  const auto json = parse_json(resource(name));
  if (!json) qFatal("shipped file is faulty: %s: %s", qPrintable(name), json.error().line().c_str());
  return *json;
}

// Reads an object by the same declarations as any file. Shipped data must be valid.
template <class T>
T shipped(const Json& json, const std::string& id_name) {
  T object;
  FormatFaults faults;
  from_json(object, json, faults);
  if (!faults.empty()) qFatal("shipped object %s is faulty: %s", id_name.c_str(), faults.front().line().c_str());
  object.id = Id::from_name(id_name);
  return object;
}

// What stands in a machine, by library and number of its cutter.
void add_pocket(ShopState& state, const Json& json) {
  const std::string machine = json["machine"].get<std::string>(), library = json["library"].get<std::string>();
  Pocket pocket;
  pocket.number = json["pocket"].get<int>();
  pocket.id = Id::from_name("pocket/" + machine + "/" + std::to_string(*pocket.number));
  pocket.machine = state.machines.named(machine)->id;
  pocket.name = json.value("remark", "");
  const Id in = state.libraries.named(library)->id;
  for (const Cutter& c : state.cutters)
    if (c.library == in && c.number == json["number"].get<int>())
      if (const Assembly* held = state.assembly_of(c.id)) pocket.assembly = held->id;
  if (pocket.assembly.is_null()) qFatal("the demo's pocket %d has no assembly", *pocket.number);
  state.pockets.put(std::move(pocket));
}

ConditionTable shipped_table(Json json, const ShopState& state) {
  std::vector<std::string> materials;
  for (Json& row : json["rows"]) {  // shipped files refer to materials by name
    materials.push_back(row.value("material", ""));
    row.erase("material");
  }
  const std::string name = json["name"].get<std::string>();
  ConditionTable table = shipped<ConditionTable>(json, "table/" + name);
  for (std::size_t i = 0; i < table.rows.size(); ++i) {
    table.rows[i].id = Id::from_name("row/" + name + "/" + std::to_string(i));
    if (materials[i].empty()) continue;
    const WorkMaterial* material = state.materials.named(materials[i]);
    if (!material) qFatal("shipped table names an unknown material: %s", materials[i].c_str());
    table.rows[i].material = material->id;
    table.rows[i].group = material->group;
  }
  return table;
}

void add_cutter(ShopState& state, const Json& entry) {
  Json json = entry["cutter"];
  const Library* library = state.libraries.named(json["library"].get<std::string>());
  json.erase("library");
  Cutter cutter = shipped<Cutter>(json, "cutter/" + library->name + "/" + std::to_string(json["number"].get<int>()));
  cutter.library = library->id;
  if (entry.contains("insert")) {
    const Insert* insert = state.inserts.named(entry["insert"].get<std::string>());
    if (!insert) qFatal("shipped cutter names an unknown insert: %s", entry["insert"].get<std::string>().c_str());
    cutter = fitted(cutter, *insert);
  }
  if (cutter.name.empty()) cutter.name = state.name_for(cutter);
  Assembly assembly;
  assembly.id = Id::from_name("assembly/" + cutter.id.text());
  assembly.cutter = cutter.id;
  if (const Holder* holder = state.holders.named(entry.value("holder", ""))) assembly.holder = holder->id;
  if (const Collet* collet = state.collets.named(entry.value("collet", ""))) assembly.collet = collet->id;
  if (entry.contains("stickout_mm") && entry["stickout_mm"].is_number())
    assembly.stickout_mm = entry["stickout_mm"].get<double>();
  // The same, for a machine with another spindle.
  if (const Holder* other = state.holders.named(entry.value("also_in", ""))) {
    Assembly second = assembly;
    second.id = Id::from_name("assembly/2/" + cutter.id.text());
    second.holder = other->id;
    second.name = other->name;
    assembly.usual = true;
    state.assemblies.put(std::move(second));
  }
  state.cutters.put(std::move(cutter));
  state.assemblies.put(std::move(assembly));
}

void add_recipe(ShopState& state, const Json& entry) {
  Json json = entry;
  for (const char* key : {"cutter", "material"}) json.erase(key);
  const std::string name = entry["name"].get<std::string>();
  Recipe recipe = shipped<Recipe>(json, "recipe/" + entry["cutter"][0].get<std::string>() + "/" +
                                            std::to_string(entry["cutter"][1].get<int>()) + "/" + name + "/" +
                                            entry["operation"].get<std::string>());
  const Library* library = state.libraries.named(entry["cutter"][0].get<std::string>());
  const Cutter& cutter = *state.cutter_numbered(library->id, entry["cutter"][1].get<int>());
  recipe.cutter = cutter.id;
  recipe.kind = cutter.kind;
  recipe.tool_material = cutter.tool_material;
  recipe.diameter_mm = cutter.diameter_mm;
  if (entry.contains("material")) {
    const WorkMaterial* material = state.materials.named(entry["material"].get<std::string>());
    recipe.material = material->id;
    recipe.group = material->group;
  }
  state.recipes.put(std::move(recipe));
}

Drawing shipped_drawing(const std::string& name) {
  DxfOptions options;
  options.join_layers = false;
  const auto reading = read_dxf(resource(QStringLiteral("demo/") + QString::fromStdString(name)), options);
  if (!reading) qFatal("shipped drawing is faulty: %s", name.c_str());
  Drawing drawing = reading->drawing;
  drawing.source = name;
  return drawing;
}

// An operation's features: keys, layers (all of their lines), or "outermost".
void pick_features(const Job& job, const Json& picks, Operation& o) {
  const std::vector<std::string> keys = feature_keys(job);
  for (const Json& pick : picks) {
    const std::string wanted = pick.get<std::string>();
    if (wanted == "outermost") {
      if (const auto outer = outermost_line(job)) o.features.push_back(use_of(job, *outer));
      continue;
    }
    for (const std::string& key : keys)
      if (key == wanted || key.starts_with(wanted + "/")) o.features.push_back(use_of(job, key));
  }
  if (o.features.empty() && !picks.empty()) qFatal("shipped operation %s has no features", o.name.c_str());
}

void add_job(ShopState& state, const Json& entry) {
  const std::string name = entry["name"].get<std::string>();
  Json head = entry;
  for (const char* key : {"machine", "material", "operations", "setup", "dxf", "features"}) head.erase(key);
  Job job;
  job.head() = shipped<JobHead>(head, "job/" + name);
  job.machine = state.machines.named(entry["machine"].get<std::string>())->id;
  job.material = state.materials.named(entry["material"].get<std::string>())->id;
  if (entry.contains("dxf")) {
    Part part;
    part.id = Id::from_name("part/" + name);
    part.job = job.id;
    part.drawing = shipped_drawing(entry["dxf"].get<std::string>());
    job.part = std::make_shared<const Part>(std::move(part));
  }
  job.setups.push_back(shipped<Setup>(entry["setup"], "setup/" + name));
  if (entry.contains("features"))
    for (const Json& feature : entry["features"])
      job.features.push_back(shipped<Feature>(feature, "feature/" + name + "/" + feature["key"].get<std::string>()));
  for (Feature& feature : job.features) accept_lines(job, feature);
  for (const Json& step : entry["operations"]) {
    Json own = step;
    for (const char* key : {"cutter", "features"}) own.erase(key);
    Operation o = shipped<Operation>(own, "operation/" + name + "/" + std::to_string(job.operations.size()));
    const Library* library = state.libraries.named(step["cutter"][0].get<std::string>());
    o.cutter = state.as_used(*state.cutter_numbered(library->id, step["cutter"][1].get<int>()));
    if (const Assembly* assembly = state.assembly_of(o.cutter.id)) o.stickout_mm = stickout_of(*assembly);
    pick_features(job, step["features"], o);
    job.operations.push_back(std::move(o));
  }
  const Resolver resolver(state.tables.shared(), state.resolver_options());
  put_job(state, retaken(state, resolver, job));
}

}  // namespace

const std::vector<Machine>& generic_machines() {
  static const std::vector<Machine> machines = [] {
    std::vector<Machine> list;
    const Json shipped_machines = shipped_json(QStringLiteral("machines.json"));
    for (const Json& json : shipped_machines["machines"])
      list.push_back(shipped<Machine>(json, "machine/" + json["name"].get<std::string>()));
    return list;
  }();
  return machines;
}

namespace {

// What every shop starts with; `tables` go before the starter tables.
ShopState shipped_state(const std::string& name, const Json& machines, const Json& libraries, const Json& tables) {
  ShopState state;
  const Json materials = shipped_json(QStringLiteral("materials.json")),
             holders = shipped_json(QStringLiteral("holders.json"));
  const Json starter = shipped_json(QStringLiteral("tables/starter.json"));
  ShopSettings settings;
  settings.id = Id::from_name("settings");
  settings.name = name;
  state.settings.put(settings);
  for (const Json& json : libraries)
    state.libraries.put(shipped<Library>(json, "library/" + json["name"].get<std::string>()));
  for (const Json& json : materials["materials"])
    state.materials.put(shipped<WorkMaterial>(json, "material/" + json["name"].get<std::string>()));
  for (const Json& json : machines)
    state.machines.put(shipped<Machine>(json, "machine/" + json["name"].get<std::string>()));
  for (const Json& json : holders["holders"])
    state.holders.put(shipped<Holder>(json, "holder/" + json["name"].get<std::string>()));
  const Json edge_materials = shipped_json(QStringLiteral("edge_materials.json"));
  for (const Json& json : edge_materials["edge_materials"])
    state.edge_materials.put(shipped<EdgeMaterial>(json, "edge_material/" + json["name"].get<std::string>()));
  for (const NeverRule& rule : shipped_never_rules()) state.never_rules.put(rule);
  for (const Json& json : tables) state.tables.put(shipped_table(json, state));
  for (const Json& json : starter["tables"]) state.tables.put(shipped_table(json, state));
  return state;
}

}  // namespace

const std::vector<NeverRule>& shipped_never_rules() {
  static const std::vector<NeverRule> rules = [] {
    std::vector<NeverRule> list;
    const Json file = shipped_json(QStringLiteral("never.json"));
    for (Json json : file["never"]) {
      const std::string key = json["key"].get<std::string>();
      json.erase("key");
      list.push_back(shipped<NeverRule>(json, "never/" + key));
    }
    return list;
  }();
  return rules;
}

ShopState new_shop_state(const std::string& name) {
  const Json machines = shipped_json(QStringLiteral("machines.json"));
  // Two to begin with; the others are offered when a machine is made.
  const Json two = Json::array({machines["machines"][0], machines["machines"][1]});
  return shipped_state(name, two, Json::array({Json{{"name", "Cutters"}}}), Json::array());
}

ShopState demo_state() {
  const Json demo = shipped_json(QStringLiteral("demo/shop.json"));
  ShopState state = shipped_state(demo["shop"].get<std::string>(), demo["machines"], demo["libraries"], demo["tables"]);
  for (const Json& json : demo["inserts"])
    state.inserts.put(shipped<Insert>(json, "insert/" + json["name"].get<std::string>()));
  for (const Json& json : demo["collets"])
    state.collets.put(shipped<Collet>(json, "collet/" + json["name"].get<std::string>()));
  for (const Json& json : demo["tool_materials"])
    state.edge_materials.put(shipped<EdgeMaterial>(json, "edge_material/" + json["name"].get<std::string>()));
  for (const Json& json : demo["number_blocks"]) {
    Json own = json;
    own.erase("library");
    NumberBlock block = shipped<NumberBlock>(own, "number_block/" + json["name"].get<std::string>());
    if (json.contains("library")) block.library = state.libraries.named(json["library"].get<std::string>())->id;
    state.number_blocks.put(std::move(block));
  }
  for (const Json& json : demo["cutters"]) add_cutter(state, json);
  for (const Json& json : demo["recipes"]) add_recipe(state, json);
  for (const Json& json : demo["pockets"]) add_pocket(state, json);
  for (const Json& json : demo["jobs"]) add_job(state, json);
  return state;
}

tl::expected<void, StoreFault> write_shop(const ShopState& state, const QString& file, const QString& label) {
  StoreFault fault;
  fault.file = file;
  if (QFileInfo::exists(file)) {
    fault.detail = QObject::tr("a file with this name already exists");
    return tl::unexpected(fault);
  }
  const QString making =
      QStringLiteral("%1.%2.part").arg(file, QString::number(QRandomGenerator::system()->generate64(), 36));
  const auto clear = [&](const QString& name) {
    for (const char* tail : {"", "-wal", "-shm"}) QFile::remove(name + QLatin1String(tail));
  };
  const auto failed = [&](const StoreFault& why) {
    clear(making);
    fault.trouble = why.trouble;
    fault.detail = why.detail;
    return tl::unexpected(fault);
  };
  {
    auto store = Store::create(making);
    if (!store) return failed(store.error());
    StoredChange change{label.toStdString(), current_user(), current_time(), {}};
    auto add = [&](const auto& collection) {
      for (const auto& object : collection)
        change.edits.push_back({kind_of(object), object.id, 0, {}, body_of(object)});
    };
    state.visit_all(add);
    if (const auto done = (*store)->commit(change); !done) return failed(done.error());
    if (const auto trouble = (*store)->finish()) return failed(*trouble);
  }
  // A log left by an earlier shop of this name would be taken for this one's.
  for (const char* tail : {"-wal", "-shm"}) QFile::remove(file + QLatin1String(tail));
  if (const QString why = give_name(making, file); !why.isEmpty()) {
    clear(making);
    fault.detail = why;
    return tl::unexpected(fault);
  }
  return {};
}

}  // namespace pecorra
