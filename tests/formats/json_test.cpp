// Every object of a shop as JSON and back, and JSON that is broken.
#include <bit>
#include <catch2/catch.hpp>
#include <charconv>
#include <cstdlib>
#include <cstring>
#include <functional>
#include <random>

#include "../support/random_cutters.h"
#include "../support/sample_job.h"
#include "core/base/decimal.h"
#include "core/cutter/name_pattern.h"
#include "formats/json/body.h"
#include "formats/json/json_text.h"
#include "formats/json/objects.h"
#include "formats/json/quick_read.h"

using namespace pecorra;

namespace {

template <class T>
void round_trip(const T& object) {
  FormatFaults faults;
  const auto back = object_from_body<T>(body_of(object), faults);
  for (const FormatFault& f : faults) FAIL_CHECK(f.line());
  REQUIRE(back.has_value());
  CHECK(*back == object);
  CHECK(body_of(*back) == body_of(object));
}

FormatFaults faults_of(const char* text) {
  FormatFaults faults;
  object_from_body<Cutter>(text, faults);
  return faults;
}

}  // namespace

TEST_CASE("objects come back as they were") {
  Cutter c = proposed_cutter(CutterKind::bull_nose, 10);
  c.id = Id::from_name("a");
  c.name = "Bull nose \"R1\" Ø10";
  c.typed = {{"diameter_mm", "3/8\""}};
  c.diameter_mm = 9.525;
  c.tool_material = ToolMaterial::hss_pm;
  c.unit = UnitSystem::inch;
  c.max_rpm = 1.0 / 3;
  round_trip(c);
  round_trip(Cutter{});

  ConditionTable t;
  t.id = Id::from_name("t");
  t.level = TableLevel::maker;
  t.maker = "Heddlemoor";
  ConditionRow row;
  row.id = Id::from_name("r");
  row.material = Id::from_name("m");
  row.vc_m_min = 1e-300;
  row.feed_mm = 0.1;
  row.diameter_mm = 3;
  row.coolant = Coolant::through_air;
  row.proven = true;
  row.typed = {{"n_rpm", "3500"}};
  t.rows = {row, ConditionRow{}};
  round_trip(t);

  Machine m;
  m.id = Id::from_name("machine");
  m.power_curve = {{1500, 11}, {12000, 7.5}};
  m.through_air = true;
  round_trip(m);
  Holder h;
  h.id = Id::from_name("h");
  h.stations = {{0, 50}, {35, 50}, {35, 44.45}};
  h.clamp_to_mm = 20;
  round_trip(h);
  Assembly a;
  a.id = Id::from_name("as");
  a.cutter = c.id;
  a.stickout_mm = 42;
  round_trip(a);
  WorkMaterial w;
  w.id = Id::from_name("w");
  w.name = "Beech";
  w.group = MaterialGroup::wood;
  round_trip(w);
  ShopSettings s;
  s.id = Id::from_name("s");
  round_trip(s);
  Library l;
  l.id = Id::from_name("l");
  l.name = "Iron and steels";
  round_trip(l);
}

TEST_CASE("cutters of every kind come back as they were, with everything that only some have") {
  std::mt19937 random(4);
  for (const CutterKind kind : cutter_kinds())
    for (int i = 0; i < 20; ++i) {
      Cutter c = random_cutter(kind, random);
      c.id = Id::from_name("cutter " + std::to_string(i));
      c.library = Id::from_name("library");
      c.number = i + 1;
      c.name = suggested_name(c);
      if (i % 2) c.shank_sections = {{10.5, 6, 8}, {3, 8, 8.25}};
      if (i % 3) c.guesses = {"flutes", "reach_mm"};
      if (i % 4) c.accepted = {{"taper_ends_below", "measured, “odd” \\ but right"}};
      c.thread = i % 5 ? "" : "1/4-20 UNC";
      c.message = i % 2 ? "MIND THE CLAMP (LEFT)" : "";
      c.link = "file:///sheets/a%20b.pdf";
      if (i % 2) c.price = 12.75 * i;
      if (i % 3) c.edge_direction = static_cast<EdgeDirection>(i % 3);
      c.rotation = static_cast<Rotation>(i % 2);
      c.through_coolant = i % 2;
      if (i % 2) c.max_ramp_deg = 3.5;
      if (i % 4) c.runout_mm = 0.008;
      if (i % 2) c.shank_form = static_cast<ShankForm>(i % 6);
      if (i % 2) c.in_stock = i;
      if (i % 3) c.wanted = i + 1;
      if (i % 4) c.on_order = 2;
      c.retired = i % 7 == 0;
      if (i % 2) c.insert = Id::from_name("insert");
      if (i % 3) c.quality = static_cast<Quality>(i % 3);
      c.own_material = i % 4 ? "" : "Fine-grain K05";
      INFO(c.name);
      round_trip(c);
    }
}

TEST_CASE("inserts, collets, tool materials and coatings come back as they were") {
  Insert i;
  i.id = Id::from_name("i");
  i.name = "APKT 160408";
  i.grade = "FR-25";
  i.corner_radius_mm = 0.8;
  i.edges = 2;
  i.edge_length_mm = 16.02;
  i.thickness_mm = 4.76;
  i.tool_material = ToolMaterial::carbide_insert;
  i.coating = "TiAlN";
  i.edge_radius_mm = 0.025;
  i.price = 7.4;
  i.in_stock = 30;
  i.typed = {{"corner_radius_mm", "1/32 in"}};
  round_trip(i);
  Collet c;
  c.id = Id::from_name("c");
  c.name = "32, 12 to 11";
  c.holder_size_mm = 32;
  c.clamp_from_mm = 11;
  c.clamp_to_mm = 12;
  c.on_order = 1;
  c.retired = true;
  round_trip(c);
  EdgeMaterial m;
  m.id = Id::from_name("m");
  m.name = "Fine-grain K05";
  m.part = EdgePart::tool_material;
  m.like = ToolMaterial::carbide;
  m.speed_factor = 1.15;
  m.feed_factor = 0.9;
  m.source = "own trials";
  round_trip(m);
}

TEST_CASE("holders and assemblies come back as they were, and what is wrong in them is named") {
  Holder h;
  h.id = Id::from_name("h");
  h.name = "Collet chuck 32";
  h.machine_side = MachineInterface::hollow_63;
  h.form = HolderForm::collet;
  h.stations = {{0, 50}, {22.5, 50}, {22.5, 44.25}, {70, 44.25}};
  h.clamp_from_mm = 2;
  h.clamp_to_mm = 20;
  h.max_rpm = 18000;
  h.in_stock = 2;
  h.wanted = 3;
  h.typed = {{"clamp_to_mm", "3/4 in"}};
  h.maker = "Carrow";
  round_trip(h);
  round_trip(Holder{});
  Assembly a;
  a.id = Id::from_name("a");
  a.cutter = Id::from_name("c");
  a.holder = h.id;
  a.name = "short";
  a.usual = true;
  a.stickout_mm = 42;
  a.measured_stickout_mm = 42.13;
  a.set_diameter_mm = 11.93;
  a.extension_diameter_mm = 20;
  a.extension_length_mm = 60.5;
  a.collet = Id::from_name("collet");
  a.typed = {{"stickout_mm", "1-5/8 in"}};
  round_trip(a);

  FormatFaults faults;
  const auto read =
      object_from_body<Holder>(R"({"name": "x", "machine_side": "taper_41_a", "stations": [[0, 50], [1]]})", faults);
  REQUIRE(read.has_value());
  REQUIRE(faults.size() == 2);
  CHECK(faults[0].line().find("taper_40_a") != std::string::npos);
  CHECK(faults[1].key == "stations");
  CHECK(read->stations.size() == 1);
  faults.clear();
  const auto cutter = object_from_body<Cutter>(
      R"({"kind": "barrel", "shank_sections": [[1, 2]], "outline": "none", "through_coolant": "yes", "in_stock": 1.5, "shank_form": "flatt"})",
      faults);
  REQUIRE(cutter.has_value());
  CHECK(faults.size() == 4);
  CHECK(cutter->kind == CutterKind::barrel);
  CHECK(cutter->shank_sections.empty());
}

namespace {
template <class T>
std::optional<T> quickly(std::string_view body) {
  std::optional<T> object(std::in_place);
  if (!quick_read(*object, body)) object.reset();
  return object;
}
}  // namespace

TEST_CASE("decimals are read and written to the same value as the standard library does") {
  std::mt19937_64 random(3);
  const auto check = [](double value) {
    char text[40];
    const std::string written(text, write_decimal(text, text + sizeof text, value));
    INFO(written);
    CHECK(std::strtod(written.c_str(), nullptr) == value);
    char shortest[40];
    CHECK(written.size() <=
          static_cast<std::size_t>(std::to_chars(shortest, shortest + sizeof shortest, value).ptr - shortest) +
              4);  // 1e+10 is shorter than its digits
    double read = 0;
    const char* end = read_decimal(written.data(), written.data() + written.size(), read);
    if (end == written.data() + written.size()) CHECK(read == value);
  };
  for (const double value : {0.0, -0.0, 1.0, -12.0, 0.1, 0.001, 0.0005, 0.05, 6.35, 11.1125, 2.718281828459045, 1e15,
                             1e22, 123456789.125, 0.30000000000000004, -0.125, 99999999999.999, 1e-300})
    check(value);
  for (int i = 0; i < 20000; ++i) {
    check(static_cast<double>(random() % 100000000) / 1000);
    check(-static_cast<double>(random() % 100000000) / 10000);
    check(std::bit_cast<double>((random() & 0x800fffffffffffffu) | (std::uint64_t{900 + random() % 200} << 52)));
  }
  double read = 0;
  for (const char* none : {"", ".", ".5", "5.", "-1", "x", "1234567890123456", "0.1234567890123456"}) {
    INFO(none);
    CHECK(read_decimal(none, none + std::strlen(none), read) == nullptr);
  }
  const std::string_view longer = "12.5mm";
  CHECK(read_decimal(longer.data(), longer.data() + longer.size(), read) == longer.data() + 4);
  CHECK(read == 12.5);
}

TEST_CASE("an object read quickly is the object read strictly, and what is odd is left to the strict reader") {
  std::mt19937 random(9);
  for (const CutterKind kind : cutter_kinds()) {
    Cutter c = random_cutter(kind, random);
    c.id = Id::from_name("c");
    c.name = "Ø ≤ 12 \"x\" \\ é";
    c.typed = {{"diameter_mm", "7/16\""}};
    c.guesses = {"reach_mm", "flutes"};
    c.accepted = {{"flutes_long", "made so; \"as ordered\""}};
    c.notes = "two\nlines\tand \x01";
    CHECK(Json::parse(body_of(c)) == to_json(c));  // written in one pass as through a document
    const auto quick = quickly<Cutter>(body_of(c));
    REQUIRE(quick.has_value());
    Cutter strict;
    FormatFaults faults;
    from_json(strict, Json::parse(body_of(c)), faults);
    CHECK(faults.empty());
    CHECK(*quick == strict);
    CHECK(*quick == c);
  }
  WorkMaterial m;
  m.id = Id::from_name("m");
  m.name = "C45";
  m.hardness_hb = 190;
  m.force_evidence = Evidence::handbook;
  m.cut_here = true;
  m.typed = {{"hardness_hb", "190 HB"}};
  round_trip(m);
  CHECK(quickly<WorkMaterial>(body_of(m)) == m);
  for (const char* odd : {"", "{", "[]", "null", R"({"name": 7})", R"({"vdi_group": 2.5})", R"({"group": "Q"})",
                          R"({"cut_here": "yes"})", R"({"hardness_hb": "hard"})", R"({"id": "x"})", R"({"typed": []})",
                          R"({"colour": "red"})", R"({"name": null})"}) {
    INFO(odd);
    CHECK_FALSE(quickly<WorkMaterial>(odd).has_value());
  }
}

TEST_CASE("a table read quickly is the table read strictly, and what is odd is left to the strict reader") {
  ConditionTable t;
  t.id = Id::from_name("t");
  t.name = "Steels, Ø ≤ 12 \"roughing\"";
  t.level = TableLevel::starter;
  for (int i = 0; i < 40; ++i) {
    ConditionRow row;
    row.id = Id::from_name("row " + std::to_string(i));
    row.kind = static_cast<CutterKind>(i % 29);
    row.operation = static_cast<OperationKind>(i % operation_count);
    if (i % 2) row.tool_material = static_cast<ToolMaterial>(i % 9);
    if (i % 3) row.material = Id::from_name("m");
    row.diameter_mm = 0.1 * (i + 1);
    row.vc_m_min = 1.0 / (i + 1);
    row.feed_mm = i;
    if (i % 4) row.flutes = i % 7 + 1;
    row.feed_kind = static_cast<FeedKind>(i % 3);
    row.coolant = static_cast<Coolant>(i % 6);
    row.proven = i % 2;
    row.note = i % 5 ? "" : "dry \\ no \t air";
    if (i % 6 == 0) row.typed = {{"vc_m_min", "600 ft/min"}};
    t.rows.push_back(row);
  }
  const std::string body = body_of(t);
  const auto quick = quickly<ConditionTable>(body);
  REQUIRE(quick.has_value());
  ConditionTable strict;
  FormatFaults faults;
  from_json(strict, Json::parse(body), faults);
  CHECK(faults.empty());
  CHECK(*quick == strict);
  CHECK(*quick == t);

  // Not as this program writes it: refused here, and the strict reader names the place.
  for (const auto& [right, wrong] : {std::pair{"\"vc_m_min\":1,", "\"vc_m_min\":\"fast\","},
                                     {"\"kind\":\"drill\"", "\"kind\":\"gimlet\""},
                                     {"\"flutes\":2", "\"flutes\":2.5"},
                                     {"\"proven\":true", "\"proven\":1"},
                                     {"\"rows\":[", "\"lines\":["}}) {
    std::string changed = body;
    const std::size_t at = changed.find(right);
    INFO(right);
    REQUIRE(at != std::string::npos);
    changed.replace(at, std::string_view(right).size(), wrong);
    CHECK_FALSE(quickly<ConditionTable>(changed).has_value());
    FormatFaults found;
    const auto read = object_from_body<ConditionTable>(changed, found);
    REQUIRE(read.has_value());
    if (std::string_view(wrong).find("lines") == std::string_view::npos) {
      REQUIRE_FALSE(found.empty());
      CHECK(found.front().key.rfind("rows[", 0) == 0);
      CHECK(read->rows.size() == 40);
    }
  }
  CHECK_FALSE(quickly<ConditionTable>("").has_value());
  CHECK_FALSE(quickly<ConditionTable>("[1, 2").has_value());
  CHECK_FALSE(quickly<ConditionTable>(body.substr(0, body.size() / 2)).has_value());
}

TEST_CASE("a job comes back with drawing, cutters, copies of values and their trail") {
  Job job = test::plate_job();
  Operation mill = test::profile_operation(), drill = test::drilling_operation();
  mill.taken.kept = "3000 600";
  mill.tabs_at = {{1, 2}, {3, 4}};
  mill.features[0].print = "0123456789abcdef";
  mill.taken_slot = mill.taken;
  drill.own_n_rpm = 1234.5;
  drill.typed = {{"own_n_rpm", "1234.5"}};
  round_trip(mill);
  round_trip(drill);
  job.setups[0].clamps = {{{"clamp", {}}, 5}};
  round_trip(job.head());
  round_trip(job.setups[0]);
  Part part = *job.part;
  part.drawing.lines[0].layer = "EDGE";
  part.drawing.add_line({false, {{0, 0, 0.5}, {1, 1, 0}}}, "OPEN");
  round_trip(part);
  Feature holes;
  holes.id = Id{5, 5};
  holes.key = "h1";
  holes.kind = FeatureKind::holes;
  holes.at = {{1, 2}, {3, 4}};
  holes.diameter_mm = 8.5;
  holes.through = true;
  round_trip(holes);
  mill.taken.trail = {{"source", {{"diameter_mm", 12.0}, {"table", std::string("Ours")}}, {Id{7, 7}, Id{8, 8}}}};
  round_trip(trail_of(mill));
}

TEST_CASE("a fault names the key, what is wrong and what would be right") {
  CHECK(faults_of(R"({"diameter_mm": "12"})").at(0).line().find("diameter_mm: is not a number") == 0);
  CHECK(faults_of(R"({"kind": "endmill"})").at(0).text.find("end_mill") != std::string::npos);
  CHECK(faults_of(R"({"flutes": 2.5})").at(0).text.find("whole number") != std::string::npos);
  CHECK(faults_of(R"({"id": "nonsense"})").at(0).key == "id");
  CHECK(faults_of(R"([1, 2])").size() == 1);
  CHECK(faults_of(R"({"name": 5})").at(0).key == "name");
}

TEST_CASE("broken JSON is refused with its place") {
  CHECK(parse_json("{\"a\": 1,").error().text.find("byte") != std::string::npos);
  CHECK(parse_json("{\"a\": 1, \"a\": 2}").error().text.find("twice") != std::string::npos);
  CHECK(parse_json(std::string(100000, '[')).error().text.find("64 levels") != std::string::npos);
  CHECK_FALSE(parse_json("{\"a\": 1e999}").has_value());
  CHECK_FALSE(parse_json("").has_value());
  CHECK_FALSE(parse_json("nul").has_value());
  CHECK_FALSE(parse_json("{\"a\": NaN}").has_value());
  const std::string body = body_of(proposed_cutter(CutterKind::drill, 8));
  for (std::size_t cut = 0; cut < body.size(); ++cut) CHECK_FALSE(parse_json(body.substr(0, cut)).has_value());
}

TEST_CASE("the nearest known text is named for a mistyped one") {
  const std::vector<std::string> known{"42CrMo4 +QT", "C45", "EN-GJL-250"};
  CHECK(nearest_text("42CrMo4", known) == "42CrMo4 +QT");
  CHECK(nearest_text("c45", known) == "C45");
  CHECK(nearest_text("zzzzzzzzzzzz", known).empty());
}

TEST_CASE("ids read and print one spelling") {
  const Id id = Id::from_name("x");
  CHECK(Id::parse(id.text()) == id);
  CHECK(id.text().size() == 36);
  for (const char* text : {"x", "00000000-0000-0000-0000-00000000000g", "0000000000000000000000000000000000000",
                           "00000000+0000-0000-0000-000000000001"})
    CHECK_FALSE(Id::parse(text).has_value());
}

TEST_CASE("a stored table with any byte changed is read quickly as the strict reader reads it, or not at all") {
  ConditionTable t;
  t.id = Id::from_name("t");
  t.name = "Steels";
  for (int i = 0; i < 3; ++i) {
    ConditionRow row;
    row.id = Id::from_name("row " + std::to_string(i));
    row.diameter_mm = 6 + i;
    row.vc_m_min = 110.5;
    row.feed_mm = 0.05;
    row.note = "dry";
    row.typed = {{"vc_m_min", "360 ft/min"}};
    t.rows.push_back(row);
  }
  const std::string body = body_of(t);
  std::mt19937 random(8);
  const std::string letters = "{}[]\",:0123456789.-eE truefalsn\\u";
  int read = 0;
  for (int i = 0; i < 6000; ++i) {
    std::string changed = body;
    for (int k = 0; k < 1 + static_cast<int>(random() % 3); ++k) {
      const std::size_t at = random() % changed.size();
      if (random() % 3 == 0) changed.erase(at, 1 + random() % 4);
      else if (random() % 2) changed[at] = letters[random() % letters.size()];
      else changed.insert(at, 1, letters[random() % letters.size()]);
    }
    const auto quick = quickly<ConditionTable>(changed);
    if (!quick) continue;
    ++read;
    // A key that stands twice is taken by its last value here and refused by the strict parser; both never lose a row.
    const auto strict = parse_json(changed);
    if (!strict) continue;
    ConditionTable slow;
    FormatFaults faults;
    from_json(slow, *strict, faults);
    INFO(changed);
    CHECK(faults.empty());
    slow.revision = quick->revision;
    CHECK(*quick == slow);
  }
  CHECK(read > 100);
}

namespace {

// Every property gets a value of its kind, by the declarations: what is added later is in it too.
template <class T>
T filled(std::mt19937& random) {
  T object;
  object.id = Id::from_name("filled" + std::to_string(random()));
  for (const Property<T>& p : properties<T>()) {
    if (random() % 4 == 0) continue;
    switch (p.quantity) {
      case Quantity::text: p.set(object, std::string("Ø \"") + std::to_string(random() % 100)); break;
      case Quantity::id: p.set(object, Id::from_name("other" + std::to_string(random() % 9)).text()); break;
      case Quantity::flag: p.set(object, random() % 2 == 0); break;
      case Quantity::choice: p.set(object, std::string(p.choices[random() % p.choices.size()].key)); break;
      case Quantity::count: p.set(object, static_cast<double>(1 + random() % 20)); break;
      default: p.set(object, std::min(p.high, static_cast<double>(1 + random() % 1000) / 7)); break;
    }
  }
  return object;
}

}  // namespace

TEST_CASE(
    "recipes, machines, tables and settings with any of their properties come back as they were, read quickly or "
    "strictly") {
  std::mt19937 random(61);
  for (int n = 0; n < 200; ++n) {
    const Recipe recipe = filled<Recipe>(random);
    round_trip(recipe);
    CHECK(quickly<Recipe>(body_of(recipe)) == recipe);
    Machine machine = filled<Machine>(random);
    if (n % 3 == 0) machine.dial_rpm = {60, 120.5, 900};
    if (n % 2 == 0) machine.power_curve = {{1000, 5}, {8000, 5.5}};
    round_trip(machine);
    ConditionTable table = filled<ConditionTable>(random);
    for (int k = 0; k < n % 5; ++k) table.rows.push_back(filled<ConditionRow>(random));
    round_trip(table);
    CHECK(quickly<ConditionTable>(body_of(table)) == table);
    round_trip(filled<ShopSettings>(random));
  }
}

TEST_CASE("a dial that is no list of speeds is named") {
  for (const char* text : {R"({"name": "M", "dial_rpm": "fast"})", R"({"name": "M", "dial_rpm": [60, "x"]})",
                           R"({"name": "M", "dial_rpm": 7})"}) {
    INFO(text);
    FormatFaults faults;
    object_from_body<Machine>(text, faults);
    REQUIRE(faults.size() == 1);
    CHECK(faults[0].key == "dial_rpm");
  }
}

TEST_CASE("a text that is not UTF-8 is a fault of its object, also behind an escape") {
  for (const char* text : {"{\"name\":\"a\xff\"}", "{\"name\":\"a\\\\\xff\"}", "{\"notes\":\"\\n\xc3\"}"}) {
    FormatFaults faults;
    CHECK_FALSE(object_from_body<Cutter>(text, faults).has_value());
    REQUIRE(faults.size() == 1);
    CHECK(faults[0].text.find("invalid JSON") == 0);
    faults.clear();
    CHECK_FALSE(object_from_body<WorkMaterial>(text, faults).has_value());
    CHECK(faults.size() == 1);
  }
}

TEST_CASE("JSON of very many keys or values is refused before it is built") {
  std::string keys = "{", values = "[0";
  for (int i = 0; i < 6000; ++i) keys += (i ? ",\"k" : "\"k") + std::to_string(i) + "\":1";
  CHECK(parse_json(keys + "}").error().text == "has more than 5000 keys in one object");
  for (int i = 0; i < 10'000'000; ++i) values += ",0";
  CHECK(parse_json(values + "]").error().text == "has more than 10000000 values");
  CHECK(parse_json("{\"a\": 1e999}").error().text.find("too large") != std::string::npos);
  // In a shop as well, whatever the kind: tables and jobs can be long, but not in keys.
  std::string body = R"({"name": "Long")";
  for (int n = 0; n < 30000; ++n) body += ", \"key" + std::to_string(n) + "\": 1";
  body += "}";
  FormatFaults faults;
  CHECK_FALSE(object_from_body<ConditionTable>(body, faults));
  CHECK_FALSE(object_from_body<JobHead>(body, faults));
  REQUIRE(faults.size() == 2);
  for (const FormatFault& f : faults) CHECK(f.text == "has more than 5000 keys in one object");
}

TEST_CASE("JSON written straight as text is what the library writes of the same document") {
  // nlohmann's dump(2) is the reference.
  std::mt19937_64 random(7);
  const auto pick = [&](int most) { return static_cast<int>(random() % static_cast<unsigned>(most)); };
  const std::string texts[] = {"",  "Ø12", "a \"quoted\" \\ text", "tab\tline\nend\r\b\f", std::string("\x01\x1f", 2),
                               "名"};
  const double numbers[] = {0, -0.5, 1, 764, 0.1, 1e-4, 9.9e-5, 1.0 / 3, 1e14, 1e15, 1.5e300, -2910.25, 5e-324, 2e-10};
  const std::function<void(JsonText&, Json&, int)> put = [&](JsonText& text, Json& tree, int depth) {
    const int kind = pick(depth > 3 ? 4 : 7);
    if (kind == 0) {
      const double number = pick(2) ? numbers[pick(14)] : std::ldexp(static_cast<double>(random()), pick(120) - 90);
      text.put(number);
      tree = number;
    } else if (kind == 1) {
      const bool flag = pick(2) == 1;
      text.put(flag);
      tree = flag;
    } else if (kind == 2) {
      const int whole = pick(2000000) - 1000000;
      text.put(whole);
      tree = whole;
    } else if (kind == 3) {
      const std::string& said = texts[pick(6)];
      text.put(said);
      tree = said;
    } else if (kind == 4) {
      text.begin_array();
      tree = Json::array();
      for (int i = pick(4); i > 0; --i) {
        Json item;
        put(text, item, depth + 1);
        tree.push_back(std::move(item));
      }
      text.end_array();
    } else {
      text.begin_object();
      tree = Json::object();
      for (int i = pick(5); i > 0; --i) {
        const std::string key = texts[pick(6)] + std::to_string(i);
        text.key(key);
        put(text, tree[key], depth + 1);
      }
      text.end_object();
    }
  };
  for (int round = 0; round < 3000; ++round) {
    JsonText text;
    Json tree;
    put(text, tree, 0);
    // The library's numbers are not always the shortest; both read back as the same.
    if (text.text() == tree.dump(2)) continue;
    INFO(text.text() << "\n" << tree.dump(2));
    CHECK(Json::parse(text.text()).dump(2) == tree.dump(2));
  }
}

TEST_CASE("a part of a written text is written again as it was") {
  JsonText first;
  first.begin_array();
  const std::size_t from = first.begin_object();
  first.put("values", Details{{"d_mm", 12.0}, {"none", std::nan("")}, {"empty", std::string()}, {"name", "A"}});
  first.end_object();
  const std::string part(first.text().substr(from));
  first.put_written(part);
  first.end_array();
  const Json one = {{"values", {{"d_mm", 12.0}, {"name", "A"}}}};
  CHECK(first.text() == Json::array({one, one}).dump(2));
}
