// The working state of a resolution, private to the resolver's files.
#pragma once

#include <array>

#include "core/conditions/reporters.h"
#include "core/conditions/resolver.h"
#include "core/tables/starter_rules.h"

namespace pecorra {

struct Resolver::Draft {
  const CutterKey& c;
  const MaterialKey& m;
  const MachineKey& machine;
  const Query& q;
  Process process;
  Resolution& out;
  Conditions& v;
  double speed = not_given, speed_low = not_given, speed_high = not_given;
  double load = not_given, load_high = not_given;  // the feed as the row states it
  double fz = not_given;
  double plunge = not_given, ramp = not_given;  // factors; NaN: the machine's rule
  const ConditionRow* details = nullptr;        // detail feeds of its own
  FeedKind feed_kind = FeedKind::per_tooth;
  bool starter = false;     // the values come from a starter table or rule
  double depth_factor = 1;  // on the depth of starter values
  double path_factor = 1;   // feed of the centre over feed of the edge, on a circular path
  // Written out because the compiler would otherwise zero all of it first.
  Draft(const CutterKey& cutter, const MaterialKey& material, const MachineKey& on, const Query& query, Process p,
        Resolution& result)
      : c(cutter), m(material), machine(on), q(query), process(p), out(result), v(result.conditions) {}
  bool milling() const { return process == Process::milling; }

  // Chip thickness over feed per tooth at a depth and width of cut. The last answer is kept, and that at full width:
  // round edges and outlines are integrated for it, and several steps ask.
  [[gnu::noinline]] ChipRatio chip(double ap_mm, double ae_mm) const {
    const double d = c.diameter_mm;
    KnownChip& known = known_chips_[ae_mm < d ? 0 : 1];
    if (ap_mm != known.ap_mm || ae_mm != known.ae_mm) {
      const bool facing = q.operation == OperationKind::face;
      const Engagement e = facing ? face_engagement(ae_mm, 0, d) : side_engagement(ae_mm, d);
      known = {ap_mm, ae_mm, chip_ratio(c.edge, e, ap_mm, ae_mm, facing)};
    }
    return known.ratio;
  }

 private:
  struct KnownChip {
    double ap_mm = not_given, ae_mm = not_given;
    ChipRatio ratio;
  };
  mutable std::array<KnownChip, 2> known_chips_;
};

// The wanted coolant if machine, material and edge allow it; otherwise the next best.
inline Coolant coolant_on(const MachineKey& machine, Coolant wanted, CoolantSet borne) {
  const auto has = [&](Coolant c) { return (machine.coolants & borne & bit(c)) != 0; };
  if (wanted == Coolant::off || has(wanted)) return wanted;
  if (wanted == Coolant::air) return Coolant::off;
  for (const Coolant other : {Coolant::flood, Coolant::mist, Coolant::mist_oil, Coolant::air})
    if (has(other)) return other;
  return Coolant::off;
}

template <class Reporter>
void Resolver::take_coolant(Draft& w, Coolant wanted, bool of_starter, Reporter& report) {
  if (w.q.own_coolant) wanted = *w.q.own_coolant, of_starter = false;
  const CoolantSet borne = w.m.coolants & w.c.coolants;
  // What is chosen by hand holds.
  const bool led = w.q.own_coolant || (w.c.led & bit(wanted)) != 0;
  w.v.coolant = coolant_on(w.machine, wanted, led ? borne : static_cast<CoolantSet>(borne & w.c.led));
  if ((borne & bit(wanted)) == 0) {
    w.out.coolant_refused = !of_starter;
    if constexpr (Reporter::on)
      report.add("coolant_hazard",
                 {{"refused", w.out.coolant_refused ? 1.0 : 0.0},
                  {"wanted", std::string(label_of(wanted))},
                  {"used", std::string(label_of(w.v.coolant))},
                  {"hazard", (w.m.coolants & bit(wanted)) == 0 ? std::string(pecorra::key_of(w.m.hazard))
                                                               : std::string("ceramic")}});
  } else if constexpr (Reporter::on) {
    if (wanted != w.v.coolant)
      report.add(led ? "coolant" : "coolant_no_channels",
                 {{"wanted", std::string(label_of(wanted))}, {"used", std::string(label_of(w.v.coolant))}});
  }
}

}  // namespace pecorra
