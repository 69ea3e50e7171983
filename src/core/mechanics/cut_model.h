// A cutter in its holder, a work material and a machine, ready for any number of cuts. What does not change from cut to
// cut is worked out once, when it is first needed.
#pragma once

#include "core/mechanics/beam.h"
#include "core/mechanics/chip.h"
#include "core/mechanics/cut.h"
#include "core/mechanics/forces.h"

namespace pecorra {

// How much is worked out: the closed formulas; also forces and deflection, which limits need; also the natural
// frequency.
enum class Extent { closed, limits, all };

class CutModel {
 public:
  // All four must outlive it.
  CutModel(const Cutter& cutter, const Assembly& assembly, const WorkMaterial& material, const Machine& machine);
  // Anything that cannot be told is absent; nothing is NaN or infinite.
  CutReport at(const Cut& cut, Extent extent = Extent::all) const;

  const Cutter& cutter() const { return cutter_; }
  const Assembly& assembly() const { return assembly_; }
  const WorkMaterial& material() const { return material_; }
  const Machine& machine() const { return machine_; }
  const std::optional<EdgeShape>& edge() const { return edge_; }
  // Nothing while stick-out or tool material are missing.
  const std::optional<TipDynamics>& tip() const;
  // Zeros without a tip.
  const BeamMode& mode() const;
  // What the force model takes for a milling cut; nothing where the cut does not say enough.
  std::optional<ForceInput> forces_of(const Cut& cut, const std::optional<double>& fz_mm,
                                      const std::optional<double>& hm_mm) const;
  // kc1.1 with the cutter's rake and the wear (formula 7).
  std::optional<double> kc11_of(const Cut& cut) const;
  // The arc a milling cut engages, as climb or conventional milling goes through it.
  std::optional<Engagement> arc_of(const Cut& cut) const;

 private:
  const Cutter& cutter_;
  const Assembly& assembly_;
  const WorkMaterial& material_;
  const Machine& machine_;
  std::optional<EdgeShape> edge_;
  mutable std::optional<TipDynamics> tip_;
  mutable BeamMode mode_;
  mutable bool tip_known_ = false, mode_known_ = false;
};

// What is done where no operation is named: by the kind of cutter.
Process process_for(const Cutter& cutter, const Cut& cut);
// Width of cut on a circle, from the bore or boss before (formula 14); nothing without both diameters.
std::optional<double> circular_width_mm(double cutter_mm, const Cut& cut);
// In an inner corner the arc of engagement grows by the angle the path turns there, at most to a full slot.
double width_in_corner_mm(double cutter_mm, double ae_mm, double corner_rad);
// Its effective width: stated, of the circle, or the whole diameter of a slot.
std::optional<double> width_of(const Cutter& cutter, const Cut& cut);

// The limits of a cut, worst first, and what is said about those that are exceeded.
void judge(const CutModel& model, const Cut& cut, Process process, CutReport& report);

}  // namespace pecorra
