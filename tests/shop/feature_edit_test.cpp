// Features, setups and clamps as the window edits them; operations copied between jobs; how jobs stand.
#include <algorithm>
#include <catch2/catch.hpp>

#include "demo_copy.h"
#include "shop/feature_edit.h"
#include "shop/job_file.h"
#include "shop/job_objects.h"
#include "shop/job_overview.h"
#include "shop/operation_copies.h"
#include "shop/operation_edit.h"
#include "shop/setup_edit.h"
#include "shop/shop.h"

using namespace pecorra;

namespace {

struct OfJob {
  ShopState state = the_demo();
  Resolver resolver{state.tables.shared(), state.resolver_options()};
  Id id;
  explicit OfJob(const char* job) : id(state.jobs.named(job)->id) {}
  Job job() const { return *state.job(id); }
  void put(const Change& change) {
    for (const ObjectChange& o : change.objects)
      if (o.after.empty()) state.visit(o.kind, [&](auto& list) { list.remove(o.id); });
      else put_body(state, o.kind, o.id, 1, o.after);
  }
};

}  // namespace

TEST_CASE("a new job guesses pockets with their islands, and holes by layer and diameter") {
  const OfJob b("Gear cover");
  Job job = b.job();
  job.features.clear();
  add_guessed_features(job);
  put_in_order(job);
  std::vector<const Feature*> pockets, holes;
  for (const Feature& f : job.features) (f.kind == FeatureKind::pocket ? pockets : holes).push_back(&f);
  REQUIRE(pockets.size() == 1);
  CHECK(pockets[0]->outline.key == "POCKET/1");
  REQUIRE(pockets[0]->islands.size() == 1);  // the boss is a circle: that is for people to say
  CHECK(pockets[0]->islands[0].key == "RIB/1");
  CHECK_FALSE(pockets[0]->islands[0].print.empty());
  REQUIRE(holes.size() == 2);
  CHECK(std::any_of(holes.begin(), holes.end(), [](const Feature* f) { return f->circles.size() == 4; }));
  // Corrected with a click each.
  auto change = feature_line_clicked(job, pockets[0]->key, "BOSS/1", false);
  REQUIRE(change);
  CHECK(change->objects.size() == 1);
  CHECK_FALSE(feature_line_clicked(job, pockets[0]->key, "OUTLINE/1", true).value().empty());
}

TEST_CASE("features are added, renamed with all that refers to them, and deleted") {
  OfJob b("Gear cover");
  const NewFeature made = added_feature(b.job(), FeatureKind::rectangle);
  b.put(made.change);
  REQUIRE(find_feature(b.job(), made.key));
  CHECK(check_feature(*find_feature(b.job(), made.key)).empty());
  const auto& key = *find_property<Feature>("key");
  CHECK_FALSE(edited_feature(b.job(), made.key, key, std::string("floor"), "floor", UnitSystem::metric));
  CHECK_FALSE(edited_feature(b.job(), made.key, key, std::string(), "", UnitSystem::metric));
  b.put(*edited_feature(b.job(), "floor", key, std::string("Main pocket"), "Main pocket", UnitSystem::metric));
  CHECK(b.job().operations[1].features[0].key == "Main pocket");
  // What it is follows its numbers.
  b.put(*edited_feature(b.job(), made.key, *find_property<Feature>("length_mm"), 25.4, "1\"", UnitSystem::metric));
  const Job longer = b.job();
  CHECK(bounds(find_feature(longer, made.key)->line).width() == Approx(25.4));
  CHECK(find_feature(longer, made.key)->typed.at("length_mm") == "1\"");
  b.put(copied_feature(b.job(), made.key).change);
  CHECK(b.job().features.size() == 4);
  b.put(without_features(b.job(), {made.key}));
  CHECK_FALSE(find_feature(b.job(), made.key));
  CHECK(without_features(b.job(), {"OUTLINE/1"}).empty());
}

TEST_CASE("a depth that is typed makes new holes blind ones, and through can be chosen again") {
  OfJob b("Spindle rail");
  const NewFeature made = added_feature(b.job(), FeatureKind::holes);
  b.put(made.change);
  const auto hole = [&] {
    const Job job = b.job();
    return Feature(*find_feature(job, made.key));
  };
  CHECK(hole().through);
  b.put(*edited_feature(b.job(), made.key, *find_property<Feature>("depth_mm"), 14.0, "14", UnitSystem::metric));
  CHECK(hole().depth_mm == 14.0);
  CHECK_FALSE(hole().through);
  b.put(*edited_feature(b.job(), made.key, *find_property<Feature>("through"), true, "yes", UnitSystem::metric));
  CHECK(hole().through);
}

TEST_CASE("places are pasted from a spreadsheet, in any unit, with or without a heading") {
  const auto places = places_in("X\tY\n10\t20\n1/2\"\t0.5 in\n\n-3.5\t4", UnitSystem::metric);
  REQUIRE(places);
  REQUIRE(places->size() == 3);
  CHECK((*places)[1].x == Approx(12.7));
  CHECK((*places)[2].y == 4);
  CHECK(places_in("1; 2\n3; 4", UnitSystem::inch)->at(1).x == Approx(76.2));
  const auto wrong = places_in("1 2\n3", UnitSystem::metric);
  REQUIRE_FALSE(wrong);
  CHECK(wrong.error().contains("Line 2"));
  CHECK_FALSE(places_in("", UnitSystem::metric));
}

TEST_CASE(
    "setups are added and deleted with their operations, the stock is typed as a size, the zero point set by name") {
  OfJob b("Spindle rail");
  b.put(added_setup(b.job()));
  REQUIRE(b.job().setups.size() == 2);
  CHECK(b.job().setups[0].name == "Setup 1");
  CHECK(b.job().setups[1].name == "Setup 2");
  CHECK(b.job().setups[1].work_offset == "G55");
  const Id second = b.job().setups[1].id;
  b.put(edited_operation(b.state, b.resolver, b.job(), {1, 2}, *find_property<Operation>("setup"), second.text(), "",
                         UnitSystem::metric));
  CHECK(setup_of(b.job(), b.job().operations[2])->id == second);
  // Its own section of the program.
  const PlanRequest request = plan_request(b.state, b.job());
  const std::string program = program_of(request, plan_job(request)).text;
  CHECK(program.find("G54") < program.find("G55"));
  CHECK(program.find("G55") != std::string::npos);
  b.put(*with_stock_size(b.job(), 1, "220 x 80 × 1 in", UnitSystem::metric));
  CHECK(*b.job().setups[1].x_high_mm - *b.job().setups[1].x_low_mm == Approx(220));
  CHECK(*b.job().setups[1].z_high_mm - *b.job().setups[1].z_low_mm == Approx(25.4));
  CHECK_FALSE(with_stock_size(b.job(), 1, "220 × 80", UnitSystem::metric));
  b.put(with_zero_at(b.job(), 1, {-1, 1, true}));
  CHECK(b.job().setups[1].zero_x_mm == b.job().setups[1].x_low_mm);
  CHECK(b.job().setups[1].zero_y_mm == b.job().setups[1].y_high_mm);
  b.put(without_setup(b.job(), 1));
  CHECK(b.job().setups.size() == 1);
  CHECK(setup_of(b.job(), b.job().operations[2])->id == b.job().setups[0].id);
  CHECK(without_setup(b.job(), 0).empty());
  // A clamp in the way is an error of the operation that meets it.
  b.put(clamp_clicked(b.job(), 0, "SLOT/1"));
  const JobPlan plan = plan_job(plan_request(b.state, b.job()));
  CHECK(has_error(plan.faults[1]));
  b.put(with_clamp_top(b.job(), 0, 0, -30, UnitSystem::metric));
  CHECK_FALSE(has_error(plan_job(plan_request(b.state, b.job())).faults[1]));
  b.put(clamp_clicked(b.job(), 0, "SLOT/1"));
  CHECK(b.job().setups[0].clamps.empty());
}

TEST_CASE("several operations are edited, moved, put, copied and deleted together") {
  OfJob b("Gear cover");
  const auto names = [&] {
    std::string all;
    const Job job = b.job();
    for (const Operation& o : job.operations) all += o.name.substr(0, 1);
    return all;
  };
  CHECK(names() == "TFPO");
  b.put(edited_operation(b.state, b.resolver, b.job(), {1, 2, 3}, *find_property<Operation>("depth_mm"), 6.0, "6",
                         UnitSystem::metric));
  for (std::size_t i = 1; i < 4; ++i) CHECK(b.job().operations[i].depth_mm == 6);
  // A field that one kind alone has stays away from the others.
  b.put(edited_operation(b.state, b.resolver, b.job(), {1, 2, 3}, *find_property<Operation>("peck_mm"), 2.0, "2",
                         UnitSystem::metric));
  CHECK_FALSE(b.job().operations[1].peck_mm);
  CHECK(b.job().operations[2].peck_mm == 2);
  // Pace and source.
  const double before = *b.job().operations[3].taken.n_rpm * *b.job().operations[3].taken.vf_mm_min;
  b.put(edited_operation(b.state, b.resolver, b.job(), {1, 3}, *find_property<Operation>("pace"), 60.0, "60",
                         UnitSystem::metric));
  CHECK(*b.job().operations[3].taken.n_rpm * *b.job().operations[3].taken.vf_mm_min < before);
  b.put(edited_operation(b.state, b.resolver, b.job(), {1, 3}, *find_property<Operation>("source"),
                         std::string("starter_table"), "", UnitSystem::metric));
  CHECK(b.job().operations[3].taken.source == SourceKind::starter_table);
  b.put(moved_operation(b.job(), {1, 2}, 1));
  CHECK(names() == "TOFP");
  b.put(operations_put(b.job(), {2, 3}, 0));
  CHECK(names() == "FPTO");
  CHECK(moved_operation(b.job(), {0, 1}, -1).empty());
  b.put(copied_operation(b.job(), {0, 2}));
  CHECK(names() == "FPTFTO");
  b.put(without_operation(b.job(), {3, 4}));
  CHECK(names() == "FPTO");
}

TEST_CASE("a value typed once for a cutter holds in every operation with it, until it is given back") {
  OfJob b("Spindle rail");
  b.put(copied_operation(b.job(), 0));
  const Id cutter = b.job().operations[0].cutter.id;
  b.put(edited_cutter_values(b.state, b.resolver, b.job(), cutter, *find_property<CutterValues>("n_rpm"), 2000.0,
                             UnitSystem::metric));
  for (const std::size_t i : {0u, 1u}) {
    CHECK(b.job().operations[i].taken.n_rpm == 2000);
    CHECK(b.job().operations[i].taken.source == SourceKind::own_for_cutter);
  }
  CHECK(b.job().operations[2].taken.n_rpm != 2000);
  // An operation's own value goes before.
  b.put(edited_operation(b.state, b.resolver, b.job(), 1, *find_property<Operation>("own_n_rpm"), 1500.0, "1500",
                         UnitSystem::metric));
  CHECK(b.job().operations[1].taken.n_rpm == 1500);
  CHECK(b.job().operations[1].taken.source == SourceKind::own);
  b.put(toggled_own(b.state, b.resolver, b.job(), 0));
  CHECK(b.job().operations[0].taken.source == SourceKind::shop_table);
  CHECK(b.job().cutters.empty());
  // And from an operation's values to all of its cutter, and back to it alone.
  b.put(with_own_for_cutter(b.state, b.resolver, b.job(), 1, true));
  CHECK(b.job().operations[0].taken.n_rpm == 1500);
  b.put(with_own_for_cutter(b.state, b.resolver, b.job(), 1, false));
  CHECK(b.job().operations[0].taken.source == SourceKind::shop_table);
  CHECK(b.job().operations[1].own_n_rpm == 1500);
}

TEST_CASE("operations go to another job with the features they use, and take its conditions") {
  OfJob b("Gear cover");
  const Job from = b.job();
  const std::string text = copied_text(from, {1, 2});
  OfJob to("Spindle rail");
  const Job target = to.job();
  auto pasted = pasted_operations(to.state, to.resolver, target, 0, text);
  REQUIRE(pasted);
  CHECK(pasted->at == Places{1, 2});
  to.put(pasted->change);
  const Job now = to.job();
  REQUIRE(now.operations.size() == 5);
  CHECK(now.operations[1].name == "Floor");
  CHECK(find_feature(now, "floor"));
  CHECK(now.operations[1].taken.vf_mm_min != from.operations[1].taken.vf_mm_min);
  // Lines of another drawing are no lines of this one.
  const JobPlan plan = plan_job(plan_request(to.state, now));
  CHECK(has_error(plan.faults[1]));
  CHECK(plan.faults[1][0].code == "feature_gone");
  // The same features again are shared; another one of that name gets a name of its own.
  to.put(pasted_operations(to.state, to.resolver, to.job(), 0, text)->change);
  CHECK(to.job().features.size() == 1);
  to.put(*edited_feature(to.job(), "floor", *find_property<Feature>("depth_mm"), 3.0, "3", UnitSystem::metric));
  to.put(pasted_operations(to.state, to.resolver, to.job(), 0, text)->change);
  CHECK(find_feature(to.job(), "floor 2"));
  for (const char* wrong : {"", "{}", "[1]", "{\"operations\": 3}"})
    CHECK_FALSE(pasted_operations(to.state, to.resolver, target, 0, wrong));
}

TEST_CASE("a drawing read again says feature by feature what changed or is gone; the same one changes nothing") {
  OfJob b("Gear cover");
  const Job before = b.job();
  CHECK(drawing_news(before).isEmpty());
  Drawing other = before.drawing();
  CHECK(with_drawing(before, other, {}).empty());
  other.print = "another file";
  for (DrawnLine& line : other.lines)
    if (line.layer == "RIB") line.contour.vertices[0].x += 1;
  std::erase_if(other.lines, [](const DrawnLine& line) { return line.layer == "OUTLINE"; });
  b.put(with_drawing(before, other, {}));
  const QString news = drawing_news(b.job());
  CHECK(news.contains("RIB/1 has changed"));
  CHECK(news.contains("OUTLINE/1 is gone"));
  CHECK_FALSE(news.contains("HOLES"));
  b.put(features_accepted(b.job(), 1));
  CHECK_FALSE(drawing_news(b.job()).contains("RIB/1"));
}

TEST_CASE("the trail says where the distances of a path come from") {
  const OfJob b("Gear cover");
  const JobPlan plan = plan_job(plan_request(b.state, b.job()));
  const auto says = [&](std::size_t operation, const char* step) {
    const Trail trail = plan.operations[operation]->trail();
    return std::any_of(trail.begin(), trail.end(), [&](const TrailStep& s) { return s.step == step; });
  };
  CHECK(says(0, "path_overrun"));
  CHECK(says(1, "path_helix"));
  CHECK(says(3, "path_lead"));
  for (std::size_t i = 0; i < 4; ++i) CHECK(says(i, "path_heights"));
  CHECK_FALSE(says(2, "path_lead"));
}

TEST_CASE("a copied job has all that belongs to it, and nothing of the other") {
  OfJob b("Gear cover");
  b.put(added_setup(b.job()));
  const Job before = b.job();
  NewJob made = copied_job(b.state, before);
  b.put(made.change);
  const Job copy = *b.state.job(made.job);
  CHECK(copy.name == "Gear cover 2");
  REQUIRE(copy.operations.size() == before.operations.size());
  CHECK(copy.operations[1].taken == before.operations[1].taken);
  CHECK(copy.setups.size() == 2);
  CHECK(copy.drawing() == before.drawing());
  CHECK(b.job().operations == before.operations);
}

TEST_CASE("a job says how it stands: ready, with warnings, changed at source, in error, empty") {
  OfJob b("Gear cover");
  const auto cache = std::make_shared<PlanCache>();
  const auto summary = [&] { return summary_of(b.state, b.resolver, b.id, cache); };
  CHECK(summary().health == JobHealth::ready);
  CHECK(summary().operations == 4);
  CHECK(summary().cutters == 4);
  CHECK(summary().minutes > 1);
  Job changed = b.job();
  changed.operations[3].taken.vf_mm_min = 1234;
  b.put(job_change("made", b.job(), changed));
  CHECK(summary().health == JobHealth::moved);
  CHECK(health_text(summary()) == "1 changed at source");
  b.put(edited_operation(b.state, b.resolver, b.job(), 1, *find_property<Operation>("depth_mm"), 60.0, "60",
                         UnitSystem::metric));
  CHECK(summary().health == JobHealth::faulty);
  CHECK(summary().first_fault == "Floor");
  b.put(without_operation(b.job(), {0, 1, 2, 3}));
  CHECK(summary().health == JobHealth::empty);
}

TEST_CASE("job files state every kind of feature, and are written as they were read") {
  const OfJob b("Gear cover");
  const std::string text = R"({ "format_version": 1, "name": "Stated", "machine": "Fettler 6", "material": "EN AW-5083",
    "stock": {"x_mm": [0, 120], "y_mm": [0, 80], "z_mm": [-20, 0]},
    "features": [
      {"id": "r", "kind": "rectangle", "x_mm": 60, "y_mm": 40, "length_mm": 50, "width_mm": 30,
       "corner_radius_mm": 6, "depth_mm": 5},
      {"id": "c", "kind": "circle", "x_mm": 20, "y_mm": 20, "diameter_mm": 16, "through": true},
      {"id": "s", "kind": "slot", "x_mm": 60, "y_mm": 70, "length_mm": 40, "width_mm": 10,
       "angle_deg": 15, "depth_mm": 3},
      {"id": "g", "kind": "holes", "pattern": "grid", "x_mm": 10, "y_mm": 10, "count": 3,
       "count_y": 2, "pitch_mm": 20, "pitch_y_mm": 25, "diameter_mm": 6.8, "depth_mm": 15, "thread": "M8",
       "tolerance": "H7", "chamfer_mm": 0.5},
      {"id": "p", "kind": "pocket", "outline": "r", "islands": ["c"], "depth_mm": 4},
      {"id": "t", "kind": "text", "text": "A 12", "height_mm": 6, "at": [20, 60], "angle_deg": 10, "depth_mm": 0.3} ],
    "operations": [
      {"kind": "pocket", "features": ["r"], "cutter": {"library": "Bronze and light", "number": 46},
       "pace": 80, "source": "starter_table", "finish_floor_mm": 0.3} ] })";
  const auto read = read_job_file(b.state, b.resolver, text, {});
  REQUIRE(read);
  const Job& job = read->job;
  REQUIRE(job.features.size() == 6);
  CHECK(job.features[3].at.size() == 6);
  CHECK(job.features[5].letters.size() == 4);
  CHECK(job.operations[0].pace == 80);
  CHECK(job.operations[0].taken.source == SourceKind::starter_table);
  const Json written = job_file(b.state, job);
  const auto again = read_job_file(b.state, b.resolver, written.dump(), {});
  REQUIRE(again);
  CHECK(job_file(b.state, again->job) == written);
  for (std::size_t i = 0; i < job.features.size(); ++i) {
    Feature x = job.features[i], y = again->job.features[i];
    x.id = y.id, x.job = y.job;
    CHECK(x == y);
  }
  // A last level at floor finishing conditions, as far above the floor as stated.
  const JobPlan plan = plan_job(plan_request(b.state, job));
  REQUIRE_FALSE(has_error(plan.faults[0]));
  REQUIRE(job.operations[0].taken_floor.vf_mm_min);
  bool rough = false, floor = false;
  for (const Move& m : plan.operations[0]->path.moves) {
    if (m.kind != MoveKind::cut) continue;
    if (std::abs(m.z + 5) < 1e-6) floor = floor || m.feed_mm_min == *job.operations[0].taken_floor.vf_mm_min;
    else rough = rough || m.z > -4.7 - 1e-6;
  }
  CHECK(rough);
  CHECK(floor);
  for (const auto& [from, to] : {std::pair{"\"length_mm\": 50", "\"length_mm\": 0"},
                                 {"\"corner_radius_mm\": 6", "\"corner_radius_mm\": 16"},
                                 {"\"count_y\": 2, ", ""},
                                 {"\"text\": \"A 12\", ", ""},
                                 {"starter_table", "own"}}) {
    std::string broken = text;
    broken.replace(broken.find(from), std::string(from).size(), to);
    INFO(to);
    CHECK_FALSE(read_job_file(b.state, b.resolver, broken, {}));
  }
}
