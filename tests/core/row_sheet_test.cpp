// Rows of tables from sheets as shops keep them: any usual heading, units, speeds and feeds either way round; and the
// preview: new, changed, same, conflict, faulty.
#include <catch2/catch.hpp>
#include <random>

#include "core/tables/row_sheet.h"

using namespace pecorra;

namespace {

const Id steel{9, 1};

std::optional<std::string> ids(std::string_view key, const std::string& name) {
  return key == "material" && name == "42CrMo4 +QT" ? std::optional(steel.text()) : std::nullopt;
}

Sheet sheet(std::vector<std::vector<std::string>> lines) { return {"", std::move(lines)}; }

ConditionRow base() {
  ConditionRow row;
  row.tool_material = ToolMaterial::carbide;
  row.flutes = 4;
  return row;
}

RowSheet read(std::vector<std::vector<std::string>> lines) {
  return read_row_sheet(sheet(std::move(lines)), base(), UnitSystem::metric, ids);
}

}  // namespace

TEST_CASE("headings by name, symbol or common word, with units in brackets, behind or below") {
  CHECK(heading_of("DC (mm)").word == "dc");
  CHECK(heading_of("Surface speed [ft/min]").unit == "ft/min");
  CHECK(heading_of("vc m/min").word == "vc");
  CHECK(heading_of("Ø").word == "d");
  const RowSheet r = read({{"Ø (mm)", "Type", "Work material", "vc m/min", "fz (mm)", "Remarks", "Shelf"},
                           {"10", "Ball end mill", "42CrMo4 +QT", "120", "0,05", "runs well", "A3"}});
  REQUIRE(r.headed);
  REQUIRE(r.lines.size() == 1);
  const ConditionRow& row = r.lines[0].value;
  CHECK(r.lines[0].faults.empty());
  CHECK(row.diameter_mm == 10.0);
  CHECK(row.kind == CutterKind::ball);
  CHECK(row.material == steel);
  CHECK(row.vc_m_min == 120.0);
  CHECK(row.feed_mm == Approx(0.05));
  CHECK(row.note == "runs well");
  CHECK(r.unknown == std::vector<std::string>{"Shelf"});
}

TEST_CASE("inch columns and a line of units; a fraction with its mark needs none") {
  const RowSheet r = read({{"Dia", "SFM", "IPT"}, {"1/2", "300", "0.002"}, {"12 mm", "100 m/min", "0.05 mm"}});
  REQUIRE(r.lines.size() == 2);
  CHECK(r.lines[0].value.vc_m_min == Approx(300 * 0.3048));
  CHECK(r.lines[0].value.feed_mm == Approx(0.0508));
  CHECK(r.lines[1].value.diameter_mm == 12.0);
  CHECK(r.lines[1].value.vc_m_min == 100.0);
  const RowSheet below = read({{"D", "vc", "fz"}, {"in", "ft/min", "in"}, {"0.5", "300", "0.002"}});
  REQUIRE(below.lines.size() == 1);
  CHECK(below.lines[0].value.diameter_mm == Approx(12.7));
  CHECK(below.lines[0].value.vc_m_min == Approx(91.44));
}

TEST_CASE("rpm and table feed of a data sheet become cutting speed and chip load") {
  // 30 m/min on Ø20 is 477.5 rpm, four flutes at 0.08 feed 152.8 mm/min: formulas 1 and 2
  const RowSheet r = read({{"rpm", "Table feed", "D", "z"}, {"477.5", "152.8", "20", "4"}});
  REQUIRE(r.lines.size() == 1);
  CHECK(r.lines[0].value.vc_m_min == Approx(30).epsilon(0.001));
  CHECK(r.lines[0].value.feed_mm == Approx(0.08).epsilon(0.001));
}

TEST_CASE("faults name line, column and reason; the good lines still count") {
  const RowSheet r = read({{"D", "vc", "fz", "Coolant"},
                           {"10", "120", "0.05", "flood"},
                           {"10 kg", "120", "0.05", ""},
                           {"12", "-3", "0.05", ""},
                           {"14", "100", "", ""},
                           {"16", "100", "0.06", "snow"},
                           {"", "", "", ""},
                           {"18", "100", "0.07", ""}});
  REQUIRE(r.lines.size() == 6);
  CHECK(r.lines[0].faults.empty());
  REQUIRE(r.lines[1].faults.size() >= 1);
  CHECK(r.lines[1].faults[0].line == 3);
  CHECK(r.lines[1].faults[0].column == "D");
  CHECK(r.lines[2].faults[0].column == "vc");
  CHECK(r.lines[3].faults[0].text == "is missing");
  CHECK(r.lines[4].faults[0].text.find("flood") != std::string::npos);  // what there is
  CHECK(r.lines[5].line == 8);
}

TEST_CASE("the preview sorts lines; what is picked is taken in one go") {
  ConditionTable table;
  table.id = Id{1, 1};
  const auto add = [&](double d, double vc, double feed) -> ConditionRow& {
    ConditionRow row = base();
    row.id = Id{2, table.rows.size() + 1};
    row.diameter_mm = d;
    row.vc_m_min = vc;
    row.feed_mm = feed;
    table.rows.push_back(row);
    return table.rows.back();
  };
  add(6, 100, 0.03);
  add(8, 100, 0.04);
  add(10, 100, 0.05).proven = true;
  add(12, 100, 0.06).date = "2026-11-20";
  const auto lines = preview_rows(table, read({{"D", "vc", "fz", "Date"},
                                               {"6", "100", "0.03", ""},
                                               {"8", "120", "0.04", ""},
                                               {"10", "130", "0.05", ""},
                                               {"12", "90", "0.06", "2026-10-01"},
                                               {"16", "100", "0.08", ""},
                                               {"20", "100", "0.09", ""},
                                               {"20", "110", "0.09", ""},
                                               {"x", "1", "1", ""}}));
  std::vector<MergeState> states;
  for (const auto& l : lines) states.push_back(l.state);
  using enum MergeState;
  CHECK(states == std::vector{same, changed, conflict, conflict, fresh, conflict, conflict, faulty});
  REQUIRE(lines[1].changes.size() == 1);
  CHECK(lines[1].changes[0]->key == "vc_m_min");
  CHECK(lines[2].why == "the row here is proven");
  CHECK(lines[3].why.find("2026-11-20") != std::string::npos);
  CHECK(lines[5].why == "line 8 says something else");
  std::uint64_t next = 100;
  const ConditionTable taken = with_rows(
      table, lines,
      [&] {
        return Id{2, ++next};
      },
      "Ada", "2026-11-26");
  REQUIRE(taken.rows.size() == 5);
  CHECK(taken.rows[1].vc_m_min == 120.0);
  CHECK(taken.rows[1].author == "Ada");
  CHECK(taken.rows[2].vc_m_min == 100.0);
  CHECK(taken.rows[4].diameter_mm == 16.0);
}

TEST_CASE("a table that is written and read again is the same, in mm and in inches") {
  ConditionTable table;
  table.id = Id{1, 1};
  for (int i = 0; i < 6; ++i) {
    ConditionRow row = base();
    row.id = Id{2, static_cast<std::uint64_t>(i) + 1};
    row.kind = i < 3 ? CutterKind::end_mill : CutterKind::ball;
    if (i % 2) row.material = steel;
    row.hardness_from_hb = i == 2 ? std::optional(200.0) : std::nullopt;
    row.duty = i == 4 ? std::optional(DutyClass::heavy) : std::nullopt;
    row.diameter_mm = 6.35 * (i + 1);
    row.vc_m_min = 91.44;
    row.vc_low_m_min = 70;
    row.feed_mm = 0.0254 * (i + 1);
    row.ap_per_d = 1.5;
    row.ae_mm = 2;
    row.plunge_mm_min = 300;
    row.coolant = Coolant::air;
    row.note = "a, \"b\"";
    table.rows.push_back(row);
  }
  for (const UnitSystem units : {UnitSystem::metric, UnitSystem::inch}) {
    const Sheet out = row_sheet(table, units, [](const Id&) { return std::string("42CrMo4 +QT"); });
    const auto lines = preview_rows(table, read_row_sheet(out, ConditionRow{}, UnitSystem::metric, ids));
    REQUIRE(lines.size() == table.rows.size());
    for (const auto& l : lines) {
      INFO((l.faults.empty() ? l.changes.empty() ? "" : std::string(l.changes[0]->key)
                             : l.faults[0].column + " " + l.faults[0].text));
      CHECK(l.state == MergeState::same);
    }
  }
}

TEST_CASE("a proven row that is changed all the same is no longer proven; with its note alone it stays so") {
  ConditionTable table;
  table.id = Id{1, 1};
  ConditionRow row = base();
  row.id = Id{2, 1};
  row.diameter_mm = 10;
  row.vc_m_min = 100;
  row.feed_mm = 0.05;
  row.proven = true;
  table.rows = {row};
  auto lines = preview_rows(table, read({{"D", "vc", "fz"}, {"10", "130", "0.05"}}));
  REQUIRE(lines[0].state == MergeState::conflict);
  lines[0].picked = true;
  const auto taken = with_rows(
      table, lines,
      [] {
        return Id{9, 9};
      },
      "Ada", "2026-11-26");
  CHECK(taken.rows[0].vc_m_min == 130.0);
  CHECK_FALSE(taken.rows[0].proven);
  const auto noted = with_rows(
      table, preview_rows(table, read({{"D", "vc", "fz", "Note"}, {"10", "100", "0.05", "still good"}})),
      [] {
        return Id{9, 9};
      },
      "Ada", "2026-11-26");
  CHECK(noted.rows[0].note == "still good");
  CHECK(noted.rows[0].proven);
}

TEST_CASE(
    "whatever stands in a sheet: an answer for every line, no number that is none, and what was taken is the same when "
    "it comes again") {
  std::mt19937 random(77);
  const char* heads[] = {
      "D", "Ø (mm)", "vc",     "SFM",     "fz",     "Table feed (m/min)", "rpm",       "ap", "ae", "Note", "Material",
      "z", "HB min", "HB max", "Coolant", "Proven", "Tool material",      "Operation", "",   "xyz"};
  const char* cells[] = {"10",
                         "1/2\"",
                         "-3",
                         "0",
                         "1e400",
                         "nan",
                         "12,5",
                         "120",
                         "0.05",
                         "1.5 x D",
                         "",
                         " ",
                         "-",
                         "P",
                         "steel",
                         "42CrMo4 +QT",
                         "flood",
                         "yes",
                         "HSS",
                         "side roughing",
                         "80..100..120",
                         "9999999999999",
                         "Ø",
                         "\xff",
                         "300",
                         "(",
                         "0.2 mm/rev"};
  int good = 0;
  for (int n = 0; n < 400; ++n) {
    std::vector<std::vector<std::string>> lines(1);
    const std::size_t width = 3 + random() % 8;
    lines[0] = {"D", "vc", "fz"};
    for (std::size_t c = 3; c < width; ++c) lines[0].push_back(heads[random() % std::size(heads)]);
    for (unsigned k = random() % 12; k > 0; --k) {
      std::vector<std::string> line;
      // Mostly what can be right in the first three.
      line = {random() % 5 ? std::to_string(3 + random() % 20) : cells[random() % std::size(cells)],
              random() % 5 ? "100" : cells[random() % std::size(cells)],
              random() % 5 ? "0.05" : cells[random() % std::size(cells)]};
      for (std::size_t c = 3; c < width + random() % 2; ++c) line.push_back(cells[random() % std::size(cells)]);
      lines.push_back(line);
    }
    const RowSheet r = read_row_sheet(sheet(lines), base(), random() % 2 ? UnitSystem::metric : UnitSystem::inch, ids);
    REQUIRE(r.headed);
    ConditionTable table;
    table.id = Id{1, 1};
    const auto first = preview_rows(table, r);
    for (const auto& line : r.lines)
      if (line.faults.empty()) {
        CHECK_FALSE(has_error(check_row(line.value)));
        for (const Property<ConditionRow>& p : properties<ConditionRow>())
          if (const auto number = number_of(line.value, p)) CHECK(p.accepts(*number));
        ++good;
      }
    std::uint64_t next = 0;
    const ConditionTable taken = with_rows(
        table, first,
        [&] {
          return Id{2, ++next};
        },
        "Ada", "2026-11-26");
    // Taken lines are there: none of them is new any more.
    const auto second = preview_rows(taken, r);
    REQUIRE(second.size() == first.size());
    for (std::size_t i = 0; i < first.size(); ++i)
      if (first[i].picked) CHECK(second[i].state != MergeState::fresh);
  }
  CHECK(good > 200);
}
