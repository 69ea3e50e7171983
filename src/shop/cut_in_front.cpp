#include "shop/cut_in_front.h"

#include <QObject>

#include "core/quantity/print.h"
#include "shop/words.h"

namespace pecorra {

std::optional<double> CutInFront::value_of(std::string_view property, bool tried_too) const {
  const Cut& c = tried_too ? cut : as_it_comes;
  const CutResults& r = tried_too ? report.results : as_it_comes_results;
  if (property == "ap_mm") return c.ap_mm;
  if (property == "ae_mm") return c.ae_mm;
  if (property == "vc_m_min") return r.vc_m_min;
  if (property == "fz_mm") return r.fz_mm;
  if (property == "stickout_mm") return stickout_of(held.assembly);
  return std::nullopt;
}

bool CutInFront::is_rigid() const {
  return report.results.deflection_mm && !held.assembly.holding_stiffness_n_um && !held.assembly.tip_stiffness_n_um;
}

std::vector<FigureLine> figure_lines(const CutInFront& cut, UnitSystem units) {
  std::vector<FigureLine> lines;
  const bool milling = process_of(cut.operation) == Process::milling;
  for (const Property<CutResults>& p : properties<CutResults>()) {
    const auto value = number_of(cut.report.results, p);
    if (!value) continue;
    if (!milling && (p.key == "h_m_mm" || p.key == "h_ex_mm") && cut.operation == OperationKind::tap) continue;
    QString text = quantity_text(*value, p.quantity, units);
    if (p.key == "teeth_in_cut") text = text_of(plain(*value, 2));
    if (p.key == "engagement_deg" || p.key == "ramp_angle_deg") text = text_of(plain(*value, 1)) + QStringLiteral("°");
    // Thousandths of a millimetre matter here; anything finer is noise.
    if (!is_inch(units) &&
        (p.key == "h_ex_mm" || p.key == "h_m_mm" || p.key == "scallop_mm" || p.key == "feed_mark_mm"))
      text = *value < 0.0995 ? QObject::tr("%1 µm").arg(text_of(plain(*value * 1000, *value < 0.01 ? 2 : 1)))
                             : quantity_text(*value, p.quantity, units);
    if (is_inch(units) && (p.key == "h_ex_mm" || p.key == "h_m_mm" || p.key == "scallop_mm" ||
                           p.key == "feed_mark_mm" || p.key == "deflection_mm"))
      text = text_of(shown_thousandths(*value, units) + " " + thousandths_unit(units));
    if (p.key == "deflection_mm" && !is_inch(units))
      text = QObject::tr("%1 µm").arg(text_of(plain(*value * 1000, *value < 0.01 ? 1 : 0)));
    if ((p.key == "deflection_mm" || p.key == "natural_frequency_hz") && cut.is_rigid()) text += QStringLiteral(" ○");
    lines.push_back({label_text(p.symbol), label_text(p.label), text, std::string(p.key)});
  }
  return lines;
}

std::vector<FigureLine> life_lines(const CutInFront& cut, UnitSystem units) {
  std::vector<FigureLine> lines;
  if (!cut.life) return lines;
  const LifeFigures& l = *cut.life;
  const auto at = [&](double minutes, double vc) {
    return QObject::tr("vc %1, %2")
        .arg(quantity_text(vc, Quantity::cutting_speed, units), quantity_text(minutes, Quantity::duration, units));
  };
  lines.push_back(
      {QStringLiteral("T"), QObject::tr("Tool life"),
       quantity_text(l.life_min, Quantity::duration, units) + (l.taylor.usual_m ? QStringLiteral(" ○") : QString()),
       "life"});
  if (l.cheapest_life_min)
    lines.push_back({{}, QObject::tr("Cheapest at"), at(*l.cheapest_life_min, *l.cheapest_vc_m_min), "cheapest"});
  lines.push_back({{}, QObject::tr("Fastest at"), at(l.fastest_life_min, l.fastest_vc_m_min), "fastest"});
  return lines;
}

}  // namespace pecorra
