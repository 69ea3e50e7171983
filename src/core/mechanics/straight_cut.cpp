#include "core/mechanics/straight_cut.h"

#include "core/mechanics/formulas.h"

namespace pecorra {
namespace {

constexpr double degrees = 180 / std::numbers::pi;

#if defined(__x86_64__) && defined(__GNUC__) && !defined(__clang__) && !defined(__SANITIZE_ADDRESS__) && \
    !defined(__SANITIZE_THREAD__)
#define PECORRA_FOR_EACH_MACHINE [[gnu::target_clones("avx512f", "avx2", "default")]]
#else
#define PECORRA_FOR_EACH_MACHINE
#endif

// Pointers of their own, so that nothing can overlap.
PECORRA_FOR_EACH_MACHINE
void stretch(std::size_t count, const double* __restrict d, const double* __restrict z, const double* __restrict vc,
             const double* __restrict fz, const double* __restrict ap, const double* __restrict ae,
             const double* __restrict sine, const double* __restrict kc11, double mc, double per_efficiency,
             double* __restrict n, double* __restrict fn, double* __restrict vf, double* __restrict arc,
             double* __restrict in_cut, double* __restrict hex, double* __restrict hm, double* __restrict kc,
             double* __restrict q, double* __restrict pc, double* __restrict motor, double* __restrict torque,
             double* __restrict mark) {
  using namespace formulas;
#pragma omp simd
  for (std::size_t i = 0; i < count; ++i) {
    const double rpm = spindle_speed_rpm(vc[i], d[i]), per_turn = fz[i] * z[i], feed = per_turn * rpm;
    const double cosine = engagement_cosine(ae[i], d[i]), angle = std::acos(cosine);
    const double chip = fz[i] * sine[i];
    const double mean = chip * mean_over_arc(cosine, angle);
    const double force = specific_force_n_mm2(kc11[i], mc, mean), rate = milling_rate_cm3_min(ap[i], ae[i], feed),
                 power = power_kw(rate, force);
    n[i] = rpm;
    fn[i] = per_turn;
    vf[i] = feed;
    arc[i] = angle * degrees;
    in_cut[i] = z[i] * angle / (2 * std::numbers::pi);
    hex[i] = chip * greatest_over_arc(cosine);
    hm[i] = mean;
    kc[i] = force;
    q[i] = rate;
    pc[i] = power;
    motor[i] = power * per_efficiency;
    torque[i] = torque_nm(power, rpm);
    mark[i] = side_mark_mm(fz[i], d[i]);
  }
}

}  // namespace

// Columns a little more than their length apart, for the same reason as those of the figures.
StraightCuts::StraightCuts(std::size_t count) {
  const std::size_t apart = (count + 7) / 8 * 8 + 40;
  const std::array columns{&d_mm, &teeth, &vc_m_min, &fz_mm, &ap_mm, &ae_mm, &sin_kappa, &kc11_n_mm2};
  store_.resize(apart * columns.size());
  for (std::size_t i = 0; i < columns.size(); ++i) *columns[i] = std::span(store_).subspan(i * apart, count);
}

void straight_figures(const StraightCuts& c,
                      const std::function<void(std::size_t, std::size_t, const StraightFigures&)>& visit) {
  StraightFigures f;
  for (std::size_t at = 0; at < c.size(); at += StraightFigures::most) {
    const std::size_t count = std::min(StraightFigures::most, c.size() - at);
    stretch(count, &c.d_mm[at], &c.teeth[at], &c.vc_m_min[at], &c.fz_mm[at], &c.ap_mm[at], &c.ae_mm[at],
            &c.sin_kappa[at], &c.kc11_n_mm2[at], c.mc, 1 / c.efficiency, f.n_rpm.data(), f.fn_mm.data(),
            f.vf_mm_min.data(), f.engagement_deg.data(), f.teeth_in_cut.data(), f.h_ex_mm.data(), f.h_m_mm.data(),
            f.kc_n_mm2.data(), f.q_cm3_min.data(), f.pc_kw.data(), f.motor_power_kw.data(), f.mc_nm.data(),
            f.feed_mark_mm.data());
    visit(at, count, f);
  }
}

}  // namespace pecorra
