#include "formats/json/library_file.h"

#include <algorithm>
#include <unordered_map>

namespace pecorra {
namespace {

// References to the cutter are implied by nesting, so they are not written.
template <class T>
Json without_cutter(const T& object) {
  Json json = to_json(object);
  json.erase("cutter");
  return json;
}

// Keys that an entry may have.
std::vector<std::string_view> cutter_keys() {
  std::vector<std::string_view> keys{"id",       "revision", "shank_sections", "outline", "guesses",
                                     "accepted", "typed",    "assemblies",     "recipes"};
  for (const Property<Cutter>& p : properties<Cutter>()) keys.push_back(p.key);
  return keys;
}

template <class T>
void read_parts(std::vector<T>& parts, const Json& json, const char* key, FormatFaults& faults) {
  const auto found = json.find(key);
  if (found == json.end()) return;
  if (!found->is_array()) return faults.push_back({key, "is not a list; expected [ … ]"});
  for (std::size_t i = 0; i < found->size(); ++i) {
    T part;
    FormatFaults own;
    from_json(part, (*found)[i], own);
    for (FormatFault& f : own)
      faults.push_back({std::string(key) + "[" + std::to_string(i) + "]" + (f.key.empty() ? "" : "." + f.key), f.text});
    if (own.empty()) parts.push_back(std::move(part));
  }
}

template <class T>
void read_of_cutter(std::vector<T>& parts, const Id& cutter, const Json& entry, const char* key, FormatFaults& faults) {
  const std::size_t before = parts.size();
  read_parts(parts, entry, key, faults);
  for (std::size_t i = before; i < parts.size(); ++i) parts[i].cutter = cutter;
}

}  // namespace

InsertNames insert_names(const LibraryFile& file) {
  InsertNames names;
  for (const Insert& insert : file.inserts) names.insert_or_assign(insert.id, insert.name);
  return names;
}

Json cutter_entry(const InsertNames& inserts, const Cutter& cutter, const std::vector<const Assembly*>& assemblies,
                  const std::vector<const Recipe*>& recipes) {
  Json json = to_json(cutter);
  json.erase("library");
  json.erase("insert");
  if (const auto name = inserts.find(cutter.insert); name != inserts.end()) json["insert"] = name->second;
  for (const Assembly* a : assemblies) json["assemblies"].push_back(without_cutter(*a));
  for (const Recipe* r : recipes) json["recipes"].push_back(without_cutter(*r));
  return json;
}

std::string library_text(const LibraryFile& file) {
  std::unordered_map<Id, std::vector<const Assembly*>> assemblies;
  std::unordered_map<Id, std::vector<const Recipe*>> recipes;
  for (const Assembly& a : file.assemblies) assemblies[a.cutter].push_back(&a);
  for (const Recipe& r : file.recipes) recipes[r.cutter].push_back(&r);
  Json head{{"format", "pecorra-library"}, {"format_version", format_version}};
  if (!file.shop.empty()) head["shop"] = file.shop;
  head["library"] = {{"name", file.library.name}, {"notes", file.library.notes}};
  if (!file.library.id.is_null()) head["library"]["id"] = file.library.id.text();
  const auto put = [&](const char* key, const auto& parts) {
    for (const auto& part : parts) head[key].push_back(to_json(part));
  };
  put("tool_materials", file.edge_materials);
  put("inserts", file.inserts);
  put("collets", file.collets);
  put("holders", file.holders);
  put("materials", file.materials);
  // A cutter on each line: files of versions can be compared.
  std::string text = head.dump(1);
  text.resize(text.size() - 2);
  text += ",\n \"cutters\": [";
  const InsertNames inserts = insert_names(file);
  for (std::size_t i = 0; i < file.cutters.size(); ++i) {
    const Cutter& c = file.cutters[i];
    text += i ? ",\n  " : "\n  ";
    text += cutter_entry(inserts, c, assemblies[c.id], recipes[c.id]).dump();
  }
  text += "\n ]\n}\n";
  return text;
}

tl::expected<ReadLibrary, FormatFault> read_library(std::string_view text, const InsertNamed& insert_named) {
  const auto json = parse_json(text);
  if (!json) return tl::unexpected(json.error());
  if (!json->is_object() || !json->contains("cutters") || !(*json)["cutters"].is_array())
    return tl::unexpected(FormatFault{"", "is not a library; expected an object with a list “cutters”"});
  if (const auto version = json->find("format_version");
      version != json->end() && (!version->is_number_integer() || version->get<double>() > format_version))
    return tl::unexpected(FormatFault{
        "format_version", "was written by a newer Pecorra; this one reads up to " + std::to_string(format_version)});
  ReadLibrary out;
  if (const auto shop = json->find("shop"); shop != json->end() && shop->is_string())
    out.file.shop = shop->get<std::string>();
  if (const auto library = json->find("library"); library != json->end() && library->is_object())
    from_json(out.file.library, *library, out.part_faults);
  read_parts(out.file.edge_materials, *json, "tool_materials", out.part_faults);
  read_parts(out.file.inserts, *json, "inserts", out.part_faults);
  read_parts(out.file.collets, *json, "collets", out.part_faults);
  read_parts(out.file.holders, *json, "holders", out.part_faults);
  read_parts(out.file.materials, *json, "materials", out.part_faults);
  std::unordered_map<std::string, Id> inserts;
  for (const Insert& i : out.file.inserts) inserts.insert_or_assign(i.name, i.id);
  const Json& cutters = (*json)["cutters"];
  const std::vector<std::string_view> known = cutter_keys();
  for (const Json& entry : cutters) {
    Cutter c;
    FormatFaults faults;
    if (!entry.is_object()) {
      from_json(c, entry, faults);
    } else {
      refuse_unknown(entry, "", known, faults);
      Json own = entry;
      for (const char* key : {"insert", "library", "assemblies", "recipes", "revision"}) own.erase(key);
      from_json(c, own, faults);
      if (!entry.contains("kind"))
        faults.push_back({"kind", "is missing; give the kind of cutter, such as end_mill or drill"});
      for (const Property<Cutter>& p : properties<Cutter>())
        if (const auto number = number_of(c, p); number && p.key != "number" && !p.accepts(*number))
          faults.push_back({std::string(p.key), "is out of range"});
      if (entry.contains("number") && c.number < 1) faults.push_back({"number", "use 1 or more"});
      if (const auto insert = entry.find("insert"); insert != entry.end()) {
        const std::string name = insert->is_string() ? insert->get<std::string>() : std::string();
        if (const auto found = inserts.find(name); found != inserts.end()) c.insert = found->second;
        if (c.insert.is_null() && insert_named) c.insert = insert_named(name).value_or(Id{});
        if (c.insert.is_null())
          faults.push_back({"insert", "“" + name + "” is not one of the inserts; expected the name of one"});
      }
      if (c.id.is_null()) c.id = Id::from_name("entry/" + std::to_string(out.file.cutters.size()));
      read_of_cutter(out.file.assemblies, c.id, entry, "assemblies", faults);
      read_of_cutter(out.file.recipes, c.id, entry, "recipes", faults);
    }
    out.has_id.push_back(entry.is_object() && entry.contains("id"));
    out.file.cutters.push_back(std::move(c));
    out.faults.push_back(std::move(faults));
  }
  return out;
}

}  // namespace pecorra
