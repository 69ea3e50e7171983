// Milling with a straight edge, very many cuts at once: the closed formulas over columns of numbers. The same functions
// that compute_cut calls, in a loop that the compiler turns into vector instructions.
#pragma once

#include <array>
#include <cstddef>
#include <functional>
#include <span>
#include <vector>

namespace pecorra {

// One column per quantity, all of one length.
class StraightCuts {
 public:
  explicit StraightCuts(std::size_t count);
  StraightCuts(const StraightCuts&) = delete;
  StraightCuts& operator=(const StraightCuts&) = delete;
  std::span<double> d_mm, teeth, vc_m_min, fz_mm, ap_mm, ae_mm, sin_kappa;
  std::span<double> kc11_n_mm2;   // with rake and wear in it
  double mc = 0, efficiency = 1;  // one work material, one machine
  std::size_t size() const { return d_mm.size(); }

 private:
  std::vector<double> store_;
};
// The figures of a batch of cuts, small enough for the L1 cache.
struct StraightFigures {
  static constexpr std::size_t most = 256;
  // A cache line more than is used: columns a power of two apart would push each other out.
  using Column = std::array<double, most + 8>;
  alignas(64) Column n_rpm, fn_mm, vf_mm_min, engagement_deg, teeth_in_cut, h_ex_mm, h_m_mm, kc_n_mm2, q_cm3_min, pc_kw,
      motor_power_kw, mc_nm, feed_mark_mm;
};
// Calls visit(first, count, figures) for one stretch of cuts after the other.
void straight_figures(
    const StraightCuts& cuts,
    const std::function<void(std::size_t first, std::size_t count, const StraightFigures& figures)>& visit);

}  // namespace pecorra
