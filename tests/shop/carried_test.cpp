// What each format carries of a cutter, as the table in docs/formats/README.md says it: every cell of it is tried with
// cutters of every kind, written and read. A property that the table does not name fails.
#include <QTemporaryDir>
#include <catch2/catch.hpp>
#include <fstream>
#include <map>
#include <random>

#include "../support/random_cutters.h"
#include "core/library/cutter_rows.h"
#include "demo_copy.h"
#include "shop/library_file.h"
#include "shop/shop.h"

using namespace pecorra;

namespace {

struct Row {
  std::vector<std::string> keys;
  std::map<std::string, std::string> carried;  // by the heading of the column
};

std::vector<std::string> cells_of(const std::string& line) {
  std::vector<std::string> cells;
  std::size_t from = 1;
  for (std::size_t at = line.find('|', from); at != std::string::npos; at = line.find('|', from)) {
    cells.emplace_back(trimmed(std::string_view(line).substr(from, at - from)));
    from = at + 1;
  }
  return cells;
}

// The table below the line “What is carried”.
std::vector<Row> table() {
  std::ifstream in(PECORRA_FORMATS_DOCUMENT);
  REQUIRE(in);
  std::string line;
  while (std::getline(in, line) && line != "## What is carried") {
  }
  std::vector<std::string> heads;
  std::vector<Row> rows;
  while (std::getline(in, line) && !line.starts_with("## ")) {
    if (!line.starts_with("|") || line.starts_with("|--")) continue;
    const auto cells = cells_of(line);
    if (heads.empty()) {
      heads = cells;
      continue;
    }
    Row row;
    for (std::size_t at = cells[0].find('`'); at != std::string::npos; at = cells[0].find('`', at)) {
      const std::size_t end = cells[0].find('`', at + 1);
      row.keys.push_back(cells[0].substr(at + 1, end - at - 1));
      at = end + 1;
    }
    for (std::size_t i = 1; i < cells.size() && i < heads.size(); ++i) row.carried[heads[i]] = cells[i];
    rows.push_back(std::move(row));
  }
  return rows;
}

// A shop with a cutter of every kind that has all its properties, each with an assembly and a recipe.
ShopState full_shop() {
  ShopState state = the_demo();
  const Id library = state.libraries[0].id;
  std::vector<Id> gone;
  for (const Cutter& c : state.cutters) gone.push_back(c.id);
  state.cutters.remove(gone);
  for (const auto all = state.assemblies.all(); const Assembly& a : all) state.assemblies.remove(a.id);
  for (const auto all = state.recipes.all(); const Recipe& r : all) state.recipes.remove(r.id);
  std::mt19937 random(7);
  int number = 0;
  for (const CutterKind kind : cutter_kinds()) {
    Cutter c = random_cutter(kind, random);
    c.id = new_id();
    c.library = library;
    c.number = 3 * ++number;
    c.name = "No. " + std::to_string(number) + " Ø < \"x\"; é";
    // Every property says something that is not what it says when nothing is given.
    for (const Property<Cutter>& p : properties<Cutter>()) {
      if (p.key == "kind" || p.key == "library" || p.key == "number" || p.key == "insert" || p.key == "name" ||
          !same_value(p.get(c), p.get(Cutter{})))
        continue;
      if (p.quantity == Quantity::flag) p.set(c, true);
      else if (p.quantity == Quantity::choice) p.set(c, std::string(p.choices[p.choices.size() - 1].key));
      else if (p.quantity == Quantity::text) p.set(c, "text, of " + std::string(p.key));
      else if (p.quantity != Quantity::id && p.key.find("_mm") == std::string_view::npos &&
               p.key.find("_deg") == std::string_view::npos) {
        for (const double value : {3.0, 0.5, 20.0})
          if (p.accepts(value) && p.set(c, value)) break;
      }
    }
    if (number % 3 == 0 && !state.inserts.empty()) c.insert = state.inserts[0].id;
    if (kind == CutterKind::form) c.outline = {{0, 0, 0}, {4.1, 0, 0.3}, {5, 6, 0}, {5, 30, 0}};
    c.shank_sections = {{10, 8, 9.5}};
    c.guesses = {"reach_mm"};
    c.accepted = {{"flutes_long", "as ordered"}};
    c.typed = {{"diameter_mm", "7/16\""}};
    state.cutters.put(c);
    Assembly a;
    a.id = new_id();
    a.cutter = c.id;
    a.usual = true;
    a.name = "usual";
    a.holder = state.holders[static_cast<std::size_t>(number) % state.holders.size()].id;
    a.stickout_mm = 30.1 + number;
    if (!state.collets.empty()) a.collet = state.collets[0].id;
    state.assemblies.put(a);
    a.id = new_id();
    a.usual = false;
    a.name = "long";
    state.assemblies.put(a);
    Recipe r;
    r.id = new_id();
    r.cutter = c.id;
    r.material = state.materials[0].id;
    r.name = "light";
    r.vc_m_min = 100.1;
    state.recipes.put(r);
  }
  return state;
}

// A shop that has the parts and no cutters.
ShopState empty_shop(const ShopState& full) {
  ShopState state = full;
  std::vector<Id> gone;
  for (const Cutter& c : full.cutters) gone.push_back(c.id);
  state.cutters.remove(gone);
  state.assemblies = {};
  state.recipes = {};
  return state;
}

void apply(ShopState& state, const Change& change) {
  for (const ObjectChange& o : change.objects) put_stored(state, {o.kind, o.id, 1, o.after});
}

// The same text, or the same number to so many digits.
bool alike(const std::string& a, const std::string& b, int digits) {
  char *end_a = nullptr, *end_b = nullptr;
  const double x = std::strtod(a.c_str(), &end_a), y = std::strtod(b.c_str(), &end_b);
  if (a == b || a.empty() || b.empty() || *end_a || *end_b || digits == 17) return a == b;
  return std::abs(x - y) <= std::pow(10.0, -digits) * std::abs(x);
}

// What this part of the cutter says, as one text.
std::string said(const ShopState& state, const Cutter& c, const std::string& key) {
  const auto number = [](double value) {
    char text[40];
    std::snprintf(text, sizeof text, "%.17g", value);
    return std::string(text);
  };
  const Assembly* usual = state.assembly_of(c.id);
  if (key == "holder") {
    const Holder* holder = usual ? state.holders.find(usual->holder) : nullptr;
    return holder ? holder->name : "";
  }
  if (key == "stickout_mm") return usual && usual->stickout_mm ? number(*usual->stickout_mm) : "";
  if (key == "assemblies" || key == "recipes") {
    std::string all;
    if (key == "assemblies")
      for (const std::size_t i : state.assemblies.of_cutter(c.id)) all += body_of(state.assemblies[i]);
    else
      for (const std::size_t i : state.recipes.of_cutter(c.id)) all += body_of(state.recipes[i]);
    return all;
  }
  if (key == "insert") {
    const Insert* insert = state.inserts.find(c.insert);
    return insert ? insert->name : "";
  }
  for (const Property<Cutter>& p : cutter_cells()) {
    if (p.key != key) continue;
    const Value v = p.get(c);
    if (const double* d = std::get_if<double>(&v)) return number(*d);
    if (const bool* b = std::get_if<bool>(&v)) return *b ? "yes" : "no";
    if (const std::string* s = std::get_if<std::string>(&v)) return *s;
    return "";
  }
  if (key == "id") return c.id.text();
  FAIL("the table names “" << key << "”, which no cutter has");
  return {};
}

}  // namespace

TEST_CASE("every format carries what its table says, as exactly as it says, and nothing is left out of the table") {
  const std::vector<Row> rows = table();
  REQUIRE(rows.size() >= 5);
  std::map<std::string, int> named;
  for (const Row& row : rows)
    for (const std::string& key : row.keys) ++named[key];
  for (const Property<Cutter>& p : cutter_cells()) {
    INFO(std::string(p.key));
    if (p.key != "library") CHECK(named[std::string(p.key)] == 1);
  }
  const ShopState full = full_shop();
  const Library& library = full.libraries[0];
  std::vector<const Cutter*> cutters;
  for (const Cutter& c : full.cutters) cutters.push_back(&c);
  QTemporaryDir dir;
  struct Way {
    const char *heading, *file;
    CutterFormat format;
    UnitSystem units;
  };
  for (const Way& way : {Way{"JSON", "a.json", CutterFormat::json, UnitSystem::metric},
                         {"CSV", "a.csv", CutterFormat::csv, UnitSystem::metric},
                         {"XLSX", "a.xlsx", CutterFormat::xlsx, UnitSystem::metric},
                         {"XLSX, inches", "b.xlsx", CutterFormat::xlsx, UnitSystem::inch},
                         {"MTConnect", "a.xml", CutterFormat::mtconnect, UnitSystem::metric}}) {
    INFO(way.heading);
    const QString file = dir.filePath(QLatin1String(way.file));
    const Written written = write_cutter_file(full, &library, cutters, way.format, file, way.units);
    REQUIRE(written.fault.isEmpty());
    ShopState other = empty_shop(full);
    IncomingCutters read = read_cutter_file(file, UnitSystem::metric, known_names(other));
    INFO(read.fault.toStdString());
    REQUIRE(read.fault.isEmpty());
    REQUIRE(read.lines.size() == cutters.size());
    CutterPreview preview = preview_cutters(other, library, read);
    for (auto& line : preview.lines) {
      for (const CellFault& f : line.faults) UNSCOPED_INFO(f.column << ": " << f.text);
      REQUIRE(line.state == MergeState::fresh);
    }
    apply(other, take_cutters(other, library, read, preview, QString()));
    for (const Row& row : rows) {
      REQUIRE(row.carried.contains(way.heading));
      const std::string& carried = row.carried.at(way.heading);
      INFO(carried);
      const int digits = carried == "exactly" ? 17 : carried == "15 digits" ? 14 : carried == "12 digits" ? 11 : 0;
      REQUIRE((digits > 0 || carried == "–"));
      for (const std::string& key : row.keys) {
        INFO(key);
        for (const Cutter* before : cutters) {
          const Cutter* after = other.cutters.find(before->id);
          REQUIRE(after);
          if (digits > 0) CHECK(alike(said(other, *after, key), said(full, *before, key), digits));
          // What is not carried is not made up either.
          else if (key == "recipes") CHECK(said(other, *after, key).empty());
        }
      }
    }
  }
}
