// Values between the rows of a table against a numerical library (GNU Scientific Library): linear in between, as
// gsl_interp_linear has it, and never outside the two neighbours, as its monotone interpolation (Steffen 1990) demands
// too.
#include <gsl/gsl_interp.h>
#include <algorithm>
#include <catch2/catch.hpp>
#include <random>

#include "core/conditions/resolver.h"
#include "core/tables/between_rows.h"

using namespace pecorra;

TEST_CASE("between the rows: as a numerical library interpolates, and within the neighbours") {
  std::mt19937 random(90);
  std::uniform_real_distribution<double> vc(20, 300), step(0.5, 6);
  int compared = 0;
  for (int n = 0; n < 200; ++n) {
    const std::size_t rows = 2 + random() % 8;
    std::vector<double> d, v, f;
    double at = 3;
    std::vector<ConditionTable> tables(1);
    tables[0].id = Id{1, 1};
    for (std::size_t i = 0; i < rows; ++i) {
      d.push_back(at);
      v.push_back(vc(random));
      f.push_back(0.01 + vc(random) / 3000);
      ConditionRow row;
      row.id = Id{2, i + 1};
      row.diameter_mm = at;
      row.vc_m_min = v.back();
      row.feed_mm = f.back();
      row.ap_per_d = 1;
      tables[0].rows.push_back(row);
      at += step(random);
    }
    std::shuffle(tables[0].rows.begin(), tables[0].rows.end(), random);  // rows stand in any order
    const Resolver resolver(tables);
    gsl_interp* linear = gsl_interp_alloc(gsl_interp_linear, rows);
    gsl_interp_init(linear, d.data(), v.data(), rows);
    gsl_interp* feed = gsl_interp_alloc(gsl_interp_linear, rows);
    gsl_interp_init(feed, d.data(), f.data(), rows);
    WorkMaterial m;
    for (int k = 0; k <= 40; ++k) {
      const double x = std::min(d.back(), d.front() + (d.back() - d.front()) * k / 40);
      Cutter c = proposed_cutter(CutterKind::end_mill, x);
      Query q;
      q.rounding = {1e-9, 1e-9};
      const Resolution r = resolver.resolve(resolver.key_of(c), resolver.key_of(m), resolver.key_of(Machine{}), q);
      REQUIRE(r.found());
      CHECK(r.conditions.vc_m_min == Approx(gsl_interp_eval(linear, d.data(), v.data(), x, nullptr)).epsilon(1e-6));
      CHECK(r.conditions.fz_mm == Approx(gsl_interp_eval(feed, d.data(), f.data(), x, nullptr)).epsilon(1e-6));
      const auto above = std::upper_bound(d.begin(), d.end() - 1, x) - d.begin();
      const auto hi = static_cast<std::size_t>(std::min<std::ptrdiff_t>(above, static_cast<std::ptrdiff_t>(rows) - 1)),
                 lo = hi > 0 ? hi - 1 : 0;
      CHECK(r.conditions.vc_m_min >= std::min(v[lo], v[hi]) * (1 - 1e-6));
      CHECK(r.conditions.vc_m_min <= std::max(v[lo], v[hi]) * (1 + 1e-6));
      CHECK_FALSE(r.guess);
      // What the curve beside a table shows is what the resolver takes.
      std::vector<ConditionRow> ordered = tables[0].rows;
      std::sort(ordered.begin(), ordered.end(),
                [](const ConditionRow& a, const ConditionRow& b) { return *a.diameter_mm < *b.diameter_mm; });
      CHECK(*value_between(ordered, CurveValue::speed, x) == Approx(r.conditions.vc_m_min).epsilon(1e-6));
      CHECK(*value_between(ordered, CurveValue::feed, x) == Approx(r.conditions.fz_mm).epsilon(1e-6));
      ++compared;
    }
    gsl_interp_free(linear);
    gsl_interp_free(feed);
  }
  CHECK(compared == 200 * 41);
}
