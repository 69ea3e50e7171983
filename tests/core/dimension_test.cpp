// The unit of every number is the one its property states: when lengths, times and forces are measured with other
// scales, each figure must change as its unit says.
#include <array>
#include <catch2/catch.hpp>
#include <cmath>

#include "core/mechanics/cut_model.h"
#include "core/quantity/print.h"

using namespace pecorra;

namespace {

// Exponents of length, time and force.
std::array<double, 3> dimension_of(Quantity q) {
  switch (q) {
    case Quantity::length:
    case Quantity::feed_per_tooth: return {1, 0, 0};
    case Quantity::cutting_speed:
    case Quantity::table_feed: return {1, -1, 0};
    case Quantity::spindle_speed:
    case Quantity::frequency: return {0, -1, 0};
    case Quantity::removal_rate: return {3, -1, 0};
    case Quantity::stress: return {-2, 0, 1};
    case Quantity::force: return {0, 0, 1};
    case Quantity::torque: return {1, 0, 1};
    case Quantity::power: return {1, -1, 1};
    case Quantity::duration: return {0, 1, 0};
    case Quantity::stiffness: return {-1, 0, 1};
    default: return {0, 0, 0};
  }
}

template <class T>
void scale(T& object, std::span<const Property<T>> list, double length, double time, double force) {
  for (const Property<T>& p : list) {
    const auto value = number_of(object, p);
    const auto d = dimension_of(p.quantity);
    if (value && (d[0] != 0 || d[1] != 0 || d[2] != 0))
      p.set(object, *value * std::pow(length, d[0]) * std::pow(time, d[1]) * std::pow(force, d[2]));
  }
}

}  // namespace

TEST_CASE("every figure of a cut scales as its unit says") {
  for (const CutterKind kind : {CutterKind::end_mill, CutterKind::bull_nose, CutterKind::ball, CutterKind::face_mill,
                                CutterKind::chamfer_mill, CutterKind::drill, CutterKind::step_drill, CutterKind::reamer,
                                CutterKind::boring_bar, CutterKind::tap, CutterKind::thread_mill, CutterKind::barrel}) {
    Cutter c = proposed_cutter(kind, 12);
    c.tool_material = ToolMaterial::carbide;
    if (!c.flutes) c.flutes = 2;
    Assembly held;
    held.stickout_mm = 50;
    held.tip_stiffness_n_um = 12;
    held.measured_frequency_hz = 1500;
    // Kienzle's exponent 0: his law is the one that knows a millimetre; and chips thick enough to be above its floor.
    WorkMaterial m;
    m.kc11_n_mm2 = 2000;
    m.mc = 0;
    Machine machine;
    machine.efficiency = 0.85;
    Cut cut;
    cut.operation = declaration(kind).usual_operation;
    cut.vc_m_min = 100;
    const bool hole = process_of(*cut.operation) != Process::milling;
    if (hole) cut.fn_mm = kind == CutterKind::tap ? c.pitch_mm : std::optional(0.3);
    else cut.fz_mm = 0.1;
    cut.ap_mm = hole ? 1.0 : 3;
    cut.ae_mm = 2;
    if (kind == CutterKind::thread_mill) cut.path_diameter_mm = 20, cut.bore_before_mm = 17, cut.ae_mm.reset();
    if (*cut.operation == OperationKind::tap || *cut.operation == OperationKind::drill) cut.ap_mm.reset();
    const CutResults before = compute_cut(c, held, m, machine, cut).results;
    const double length = 2, time = 3, force = 5;
    scale(c, properties<Cutter>(), length, time, force);
    scale(held, properties<Assembly>(), length, time, force);
    scale(m, properties<WorkMaterial>(), length, time, force);
    scale(cut, properties<Cut>(), length, time, force);
    const CutResults after = compute_cut(c, held, m, machine, cut).results;
    int told = 0;
    for (const Property<CutResults>& p : properties<CutResults>()) {
      const auto a = number_of(before, p), b = number_of(after, p);
      INFO(key_of(kind) << " " << p.key);
      REQUIRE(a.has_value() == b.has_value());
      if (!a) continue;
      const auto d = dimension_of(p.quantity);
      CHECK(*b == Approx(*a * std::pow(length, d[0]) * std::pow(time, d[1]) * std::pow(force, d[2])).epsilon(1e-6));
      ++told;
    }
    CHECK(told >= 6);
  }
}

TEST_CASE("the ending of a key is the unit that its quantity is kept in") {
  const auto ends = [](std::string_view key, Quantity q) {
    static constexpr std::pair<std::string_view, Quantity> endings[] = {{"_mm_min", Quantity::table_feed},
                                                                        {"_m_min", Quantity::cutting_speed},
                                                                        {"_cm3_min", Quantity::removal_rate},
                                                                        {"_n_mm2", Quantity::stress},
                                                                        {"_rpm", Quantity::spindle_speed},
                                                                        {"_kw", Quantity::power},
                                                                        {"_nm", Quantity::torque},
                                                                        {"_hz", Quantity::frequency},
                                                                        {"_deg", Quantity::angle},
                                                                        {"_n", Quantity::force},
                                                                        {"_mm", Quantity::length}};
    for (const auto& [ending, quantity] : endings)
      if (key.ends_with(ending))
        return q == quantity || (quantity == Quantity::length && q == Quantity::feed_per_tooth);
    return q == Quantity::number || q == Quantity::choice;
  };
  for (const Property<CutResults>& p : properties<CutResults>()) CHECK(ends(p.key, p.quantity));
  for (const Property<Cut>& p : properties<Cut>()) CHECK(ends(p.key, p.quantity));
}
