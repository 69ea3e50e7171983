#include "core/mechanics/straight_cut.h"

#include "core/mechanics/formulas.h"

namespace pecorra {
namespace {

constexpr double degrees = 180 / std::numbers::pi;

#if defined(__x86_64__) && defined(__GNUC__) && !defined(__clang__) && !defined(__SANITIZE_ADDRESS__) && !defined(__SANITIZE_THREAD__)
#define PECORRA_FOR_EACH_MACHINE [[gnu::target_clones("avx512f", "avx2", "default")]]
#else
#define PECORRA_FOR_EACH_MACHINE
#endif

// In slices that stay in the cache; pointers of their own, so that nothing can overlap.
PECORRA_FOR_EACH_MACHINE
void slice(std::size_t count, const double* __restrict d, const double* __restrict z, const double* __restrict vc, const double* __restrict fz, const double* __restrict ap, const double* __restrict ae,
           const double* __restrict sine, const double* __restrict kc11, double mc, double per_efficiency, double* __restrict n, double* __restrict fn, double* __restrict vf,
           double* __restrict arc, double* __restrict in_cut, double* __restrict hex, double* __restrict hm, double* __restrict kc, double* __restrict q, double* __restrict pc, double* __restrict motor,
           double* __restrict torque, double* __restrict mark) {
  using namespace formulas;
#pragma omp simd
  for (std::size_t i = 0; i < count; ++i) {
    const double rpm = spindle_speed_rpm(vc[i], d[i]), per_turn = fz[i] * z[i], feed = per_turn * rpm;
    const double cosine = engagement_cosine(ae[i], d[i]), angle = std::acos(cosine);
    const double chip = fz[i] * sine[i];
    const double mean = chip * mean_over_arc(cosine, angle);
    const double force = specific_force_n_mm2(kc11[i], mc, mean), rate = milling_rate_cm3_min(ap[i], ae[i], feed), power = power_kw(rate, force);
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

void StraightCuts::resize(std::size_t count) {
  for (auto* column : {&d_mm, &teeth, &vc_m_min, &fz_mm, &ap_mm, &ae_mm, &sin_kappa, &kc11_n_mm2}) column->resize(count);
}

void StraightFigures::resize(std::size_t count) {
  for (auto* column : {&n_rpm, &fn_mm, &vf_mm_min, &engagement_deg, &teeth_in_cut, &h_ex_mm, &h_m_mm, &kc_n_mm2, &q_cm3_min, &pc_kw, &motor_power_kw, &mc_nm, &feed_mark_mm}) column->resize(count);
}

void straight_figures(const StraightCuts& c, StraightFigures& f) {
  f.resize(c.size());
  constexpr std::size_t part = 512;
  for (std::size_t at = 0; at < c.size(); at += part)
    slice(std::min(part, c.size() - at), &c.d_mm[at], &c.teeth[at], &c.vc_m_min[at], &c.fz_mm[at], &c.ap_mm[at], &c.ae_mm[at], &c.sin_kappa[at], &c.kc11_n_mm2[at], c.mc, 1 / c.efficiency,
          &f.n_rpm[at], &f.fn_mm[at], &f.vf_mm_min[at], &f.engagement_deg[at], &f.teeth_in_cut[at], &f.h_ex_mm[at], &f.h_m_mm[at], &f.kc_n_mm2[at], &f.q_cm3_min[at], &f.pc_kw[at],
          &f.motor_power_kw[at], &f.mc_nm[at], &f.feed_mark_mm[at]);
}

}  // namespace pecorra
