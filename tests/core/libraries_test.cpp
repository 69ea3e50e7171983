// Libraries: number blocks and free numbers, lists of cutters by the words of the trade, finding among them.
#include <catch2/catch.hpp>
#include <random>

#include "../support/random_cutters.h"
#include "core/library/cutter_find.h"
#include "core/library/cutter_rows.h"
#include "core/library/number_block.h"
#include "core/library/shared_library.h"

using namespace pecorra;

namespace {

const Id home = Id::from_name("home"), other = Id::from_name("other");

Cutter numbered(int number, CutterKind kind = CutterKind::end_mill, const Id& library = home) {
  Cutter c = proposed_cutter(kind, 10);
  c.id = Id::from_name("c" + std::to_string(number) + library.text());
  c.library = library;
  c.number = number;
  return c;
}

NumberBlock block(std::optional<int> from, std::optional<int> to, std::optional<int> every = {}) {
  NumberBlock b;
  b.from = from, b.to = to, b.every = every;
  return b;
}

std::vector<SheetLine<Cutter>> lines_of(const Sheet& sheet, UnitSystem units = UnitSystem::metric) {
  return read_cutter_sheet(sheet, guess_columns(sheet), units, {}).lines;
}

}  // namespace

TEST_CASE(
    "number blocks: several rules all hold, rules for the same cutters are alternatives, others' numbers are kept") {
  NumberBlock standing = block(1, 24), probes = block({}, {}, 10), bronze = block(40, 79),
              more_bronze = block(400, 449);
  standing.library = home;
  probes.kind = CutterKind::probe;
  bronze.word = more_bronze.word = "bronze";
  const std::vector<NumberBlock> blocks{standing, probes, bronze, more_bronze};
  CHECK_FALSE(breach_of(numbered(7), blocks));
  CHECK(breach_of(numbered(25), blocks)->kind == BreachKind::outside);
  CHECK(breach_of(numbered(15, CutterKind::probe), blocks)->block == &blocks[1]);  // in the standing set, but no tenth
  CHECK_FALSE(breach_of(numbered(20, CutterKind::probe), blocks));
  CHECK(breach_of(numbered(41, CutterKind::drill, other), blocks)->kind == BreachKind::kept_for_others);
  Cutter b = numbered(430, CutterKind::drill, other);
  b.notes = "for Bronze only";
  CHECK_FALSE(breach_of(b, blocks));  // the second of two blocks for the same
  b.number = 80;
  CHECK(breach_of(b, blocks)->kind == BreachKind::outside);
  // A word in the materials of its recipes counts as well.
  Cutter plain = numbered(50, CutterKind::drill, other);
  CHECK_FALSE(breach_of(plain, blocks, [](const Cutter&) { return std::string("CuSn8 bronze"); }));
  CHECK(check_block(block(9, 3)).size() == 1);
  CHECK(check_block(block(11, 19, 10)).size() == 1);  // no tenth between them
  CHECK(check_block(block(1, 24)).empty());
}

TEST_CASE("free numbers: a plan that leaves every rule kept and every number once") {
  std::mt19937 random(3);
  for (int round = 0; round < 60; ++round) {
    NumberBlock standing = block(1, 40), probes = block({}, {}, 10), upwards = block(200, {});
    standing.library = home;
    probes.kind = CutterKind::probe;
    upwards.library = other;
    const std::vector<NumberBlock> blocks{standing, probes, upwards};
    std::vector<Cutter> cutters;
    std::vector<std::size_t> all;
    for (int i = 0; i < 30; ++i) {
      cutters.push_back(numbered(1 + static_cast<int>(random() % 60),
                                 random() % 12 ? CutterKind::drill : CutterKind::probe, random() % 3 ? home : other));
      all.push_back(static_cast<std::size_t>(i));
    }
    const NumberPlan plan = plan_numbers(cutters, all, blocks);
    const std::vector<Cutter> before = cutters;
    for (const Renumbering& step : plan.steps) {
      CHECK(cutters[step.cutter].number == step.from);
      cutters[step.cutter].number = step.to;
    }
    std::set<std::pair<Id, int>> taken;
    for (std::size_t i = 0; i < cutters.size(); ++i) {
      if (std::find(plan.full.begin(), plan.full.end(), i) != plan.full.end()) continue;
      CHECK_FALSE(breach_of(cutters[i], blocks));
      CHECK(taken.emplace(cutters[i].library, cutters[i].number).second);
    }
    // What was right stays: the first with its number, in its block.
    CHECK(plan_numbers(cutters, all, blocks).steps.empty());
  }
  TakenNumbers taken;
  for (const int n : {1, 2, 5, 24}) taken.take(n);
  CHECK(taken.free_for(numbered(0), {}) == 25);  // gaps are left alone where nobody asks for them
  NumberBlock full = block(1, 24);
  full.library = home;
  CHECK(taken.free_for(numbered(0), std::vector{full}) == 3);  // its block is at its end: a gap
}

TEST_CASE("kinds and tool materials by the words of the trade (common practice, no source)") {
  for (const auto& [text, kind] : {std::pair{"end mill", CutterKind::end_mill},
                                   {"Ball end mill", CutterKind::ball},
                                   {"drill", CutterKind::drill},
                                   {"Ball Nose", CutterKind::ball},
                                   {"2FL carbide endmill 1/2", CutterKind::end_mill},
                                   {"NC spot drill 90°", CutterKind::spot_drill},
                                   {"Jobber drill", CutterKind::drill},
                                   {"Spiral point tap", CutterKind::tap},
                                   {"Tapered ball nose", CutterKind::tapered},
                                   {"thread mill", CutterKind::thread_mill},
                                   {"Bull nose end mill", CutterKind::bull_nose},
                                   {"roughing end mill", CutterKind::rougher},
                                   {"center drill", CutterKind::centre_drill},
                                   {"T-slot cutter", CutterKind::t_slot},
                                   {"facemill", CutterKind::face_mill},
                                   {"step drill", CutterKind::step_drill},
                                   {"C-bore", CutterKind::counterbore},
                                   {"back boring bar", CutterKind::back_boring_bar},
                                   {"end_mill", CutterKind::end_mill},
                                   {"Touch probe", CutterKind::probe}}) {
    INFO(text);
    CHECK(kind_in_words(text) == kind);
  }
  CHECK_FALSE(kind_in_words("Sharpener").has_value());
  CHECK_FALSE(kind_in_words("").has_value());
  for (const auto& [text, material] : {std::pair{"Carbide", ToolMaterial::carbide},
                                       {"VHM", ToolMaterial::carbide},
                                       {"HSS-Co8", ToolMaterial::hss_co},
                                       {"HSS", ToolMaterial::hss},
                                       {"M42", ToolMaterial::hss_co},
                                       {"PCD", ToolMaterial::pcd}})
    CHECK(tool_material_in_words(text) == material);
  // Every kind is understood by its own key and label.
  for (const CutterKind kind : cutter_kinds()) {
    Cutter c;
    const Sheet sheet{"", {{"Type", "Dia"}, {std::string(label_of(kind)), "10"}, {std::string(key_of(kind)), "10"}}};
    for (const auto& line : lines_of(sheet)) CHECK(line.value.kind == kind);
  }
}

TEST_CASE(
    "a list of cutters: common headings, a line of units, units in the cell, decimal comma, faults by line and "
    "column") {
  const Sheet sheet{
      "",
      {{"Cabinet 3, spring count", ""},
       {"Tool #", "Type", "Dia", "Flutes", "Flute length", "OAL", "Description", "Manufacturer", "Part No.", "Shelf"},
       {"", "", "mm", "", "mm", "mm"},
       {"1", "Ball nose", "6,5", "2", "13", "57", "Long one", "Ferrow", "F-1", "A"},
       {"2", "end mill", "1/2\"", "4", "1\"", "3 in"},
       {},
       {"3", "drill", "abc"},
       {"4", "Sharpener", "5"},
       {"5", "drill", "-3"},
       {"6", "drill", ""},
       {"7", "drill", "5", "2.5"}}};
  const CutterSheetForm form = guess_columns(sheet);
  REQUIRE(form.headed);
  CHECK(form.heading_line == 1);
  CHECK(form.first_line == 3);
  const CutterLines read = read_cutter_sheet(sheet, form, UnitSystem::inch, {});
  CHECK(read.unknown == std::vector<std::string>{"Shelf"});
  REQUIRE(read.lines.size() == 7);
  const Cutter& ball = read.lines[0].value;
  CHECK(ball.number == 1);
  CHECK(ball.kind == CutterKind::ball);
  CHECK(ball.diameter_mm == 6.5);
  CHECK(ball.flutes == 2);
  CHECK(ball.overall_length_mm == 57.0);
  CHECK(ball.name == "Long one");
  CHECK(ball.order_code == "F-1");
  CHECK(ball.unit == UnitSystem::metric);
  const Cutter& inch = read.lines[1].value;
  CHECK(inch.diameter_mm == 12.7);
  CHECK(inch.flute_length_mm == 25.4);
  CHECK(inch.overall_length_mm == Approx(76.2).epsilon(1e-15));
  CHECK(inch.unit == UnitSystem::inch);
  CHECK(inch.typed.at("diameter_mm") == "1/2\"");
  const std::pair<int, const char*> faulty[] = {{7, "Dia"}, {8, "Type"}, {9, "Dia"}, {10, "Dia"}, {11, "Flutes"}};
  for (std::size_t i = 0; i < 5; ++i) {
    INFO(i);
    REQUIRE(read.lines[i + 2].faults.size() == 1);
    CHECK(read.lines[i + 2].faults[0].line == faulty[i].first);
    CHECK(read.lines[i + 2].faults[0].column == faulty[i].second);
  }
}

TEST_CASE(
    "a list of cutters: a column of units, lead angle and threads per inch, a kind in the name, an ID of figures") {
  const Sheet sheet{"",
                    {{"ID", "Name", "Diameter", "Units", "Lead angle", "TPI", "Kind of thing"},
                     {"4", "1/4 ball endmill", "0.25", "inch", "", "", ""},
                     {"5", "Face mill 50", "50", "mm", "45", "", ""},
                     {"6", "Tap 1/4-20", "0.25", "in", "", "20", ""}}};
  const auto lines = lines_of(sheet);
  REQUIRE(lines.size() == 3);
  CHECK(lines[0].value.number == 4);
  CHECK(lines[0].value.diameter_mm == 6.35);
  CHECK(lines[0].value.kind == CutterKind::ball);
  CHECK(lines[0].value.unit == UnitSystem::inch);
  CHECK(lines[1].value.diameter_mm == 50.0);
  CHECK(lines[1].value.cutting_edge_angle_deg == 45.0);
  CHECK(lines[2].value.pitch_mm == Approx(1.27));
  CHECK_FALSE(guess_columns(Sheet{"", {{"one", "two"}, {"3", "4"}}}).headed);
  CHECK_FALSE(guess_columns(Sheet{}).headed);
}

TEST_CASE("what a sheet of cutters says is read back exactly, every cell of every kind") {
  std::mt19937 random(12);
  std::vector<Cutter> cutters;
  for (const CutterKind kind : cutter_kinds())
    for (int i = 0; i < 4; ++i) {
      Cutter c = random_cutter(kind, random);
      c.id = Id::from_name(std::to_string(cutters.size()));
      c.number = static_cast<int>(cutters.size()) + 1;
      c.name = "Ø ; \"x\" = 'y' " + std::to_string(i);
      c.notes = i % 2 ? "two\nlines" : "";
      c.guesses = {"flutes", "reach_mm"};
      c.accepted = {{"a;b", "because = so \\ it is"}};
      c.typed = {{"diameter_mm", "7/16\""}};
      c.price = 1.0 / 3;
      c.favourite = i == 1;
      c.shank_sections = {{1.0 / 7, 3, 4}};
      cutters.push_back(std::move(c));
    }
  std::vector<const Cutter*> all;
  for (const Cutter& c : cutters) all.push_back(&c);
  const auto lines = lines_of(cutter_sheet(all, {}), UnitSystem::inch);
  REQUIRE(lines.size() == cutters.size());
  for (std::size_t i = 0; i < lines.size(); ++i) {
    INFO(key_of(cutters[i].kind));
    CHECK(lines[i].faults.empty());
    CHECK(lines[i].value == cutters[i]);
  }
}

TEST_CASE("lines against what is there: by UUID, by number, by order code, by name and sizes") {
  std::vector<Cutter> there{numbered(1), numbered(2, CutterKind::drill), numbered(3)};
  there[1].maker = "Ferrow";
  there[1].order_code = "F-2";
  there[2].name = "Old friend";
  const auto read = [&](auto change, bool with_id = false) {
    std::vector<SheetLine<Cutter>> lines(1);
    SheetLine<Cutter>& line = lines[0];
    line.line = 1;
    line.value.library = home;
    change(line.value);
    if (!with_id) line.value.id = {};
    for (const Property<Cutter>& p : properties<Cutter>())
      if (!same_value(p.get(line.value), p.get(Cutter{})) && p.key != "library") line.given.push_back(&p);
    merge_lines<Cutter>(there, lines, cutter_merge_rules());
    return line;
  };
  CHECK(read([](Cutter& c) {
          c.number = 2;
          c.kind = CutterKind::drill;
        }).target == 1u);
  CHECK(read([](Cutter& c) {
          c.maker = "Ferrow";
          c.order_code = "F-2";
          c.kind = CutterKind::drill;
        }).target == 1u);
  CHECK(read([](Cutter& c) {
          c.name = "Old friend";
          c.diameter_mm = 10;
        }).target == 2u);
  CHECK_FALSE(read([](Cutter& c) {
                c.name = "Old friend";
                c.diameter_mm = 11;
              }).target.has_value());
  CHECK(read(
            [&](Cutter& c) {
              c.id = there[0].id;
              c.number = 77;
            },
            true)
            .target == 0u);
  CHECK_FALSE(read(
                  [](Cutter& c) {
                    c.id = Id::from_name("stranger");
                    c.number = 2;
                  },
                  true)
                  .target.has_value());
  // A text that was typed goes with a value that changes, and is kept where the value stays.
  there[0].typed = {{"diameter_mm", "10"}};
  const auto changed = read([](Cutter& c) {
    c.number = 1;
    c.diameter_mm = 11;
  });
  CHECK(changed.state == MergeState::changed);
  CHECK(changed.value.typed.empty());
}

TEST_CASE("finding: a size with its unit is the diameter, whatever stands in the name") {
  std::vector<Cutter> cutters(4);
  const std::pair<const char*, double> sizes[] = {
      {"End mill Ø1/4\" × 1\"", 6.35}, {"End mill Ø1\"", 25.4}, {"end mill, old name", 25.4}, {"Drill Ø12", 12}};
  for (std::size_t i = 0; i < 4; ++i) {
    cutters[i].id = Id::from_name(std::to_string(i));
    cutters[i].name = sizes[i].first;
    cutters[i].diameter_mm = sizes[i].second;
  }
  CutterIndex index;
  index.rebuild(cutters);
  const auto found = [&](std::string_view text) {
    for (std::size_t n = 1; n <= text.size(); ++n) index.find(text.substr(0, n));  // as it is typed
    std::string places;
    for (std::size_t i = 0; i < 4; ++i)
      if (index.find(text)[i]) places += static_cast<char>('0' + i);
    return places;
  };
  CHECK(found("1\"") == "12");
  CHECK(found("1\" old") == "2");
  CHECK(found("1/4in") == "0");
  CHECK(found("25.4mm") == "12");
  CHECK(found("Ø12") == "3");
  CHECK(found("ø12 drill") == "3");
  CHECK(found("12") == "3");  // a bare number is text
}

TEST_CASE("finding: words in any order, values, ranges in any unit; narrowing finds what searching anew finds") {
  std::mt19937 random(7);
  std::vector<Cutter> cutters;
  static constexpr const char* makers[] = {"Heddlemoor", "Ferrow", "Tansy & Rudd", "Ørsted"};
  for (int i = 0; i < 400; ++i) {
    Cutter c = random_cutter(cutter_kinds()[random() % 29], random);
    c.id = Id::from_name(std::to_string(i));
    c.number = i + 1;
    c.name = std::string(label_of(c.kind)) + " " + std::to_string(random() % 40);
    c.maker = makers[random() % 4];
    cutters.push_back(std::move(c));
  }
  CutterIndex index;
  index.rebuild(cutters);
  const auto plainly = [&](const Cutter& c, std::vector<std::string> words) {
    std::string all = c.name + "\n" + c.maker + "\n" + c.series + "\n" + c.order_code + "\n" + c.notes + "\n" +
                      std::to_string(c.number) + "\n" + std::string(label_of(c.kind)) + "\n" +
                      (c.tool_material ? std::string(label_of(*c.tool_material)) : "");
    for (char& x : all) x = static_cast<char>(std::tolower(x));
    return std::all_of(words.begin(), words.end(), [&](std::string w) {
      for (char& x : w) x = static_cast<char>(std::tolower(x));
      return all.find(w) != std::string::npos;
    });
  };
  for (const auto& words : std::vector<std::vector<std::string>>{
           {"ferrow"}, {"BALL", "ferrow"}, {"tansy", "12"}, {"carbide", "drill", "3"}, {"nothing of that name"}}) {
    std::string text;
    for (const std::string& w : words) text += w + " ";
    for (std::size_t n = 1; n <= text.size(); ++n) index.find(std::string_view(text).substr(0, n));  // as it is typed
    const auto& hits = index.find(text);
    std::vector<std::string> apart;
    for (const std::string& w : words) {
      std::string_view rest = w;
      while (!rest.empty()) {
        const auto end = std::min(rest.find(' '), rest.size());
        apart.emplace_back(rest.substr(0, end));
        rest.remove_prefix(std::min(end + 1, rest.size()));
      }
    }
    for (std::size_t i = 0; i < cutters.size(); ++i) CHECK(bool(hits[i]) == plainly(cutters[i], apart));
  }
  CHECK(index.find("ØRSTED") == index.find("ørsted"));
  cutters[5].name = "Renamed to quince";
  index.update(cutters, 5);
  CHECK(index.find("quince")[5]);
  const auto range = parse_range("1/4 .. 1/2 in", Quantity::length, UnitSystem::metric);
  REQUIRE(range.has_value());
  CHECK(range->from == Approx(6.35));
  CHECK(range->to == Approx(12.7));
  CHECK(parse_range(">= 10", Quantity::length, UnitSystem::metric)->from == 10.0);
  CHECK(parse_range("6 - 12", Quantity::length, UnitSystem::inch)->to == Approx(304.8));
  CHECK(parse_range("12", Quantity::count, UnitSystem::metric)->to == 12.0);
  for (const char* wrong : {"", "..", "12 .. 6", "much", "3 .. x"})
    CHECK_FALSE(parse_range(wrong, Quantity::length, UnitSystem::metric).has_value());
  CutterFilter filter;
  filter.values["maker"] = {"Ferrow", "Tansy & Rudd"};
  filter.ranges["diameter_mm"] = *range;
  for (const Cutter& c : cutters)
    CHECK(fits(c, filter) == ((c.maker == "Ferrow" || c.maker == "Tansy & Rudd") && c.diameter_mm &&
                              *c.diameter_mm >= 6.35 - 1e-6 && *c.diameter_mm <= 12.7 + 1e-6));
}

TEST_CASE("a shared library: who has changed what since both said the same") {
  using enum SharedState;
  const std::optional<std::uint64_t> a = print_of("a"), b = print_of("b"), c = print_of("c"), gone;
  CHECK(shared_state(a, a, a) == same);
  CHECK(shared_state(a, b, b) == same);  // both made the same change
  CHECK(shared_state(a, b, a) == to_file);
  CHECK(shared_state(a, a, b) == from_file);
  CHECK(shared_state(a, b, c) == both);
  CHECK(shared_state(gone, a, gone) == to_file);
  CHECK(shared_state(gone, gone, a) == from_file);
  CHECK(shared_state(a, gone, a) == to_file);    // we deleted it
  CHECK(shared_state(a, a, gone) == from_file);  // they did
  CHECK(shared_state(a, b, gone) == both);       // changed here, deleted there
  CHECK(print_of("") ==
        0xcbf29ce484222325ull);  // FNV-1a, published test values of the algorithm's authors, from memory
  CHECK(print_of("a") == 0xaf63dc4c8601ec8cull);
}
