// Milling with a straight edge, very many cuts at once: the closed formulas over columns of numbers. The same functions that
// compute_cut calls, in a loop that the compiler turns into vector instructions.
#pragma once

#include <cstddef>
#include <vector>

namespace pecorra {

// One column per quantity, all of one length.
struct StraightCuts {
  std::vector<double> d_mm, teeth, vc_m_min, fz_mm, ap_mm, ae_mm, sin_kappa;
  std::vector<double> kc11_n_mm2;  // with rake and wear in it
  double mc = 0, efficiency = 1;   // one work material, one machine
  void resize(std::size_t count);
  std::size_t size() const { return d_mm.size(); }
};
struct StraightFigures {
  std::vector<double> n_rpm, fn_mm, vf_mm_min, engagement_deg, teeth_in_cut, h_ex_mm, h_m_mm, kc_n_mm2, q_cm3_min, pc_kw, motor_power_kw, mc_nm, feed_mark_mm;
  void resize(std::size_t count);
};
// Sizes the figures to the cuts.
void straight_figures(const StraightCuts& cuts, StraightFigures& figures);

}  // namespace pecorra
