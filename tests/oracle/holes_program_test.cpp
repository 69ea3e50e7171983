// Three hundred random jobs of holes: every place and depth comes back from their programs, by a reader that shares no
// code with the writer.
#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <map>
#include <random>
#include <set>

#include "../support/dialects.h"
#include "../support/program_reader.h"
#include "../support/sample_job.h"
#include "core/cutter/kinds/threads.h"
#include "core/operation/generic_cutter.h"
#include "core/operation/holes.h"
#include "core/program/program.h"
#include "core/thread/thread.h"

using namespace pecorra;

namespace {

struct Made {
  Job job;
  std::vector<Toolpath> paths;
  std::string text;
};

// Plain figures of what the tip has to reach, from the sizes alone.
double expected_bottom(const Operation& o, double depth, bool through, double top) {
  const Cutter& c = o.cutter;
  const double rad = M_PI / 180;
  switch (o.path) {
    case PathKind::drill: {
      const double point = *c.diameter_mm / 2 / std::tan(*c.point_angle_deg / 2 * rad);
      return top - depth - o.breakthrough_mm.value_or(0) -
             (through || o.depth_to == DepthTo::full_diameter ? point : 0);
    }
    case PathKind::ream:
      return top - depth - o.breakthrough_mm.value_or(0) -
             (through || o.depth_to == DepthTo::full_diameter ? c.lead_length_mm.value_or(0) : 0);
    case PathKind::tap: return top - depth - c.lead_threads.value_or(3) * *c.pitch_mm - o.breakthrough_mm.value_or(0);
    case PathKind::spot: return top - *o.diameter_mm / 2 / std::tan(*c.point_angle_deg / 2 * rad);
    case PathKind::countersink:
      return top - (*o.diameter_mm - c.tip_diameter_mm.value_or(0)) / 2 / std::tan(*c.point_angle_deg / 2 * rad);
    case PathKind::counterbore: return top - depth - (c.step_diameter_mm ? c.step_length_mm.value_or(0) : 0);
    default: return top - depth - o.breakthrough_mm.value_or(0);
  }
}

Operation random_operation(std::mt19937& random, int i, const Feature& holes) {
  const auto of = [&](int low, int high) {
    return static_cast<double>(low + static_cast<int>(random() % static_cast<unsigned>(high - low + 1)));
  };
  static const OperationDeclaration* const kinds_of_holes[] = {
      &kinds::drill, &kinds::ream, &kinds::tap, &kinds::spot, &kinds::countersink, &kinds::counterbore, &kinds::bore};
  const OperationDeclaration& kind = *kinds_of_holes[random() % std::size(kinds_of_holes)];
  Operation o;
  o.id = Id{2, static_cast<std::uint64_t>(i + 1)};
  o.path = kind.kind;
  o.operation = kind.usual;
  o.name = "Hole " + std::to_string(i);
  o.features = {{holes.key, {}}};
  const double d = *holes.diameter_mm;
  static const std::map<PathKind, CutterKind> cutters = {{PathKind::drill, CutterKind::drill},
                                                         {PathKind::ream, CutterKind::reamer},
                                                         {PathKind::tap, CutterKind::tap},
                                                         {PathKind::spot, CutterKind::spot_drill},
                                                         {PathKind::bore, CutterKind::boring_bar},
                                                         {PathKind::countersink, CutterKind::countersink},
                                                         {PathKind::counterbore, CutterKind::counterbore}};
  const double size = o.path == PathKind::countersink || o.path == PathKind::spot ? 2 * d + 2
                      : o.path == PathKind::counterbore                           ? 1.7 * d
                                                                                  : d;
  o.cutter = generic_cutter({cutters.at(o.path), size, {}, 60});
  o.cutter.id = Id{3, static_cast<std::uint64_t>(i + 1)};
  o.cutter.number = i + 1;
  if (o.path == PathKind::spot || o.path == PathKind::countersink) o.diameter_mm = d + of(1, static_cast<int>(d));
  if (o.path == PathKind::tap && random() % 4 == 0) o.cutter.rotation = Rotation::counter_clockwise;
  if (o.path == PathKind::tap && random() % 3 == 0) o.tapping = TappingKind::floating;
  if (o.path == PathKind::bore && random() % 2) o.bore_retract = BoreRetract::orientated;
  if (o.path == PathKind::drill) {
    o.depth_to = random() % 2 ? DepthTo::tip : DepthTo::full_diameter;
    o.cycle = static_cast<DrillCycle>(random() % 3);
    if (random() % 2) o.peck_mm = of(1, 6);
  }
  if (o.path != PathKind::spot && o.path != PathKind::countersink && o.path != PathKind::counterbore &&
      random() % 3 == 0)
    o.breakthrough_mm = of(0, 2);
  if (random() % 3 == 0) o.top_mm = -of(1, 3);
  if (random() % 3 == 0 && o.path != PathKind::spot && o.path != PathKind::countersink) o.depth_mm = of(3, 14);
  if (random() % 4 == 0) o.dwell_s = 0.5;
  o.taken.n_rpm = of(200, 4000);
  o.taken.vf_mm_min = o.path == PathKind::tap ? *o.taken.n_rpm * *o.cutter.pitch_mm : of(50, 900);
  return o;
}

Made random_job(std::mt19937& random, bool cycles) {
  Made made;
  Job& job = made.job;
  job.id = Id{1, 1};
  job.name = "Random";
  Setup setup;
  setup.id = Id{1, 2};
  setup.x_low_mm = -100, setup.x_high_mm = 100, setup.y_low_mm = -100, setup.y_high_mm = 100;
  setup.z_low_mm = -30, setup.z_high_mm = 0;
  setup.zero_x_mm = static_cast<double>(random() % 100), setup.zero_y_mm = -12.5, setup.zero_z_mm = -1;
  setup.clearance_mm = 15;
  job.setups = {setup};
  // Each on holes of its own: what follows on others is checked elsewhere.
  const int operations = 1 + static_cast<int>(random() % 4);
  for (int i = 0; i < operations; ++i) {
    Feature f;
    f.kind = FeatureKind::holes;
    f.key = "h" + std::to_string(i);
    f.diameter_mm = 4 + static_cast<double>(random() % 9);
    f.depth_mm = 5 + static_cast<double>(random() % 10);
    f.through = random() % 4 == 0;
    const std::size_t count = 1 + random() % 12;
    for (std::size_t k = 0; k < count; ++k)
      f.at.push_back({static_cast<double>(random() % 1800) / 10 - 90, static_cast<double>(random() % 1800) / 10 - 90});
    shape(f);
    job.features.push_back(std::move(f));
  }
  for (int i = 0; i < operations; ++i)
    job.operations.push_back(random_operation(random, i, job.features[static_cast<std::size_t>(i)]));
  const Dialect dialect = cycles ? test::plain_dialect() : test::without_cycles(test::plain_dialect());
  std::vector<ProgramOperation> list;
  for (const Operation& o : job.operations) made.paths.push_back(test::planned(job, o).path);
  for (std::size_t i = 0; i < made.paths.size(); ++i) {
    ProgramOperation entry = test::entry(job.operations[i], made.paths[i]);
    entry.setup.zero_x = *setup.zero_x_mm, entry.setup.zero_y = *setup.zero_y_mm, entry.setup.zero_z = *setup.zero_z_mm;
    list.push_back(entry);
  }
  made.text = write_program({job.name, "C45", "Machine"}, list, dialect).text;
  return made;
}

using Places = std::multiset<std::tuple<long long, long long, long long>>;
std::tuple<long long, long long, long long> place(double x, double y, double z) {
  return {std::llround(x * 500), std::llround(y * 500), std::llround(z * 500)};
}

}  // namespace

TEST_CASE("places and depths of three hundred random jobs come back from their programs") {
  std::mt19937 random(2711);
  int holes = 0, taps = 0, left = 0;
  for (int run = 0; run < 300; ++run) {
    INFO("job " << run);
    const bool cycles = run % 3 != 0;
    const Made made = random_job(random, cycles);
    INFO(made.text);
    const test::Reading r = test::read_program(made.text);
    for (const Operation& o : made.job.operations) {
      const Feature& f = *find_feature(made.job, o.features[0].key);
      const double top = o.top_mm.value_or(0), depth = o.depth_mm.value_or(*f.depth_mm);
      const double bottom = expected_bottom(o, depth, f.through, top);
      Places wanted, found;
      for (const Point2& p : f.at) wanted.insert(place(p.x, p.y, bottom));
      holes += static_cast<int>(f.at.size());
      // With cycles each block is a hole; without, the lowest point at each place.
      std::map<std::pair<long long, long long>, double> lowest;
      int blocks = 0;
      for (const test::Step& s : r.steps) {
        if (s.tool != o.cutter.number) continue;
        const double x = s.x + *made.job.setups[0].zero_x_mm, y = s.y - 12.5, z = s.z - 1;
        if (s.kind == 'd') {
          ++blocks;
          found.insert(place(x, y, s.bottom - 1));
          CHECK(s.speed == *o.taken.n_rpm);
          CHECK(s.feed == Approx(*o.taken.vf_mm_min).margin(0.051));
          CHECK(s.clear > s.bottom);
          if (o.path == PathKind::tap) {
            ++taps;
            const bool left_hand = o.cutter.rotation == Rotation::counter_clockwise;
            left += left_hand;
            CHECK(s.cycle == (left_hand ? 74 : 84));
            CHECK(s.reversed == left_hand);
            CHECK(s.feed == Approx(s.speed * *o.cutter.pitch_mm).margin(0.001));
          }
        } else if (s.kind == 'l' && !cycles) {
          const auto key = std::pair{std::llround(x * 500), std::llround(y * 500)};
          const auto [at, is_new] = lowest.try_emplace(key, z);
          at->second = std::min(at->second, z);
        }
      }
      if (cycles) {
        CHECK(found == wanted);
        CHECK(blocks == static_cast<int>(f.at.size()));
      } else {
        Places once;
        for (const auto& w : wanted)
          if (!once.count(w)) once.insert(w);
        Places down;
        for (const auto& [at, z] : lowest) down.insert({at.first, at.second, std::llround(z * 500)});
        CHECK(down == once);
      }
    }
  }
  CHECK(holes > 3000);
  CHECK(taps > 100);
  CHECK(left > 10);
}
