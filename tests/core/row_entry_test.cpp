// Rows of a table typed either way round.
#include <catch2/catch.hpp>
#include <numbers>

#include "core/tables/row_entry.h"

using namespace pecorra;

namespace {
ConditionRow row(double d = 10) {
  ConditionRow r;
  r.diameter_mm = d;
  r.vc_m_min = 100;
  r.feed_mm = 0.05;
  return r;
}
ConditionRow typed(const ConditionRow& r, RowField field, const char* text, UnitSystem units = UnitSystem::metric) {
  const auto out = with_entry(r, field, text, units);
  INFO(text);
  REQUIRE(out.has_value());
  return *out;
}
}  // namespace

TEST_CASE("spindle speed and table feed follow from a row and lead back to it") {
  const ConditionRow r = row();
  CHECK(*n_of(r) == Approx(3183.0989));
  CHECK(flutes_of(r) == 4);
  CHECK(*vf_of(r) == Approx(3183.0989 * 4 * 0.05));
  const ConditionRow by_n = typed(r, RowField::n, "3500");
  CHECK(*by_n.vc_m_min == Approx(3500 * std::numbers::pi * 10 / 1000));
  CHECK(was_typed(by_n, RowField::n));
  CHECK_FALSE(was_typed(by_n, RowField::vc));
  CHECK(shown_entry(by_n, RowField::n, UnitSystem::metric) == "3500");
  const ConditionRow by_vf = typed(by_n, RowField::vf, "700");
  CHECK(*by_vf.feed_mm == Approx(700.0 / 3500 / 4));
  CHECK(was_typed(by_vf, RowField::vf));
  // A cutting speed typed afterwards takes its place.
  const ConditionRow by_vc = typed(by_vf, RowField::vc, "120");
  CHECK(was_typed(by_vc, RowField::vc));
  CHECK(*n_of(by_vc) == Approx(3819.7186));
}

TEST_CASE("a spindle speed that was typed stays when the diameter changes") {
  const ConditionRow r = typed(typed(row(), RowField::n, "3000"), RowField::diameter, "16");
  CHECK(*n_of(r) == Approx(3000));
  CHECK(*typed(row(), RowField::diameter, "16").vc_m_min == 100);
}

TEST_CASE("depth and width are absolute or a multiple of the diameter") {
  CHECK(*typed(row(), RowField::ap, "1.5 × D").ap_per_d == 1.5);
  CHECK(*typed(row(), RowField::ap, "0.3xD").ap_per_d == Approx(0.3));
  CHECK(*typed(row(), RowField::ae, "1/2 D").ae_per_d == 0.5);
  const ConditionRow absolute = typed(typed(row(), RowField::ap, "2 D"), RowField::ap, "4 mm");
  CHECK(*absolute.ap_mm == 4);
  CHECK_FALSE(absolute.ap_per_d.has_value());
  CHECK(shown_entry(typed(row(), RowField::ae, "0.25xD"), RowField::ae, UnitSystem::metric) == "0.25xD");
  CHECK_FALSE(with_entry(row(), RowField::ae, "1.2 × D", UnitSystem::metric).has_value());
}

TEST_CASE("what does not make sense in a row is refused in words") {
  for (const char* text : {"abc", "0", "-5", "12 kg"})
    CHECK_FALSE(with_entry(row(), RowField::vc, text, UnitSystem::metric).has_value());
  ConditionRow bare;
  CHECK_FALSE(with_entry(bare, RowField::n, "3000", UnitSystem::metric).has_value());
  CHECK_FALSE(with_entry(bare, RowField::vf, "300", UnitSystem::metric).has_value());
  ConditionRow chip = row();
  chip.feed_kind = FeedKind::chip_thickness;
  CHECK_FALSE(vf_of(chip).has_value());
  CHECK(with_entry(chip, RowField::vf, "300", UnitSystem::metric).error().text.find("chip thickness") !=
        std::string::npos);
  CHECK_FALSE(typed(row(), RowField::vc, "").vc_m_min.has_value());
}

TEST_CASE("inches and feet are read and kept") {
  const ConditionRow r = typed(typed(row(), RowField::diameter, "1/2\""), RowField::vc, "400 ft/min");
  CHECK(*r.diameter_mm == 12.7);
  CHECK(*r.vc_m_min == Approx(121.92));
  CHECK(shown_entry(r, RowField::diameter, UnitSystem::metric) == "1/2\"");
  CHECK(*typed(row(), RowField::vf, "20", UnitSystem::inch).feed_mm == Approx(508 / 3183.0989 / 4));
}

TEST_CASE("drills count their feed per revolution") {
  ConditionRow r = row(8.5);
  r.kind = CutterKind::drill;
  r.feed_kind = FeedKind::per_revolution;
  r.feed_mm = 0.15;
  CHECK(*vf_of(r) == Approx(*n_of(r) * 0.15));
}

TEST_CASE("rows are checked alone and beside their neighbours") {
  ConditionRow r = row();
  r.vc_low_m_min = 120;
  CHECK(check_row(r).at(0).code == "low_over_high");
  r = row();
  r.feed_mm = 4;
  CHECK(check_row(r).at(0).code == "feed_very_large");
  r.diameter_mm.reset();
  CHECK(has_error(check_row(r)));
  ConditionTable table;
  for (const double d : {6.0, 8.0, 10.0}) table.rows.push_back(row(d));
  for (std::size_t i = 0; i < 3; ++i) table.rows[i].id = Id{1, i + 1};
  CHECK(check_table(table).empty());
  table.rows[2].vc_m_min = 328;
  CHECK(check_table(table).at(0).code == "speed_looks_like_feet");
  table.rows[2] = row(8);
  table.rows[2].id = Id{1, 9};
  CHECK(check_table(table).at(0).code == "row_twice");
}

TEST_CASE("any side is typed in any field by its unit: rpm, table feed, per revolution, per tooth") {
  ConditionRow row;
  row.diameter_mm = 20;
  row.flutes = 4;
  const auto typed = [&](RowField field, const char* text) {
    const auto entered = with_entry(row, field, text, UnitSystem::metric);
    REQUIRE(entered.has_value());
    return row = *entered;
  };
  // 30 m/min on Ø20 is 477.5 rpm; 4 flutes at 0.08 feed 152.8 mm/min: Machinery's Handbook's way, the check list's
  // figures
  CHECK(typed(RowField::vc, "477.465 rpm").vc_m_min == Approx(30).epsilon(1e-4));
  CHECK(typed(RowField::n, "30 m/min").vc_m_min == Approx(30));
  CHECK(typed(RowField::feed, "152.8 mm/min").feed_mm == Approx(0.08).epsilon(1e-3));
  CHECK(typed(RowField::feed, "0.32 mm/rev").feed_mm == Approx(0.08));
  CHECK(shown_entry(row, RowField::feed, UnitSystem::metric) == "0.32 mm/rev");  // as typed
  CHECK(typed(RowField::feed, "0.004 in/tooth").feed_mm == Approx(0.1016));
  CHECK(typed(RowField::vf, "0.08 mm/tooth").feed_mm == Approx(0.08));
  row.feed_kind = FeedKind::per_revolution;
  CHECK(typed(RowField::feed, "0.05 mm/tooth").feed_mm == Approx(0.2));
  CHECK(typed(RowField::feed, "10 mm/s").feed_mm == Approx(600 / 477.465).epsilon(1e-4));
}
