// A cutter in its holder, a work material and a machine, ready for any number of cuts. What is common to all cuts is
// computed once, on first use.
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
  // Unknown results are absent; nothing is NaN or infinite.
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
  // The force model's input for a milling cut; nothing if too little is known.
  std::optional<ForceInput> forces_of(const Cut& cut, const std::optional<double>& fz_mm,
                                      const std::optional<double>& hm_mm) const;
  // The specific force at a mean chip thickness with the cutter's rake: formula 24 where the cut states how much a worn
  // edge takes, else formula 7. Nothing if the material states no force.
  std::optional<ForcePoint> force_at(const Cut& cut, double hm_mm) const;
  // The arc a milling cut engages, as climb or conventional milling goes through it.
  std::optional<Engagement> arc_of(const Cut& cut) const;

 private:
  const Cutter& cutter_;
  const Assembly& assembly_;
  const WorkMaterial& material_;
  const Machine& machine_;
  ForceLaw law_;
  std::optional<EdgeShape> edge_;
  mutable std::optional<TipDynamics> tip_;
  mutable BeamMode mode_;
  mutable bool tip_known_ = false, mode_known_ = false;
};

// Angle between edge and axis, which counts when fed along the axis; nothing if a cone states none.
std::optional<double> axial_angle_deg(const Cutter& cutter);
// The process if no operation is named, from the kind of cutter.
Process process_for(const Cutter& cutter, const Cut& cut);
// Width of cut on a circle, from the bore or boss before (formula 14); nothing without both diameters.
std::optional<double> circular_width_mm(double cutter_mm, const Cut& cut);
// In an inner corner the arc of engagement grows by the angle the path turns there, at most to a full slot.
double width_in_corner_mm(double cutter_mm, double ae_mm, double corner_rad);
// Its effective width: stated, of the circle, or the whole diameter of a slot.
std::optional<double> width_of(const Cutter& cutter, const Cut& cut);

// The limits of a cut, worst first, and messages about those that are exceeded.
void judge(const CutModel& model, const Cut& cut, Process process, CutReport& report);

}  // namespace pecorra
