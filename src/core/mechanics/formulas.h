// The closed formulas, one function each, with the source of each. Everything that calculates a cut calls these: one
// cut (compute_cut), hundreds of thousands (straight_figures), and the curves. Units stand in the names; nothing here
// fails, and arguments are taken to be positive.
#pragma once

#include <algorithm>
#include <cmath>
#include <numbers>

namespace pecorra::formulas {

// Always inlined: the many-cuts loop is compiled with other rules of arithmetic than the rest of the program.
#define PECORRA_FORMULA [[gnu::always_inline]] inline

// 1 (ISO 3002-3)
PECORRA_FORMULA double spindle_speed_rpm(double vc_m_min, double d_mm) {
  return 1000 * vc_m_min / (std::numbers::pi * d_mm);
}
PECORRA_FORMULA double cutting_speed_m_min(double n_rpm, double d_mm) { return std::numbers::pi * d_mm * n_rpm / 1000; }
// 4 (ISO 3002-3): arc of engagement of side milling, from its cosine 1 − 2·ae/D
PECORRA_FORMULA double engagement_cosine(double ae_mm, double d_mm) {
  return std::min(1.0, std::max(-1.0, 1 - 2 * ae_mm / d_mm));
}
// 5 (Martellotti 1941): thickest and mean chip over fz·sin κr
PECORRA_FORMULA double greatest_over_arc(double cosine) { return cosine > 0 ? std::sqrt(1 - cosine * cosine) : 1; }
PECORRA_FORMULA double mean_over_arc(double cosine, double arc_rad) {
  return arc_rad > 1e-9 ? (1 - cosine) / arc_rad : arc_rad / 2;
}
// 7 (Kienzle 1952): the factor on kc1.1 of rake and wear; kc from the mean chip, which counts no thinner than 0.001 mm
constexpr double thinnest_chip_mm = 0.001;
PECORRA_FORMULA double rake_factor(double rake_deg, double rake_ref_deg) { return 1 - (rake_deg - rake_ref_deg) / 100; }
PECORRA_FORMULA double specific_force_n_mm2(double kc11_n_mm2, double mc, double hm_mm) {
  return kc11_n_mm2 * std::exp(-mc * std::log(std::max(hm_mm, thinnest_chip_mm)));
}
// 8 (ISO 3002-3)
PECORRA_FORMULA double milling_rate_cm3_min(double ap_mm, double ae_mm, double vf_mm_min) {
  return ap_mm * ae_mm * vf_mm_min / 1000;
}
PECORRA_FORMULA double drilling_rate_cm3_min(double d_mm, double fn_mm, double vc_m_min) {
  return d_mm * fn_mm * vc_m_min / 4;
}
PECORRA_FORMULA double enlarging_rate_cm3_min(double d_mm, double ap_mm, double fn_mm, double vc_m_min) {
  return fn_mm * vc_m_min * ap_mm * (1 - ap_mm / d_mm);
}
// 9 (Kienzle): power from what is removed
PECORRA_FORMULA double power_kw(double rate_cm3_min, double kc_n_mm2) { return rate_cm3_min * kc_n_mm2 / 60e3; }
// 10 (mechanics)
PECORRA_FORMULA double torque_nm(double pc_kw, double n_rpm) { return 30000 * pc_kw / (std::numbers::pi * n_rpm); }
PECORRA_FORMULA double power_of_torque_kw(double mc_nm, double n_rpm) {
  return mc_nm * std::numbers::pi * n_rpm / 30000;
}
// 12 (common handbook form)
PECORRA_FORMULA double thrust_n(double kc_n_mm2, double radial_mm, double fn_mm, double sin_kappa) {
  return 0.5 * kc_n_mm2 * radial_mm * fn_mm * sin_kappa;
}
// 13 (common handbook form)
PECORRA_FORMULA double tapping_torque_nm(double pitch_mm, double d_mm, double kc11_n_mm2) {
  return pitch_mm * pitch_mm * d_mm * kc11_n_mm2 / 8000;
}
// 16 (geometry)
PECORRA_FORMULA double scallop_mm(double radius_mm, double ae_mm) {
  return radius_mm - std::sqrt(std::max(0.0, radius_mm * radius_mm - ae_mm * ae_mm / 4));
}
PECORRA_FORMULA double corner_mark_mm(double fz_mm, double corner_mm) { return fz_mm * fz_mm / (8 * corner_mm); }
PECORRA_FORMULA double side_mark_mm(double fz_mm, double d_mm) { return fz_mm * fz_mm / (4 * d_mm); }

#undef PECORRA_FORMULA

}  // namespace pecorra::formulas
