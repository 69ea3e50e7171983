#include "core/mechanics/formula_sources.h"

#include <charconv>

#include "core/mechanics/cut.h"

namespace pecorra {
namespace {

constexpr FormulaSource list[] = {
    {1, "n = 1000·vc / (π·Deff)", "ISO 3002-3; Machinery's Handbook"},
    {2, "vf = n·z·fz; drilling n·fn; tapping n·P", "ISO 3002-3"},
    {3, "Deff from the outline within the depth of cut", "geometry"},
    {4, "φ = arccos(1 − 2·ae/D); teeth in cut z·φ/2π", "ISO 3002-3"},
    {5, "hex = fz·sin κ·sin φ; hm = fz·sin κ·(1 − cos φ)/φ; round edges integrated", "Martellotti 1941/45"},
    {7, "kc = kc1.1·hm^−mc·(1 − (γ − γref)/100)·wear; h at least 0.001 mm", "Kienzle 1952; König/Essel 1973"},
    {8, "milling Q = ap·ae·vf/1000; drilling D·fn·vc/4; enlarging fn·vc·ap·(1 − ap/D)", "ISO 3002-3"},
    {9, "Pc = Q·kc/60 000; motor power Pc/η", "Kienzle"},
    {10, "Mc = 30 000·Pc/(π·n); tapping P²·D·kc1.1/8000", "mechanics; common handbook form"},
    {11, "dFt = kc(h)·h·db over each tooth and turn, outwards 0.3 of it", "Altintas; Kienzle"},
    {12, "thrust 0.5·kc·(D/2)·fn·sin κ, zone by zone", "common handbook form"},
    {14, "inside vf·(Dm − D)/Dm, outside vf·(Dm + D)/Dm; angle atan(P/(π·(Dm ∓ D)))", "geometry"},
    {16, "scallop R − √(R² − ae²/4); mark fz²/(8·r), side fz²/(4·D)", "geometry"},
    {17, "stepped cantilever under the peak force at half depth, fluted part 0.8·D", "beam theory; Kops & Vo 1990"},
    {18, "first bending mode of the same beam", "beam theory"},
    {19, "zero-order stability lobes of that mode", "Altintas & Budak 1995"},
    {20, "vc·T^m = C, with exponents of feed and depth where stated", "Taylor 1907; ISO 8688-2"},
    {21, "cheapest T = (1/m − 1)·(t + cost/rate); fastest (1/m − 1)·t", "Gilbert 1950"},
    {23, "σ = 32·M/(π·d³) along the beam, against strength/safety", "beam theory"},
    {24, "sharp by the lower rule to worn by the higher; judged halfway", "Kienzle; unit power: Machinery's Handbook"}};

}  // namespace

std::span<const FormulaSource> formula_sources() { return list; }

int formula_of(std::string_view key) {
  const Property<CutResults>* property = find_property<CutResults>(key);
  constexpr std::string_view before = "Formula ";
  int number = 0;
  if (property && property->help.starts_with(before))
    std::from_chars(property->help.data() + before.size(), property->help.data() + property->help.size(), number);
  return number;
}

}  // namespace pecorra
