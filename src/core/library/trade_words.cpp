#include "core/library/trade_words.h"

#include <array>

namespace pecorra {
namespace {

struct KindWord {
  std::string_view word;  // as word_of() gives it
  CutterKind kind;
};
using enum CutterKind;
constexpr auto kind_words = std::to_array<KindWord>({
    {"endmill", end_mill}, {"squareendmill", end_mill}, {"flatendmill", end_mill}, {"flatmill", end_mill}, {"slotdrill", end_mill}, {"slotmill", end_mill}, {"slottingmill", end_mill}, {"squareend", end_mill}, {"routerbit", end_mill}, {"router", end_mill},
    {"compressionbit", end_mill}, {"upcut", end_mill}, {"downcut", end_mill}, {"schaftfräser", end_mill}, {"mill", end_mill},
    {"bullnose", bull_nose}, {"bullendmill", bull_nose}, {"bullnoseendmill", bull_nose}, {"cornerradiusendmill", bull_nose}, {"cornerradius", bull_nose}, {"radiusendmill", bull_nose}, {"radiusedendmill", bull_nose}, {"toroidal", bull_nose}, {"torus", bull_nose}, {"toricendmill", bull_nose},
    {"ball", ball}, {"ballnose", ball}, {"ballend", ball}, {"ballmill", ball}, {"ballnosed", ball}, {"ballendmill", ball}, {"ballnoseendmill", ball}, {"kugelfräser", ball},
    {"rougher", rougher}, {"roughing", rougher}, {"roughingendmill", rougher}, {"roughingmill", rougher}, {"corncob", rougher}, {"ripper", rougher}, {"hogmill", rougher}, {"schruppfräser", rougher},
    {"highfeed", high_feed}, {"highfeedmill", high_feed}, {"highfeedendmill", high_feed}, {"hfmill", high_feed}, {"feedmill", high_feed},
    {"facemill", face_mill}, {"facingmill", face_mill}, {"shellmill", face_mill}, {"facing", face_mill}, {"planfräser", face_mill}, {"shouldermill", face_mill},
    {"flycutter", fly_cutter}, {"flycut", fly_cutter}, {"spoilboard", fly_cutter}, {"surfacingbit", fly_cutter},
    {"tapered", tapered}, {"taperedendmill", tapered}, {"taperendmill", tapered}, {"taperedmill", tapered}, {"tapermill", tapered}, {"taperedball", tapered}, {"taperedballnose", tapered}, {"taperedballendmill", tapered},
    {"chamfer", chamfer_mill}, {"chamfermill", chamfer_mill}, {"chamferendmill", chamfer_mill}, {"chamfertool", chamfer_mill}, {"chamfercutter", chamfer_mill}, {"deburringmill", chamfer_mill}, {"fasenfräser", chamfer_mill},
    {"engraver", engraver}, {"engraving", engraver}, {"engravingtool", engraver}, {"engravingcutter", engraver}, {"vbit", engraver}, {"vcarve", engraver}, {"vcutter", engraver},
    {"cornerrounding", corner_rounding}, {"cornerroundingendmill", corner_rounding}, {"cornerrounder", corner_rounding}, {"radiuscutter", corner_rounding}, {"roundover", corner_rounding}, {"quarterround", corner_rounding},
    {"tslot", t_slot}, {"tslotcutter", t_slot}, {"keyseat", t_slot}, {"keyseatcutter", t_slot}, {"woodruff", t_slot}, {"woodruffcutter", t_slot}, {"slittingsaw", t_slot}, {"slotsaw", t_slot}, {"tslotmill", t_slot},
    {"dovetail", dovetail}, {"dovetailcutter", dovetail}, {"dovetailmill", dovetail},
    {"lollipop", undercut_ball}, {"lollipopmill", undercut_ball}, {"undercutball", undercut_ball}, {"undercuttingball", undercut_ball}, {"sphericalballmill", undercut_ball}, {"undercutballcutter", undercut_ball},
    {"barrel", barrel}, {"barrelmill", barrel}, {"barrelcutter", barrel}, {"circlesegment", barrel}, {"lensmill", barrel}, {"ovalmill", barrel},
    {"threadmill", thread_mill}, {"threadmilling", thread_mill}, {"threadmillingcutter", thread_mill}, {"gewindefräser", thread_mill},
    {"form", form}, {"formmill", form}, {"formcutter", form}, {"formtool", form}, {"profilecutter", form}, {"profiletool", form},
    {"drill", drill}, {"twistdrill", drill}, {"jobberdrill", drill}, {"jobber", drill}, {"stubdrill", drill}, {"screwmachinedrill", drill}, {"drillbit", drill}, {"spiralbohrer", drill}, {"bohrer", drill}, {"gundrill", drill}, {"spadedrill", drill}, {"insertdrill", drill}, {"indexabledrill", drill},
    {"spotdrill", spot_drill}, {"spottingdrill", spot_drill}, {"spot", spot_drill}, {"spotter", spot_drill}, {"ncspot", spot_drill}, {"ncspotdrill", spot_drill}, {"ncanbohrer", spot_drill},
    {"centredrill", centre_drill}, {"centerdrill", centre_drill}, {"centeringdrill", centre_drill}, {"centringdrill", centre_drill}, {"zentrierbohrer", centre_drill}, {"centrebit", centre_drill}, {"centerbit", centre_drill},
    {"stepdrill", step_drill}, {"steppeddrill", step_drill}, {"subland", step_drill}, {"sublanddrill", step_drill}, {"stufenbohrer", step_drill},
    {"countersink", countersink}, {"csink", countersink}, {"countersinkdrill", countersink}, {"kegelsenker", countersink}, {"countersunk", countersink},
    {"counterbore", counterbore}, {"cbore", counterbore}, {"spotface", counterbore}, {"flachsenker", counterbore},
    {"reamer", reamer}, {"ream", reamer}, {"chuckingreamer", reamer}, {"machinereamer", reamer}, {"reibahle", reamer},
    {"tap", tap}, {"machinetap", tap}, {"formtap", tap}, {"formingtap", tap}, {"rolltap", tap}, {"cuttap", tap}, {"cuttingtap", tap}, {"spiralpointtap", tap}, {"spiralflutetap", tap}, {"threadtap", tap}, {"threadformingtap", tap}, {"righthandtap", tap}, {"gewindebohrer", tap}, {"tapping", tap},
    {"boringbar", boring_bar}, {"boring", boring_bar}, {"boringhead", boring_bar}, {"boringtool", boring_bar},
    {"backboring", back_boring_bar}, {"backboringbar", back_boring_bar}, {"backborer", back_boring_bar},
    {"dragknife", drag_knife}, {"knife", drag_knife}, {"dragcutter", drag_knife},
    {"probe", probe}, {"touchprobe", probe}, {"edgefinder", probe}, {"tasterprobe", probe}, {"messtaster", probe}});

struct MaterialWord {
  std::string_view word;
  ToolMaterial material;
};
constexpr auto material_words = std::to_array<MaterialWord>({
    {"hss", ToolMaterial::hss}, {"highspeedsteel", ToolMaterial::hss}, {"m2", ToolMaterial::hss}, {"m7", ToolMaterial::hss},
    {"hssco", ToolMaterial::hss_co}, {"hsse", ToolMaterial::hss_co}, {"hssco5", ToolMaterial::hss_co}, {"hssco8", ToolMaterial::hss_co}, {"cobalt", ToolMaterial::hss_co}, {"m35", ToolMaterial::hss_co}, {"m42", ToolMaterial::hss_co},
    {"hsspm", ToolMaterial::hss_pm}, {"hssepm", ToolMaterial::hss_pm}, {"pm", ToolMaterial::hss_pm}, {"pmhss", ToolMaterial::hss_pm}, {"powdermetal", ToolMaterial::hss_pm}, {"pmm4", ToolMaterial::hss_pm},
    {"carbide", ToolMaterial::carbide}, {"solidcarbide", ToolMaterial::carbide}, {"sc", ToolMaterial::carbide}, {"vhm", ToolMaterial::carbide}, {"hm", ToolMaterial::carbide}, {"hw", ToolMaterial::carbide}, {"hc", ToolMaterial::carbide}, {"tungstencarbide", ToolMaterial::carbide}, {"wc", ToolMaterial::carbide}, {"hardmetal", ToolMaterial::carbide},
    {"carbideinsert", ToolMaterial::carbide_insert}, {"carbideinserts", ToolMaterial::carbide_insert}, {"insert", ToolMaterial::carbide_insert}, {"inserts", ToolMaterial::carbide_insert}, {"indexable", ToolMaterial::carbide_insert}, {"carbidetipped", ToolMaterial::carbide_insert},
    {"cermet", ToolMaterial::cermet}, {"ceramic", ToolMaterial::ceramic}, {"sialon", ToolMaterial::ceramic},
    {"cbn", ToolMaterial::cbn}, {"pcbn", ToolMaterial::cbn}, {"pcd", ToolMaterial::pcd}, {"diamond", ToolMaterial::pcd}, {"polycrystallinediamond", ToolMaterial::pcd}, {"dp", ToolMaterial::pcd}});

constexpr auto headings = std::to_array<Synonym>({
    {"type", "kind"}, {"tooltype", "kind"}, {"cuttertype", "kind"}, {"toolkind", "kind"}, {"style", "kind"}, {"toolstyle", "kind"}, {"geometry", "kind"}, {"typ", "kind"}, {"art", "kind"},
    {"description", "name"}, {"desc", "name"}, {"toolname", "name"}, {"tooldescription", "name"}, {"title", "name"}, {"bezeichnung", "name"}, {"label", "name"},
    {"d", "diameter_mm"}, {"dia", "diameter_mm"}, {"diam", "diameter_mm"}, {"d1", "diameter_mm"}, {"cutdia", "diameter_mm"}, {"cuttingdia", "diameter_mm"}, {"cuttingdiameter", "diameter_mm"}, {"cutterdiameter", "diameter_mm"}, {"cutterdia", "diameter_mm"}, {"tooldiameter", "diameter_mm"}, {"tooldia", "diameter_mm"}, {"milldiameter", "diameter_mm"}, {"durchmesser", "diameter_mm"}, {"size", "diameter_mm"},
    {"flute", "flutes"}, {"z", "flutes"}, {"teeth", "flutes"}, {"numberofflutes", "flutes"}, {"noofflutes", "flutes"}, {"numflutes", "flutes"}, {"flutecount", "flutes"}, {"fl", "flutes"}, {"edges", "flutes"}, {"zefp", "flutes"}, {"numberofteeth", "flutes"}, {"noofteeth", "flutes"}, {"zähne", "flutes"}, {"schneiden", "flutes"}, {"lips", "flutes"},
    {"loc", "flute_length_mm"}, {"lengthofcut", "flute_length_mm"}, {"cuttinglength", "flute_length_mm"}, {"cutlength", "flute_length_mm"}, {"flutelen", "flute_length_mm"}, {"apmx", "flute_length_mm"}, {"l2", "flute_length_mm"}, {"cuttingedgelength", "flute_length_mm"}, {"schneidenlänge", "flute_length_mm"}, {"maxdepth", "flute_length_mm"},
    {"length", "overall_length_mm"}, {"totallength", "overall_length_mm"}, {"overalllen", "overall_length_mm"}, {"l1", "overall_length_mm"}, {"l", "overall_length_mm"}, {"toollength", "overall_length_mm"}, {"gesamtlänge", "overall_length_mm"}, {"oallength", "overall_length_mm"},
    {"shank", "shank_diameter_mm"}, {"shankdia", "shank_diameter_mm"}, {"shankdiam", "shank_diameter_mm"}, {"dmm", "shank_diameter_mm"}, {"d2", "shank_diameter_mm"}, {"shanksize", "shank_diameter_mm"}, {"dcon", "shank_diameter_mm"}, {"schaft", "shank_diameter_mm"}, {"schaftdurchmesser", "shank_diameter_mm"},
    {"usablelength", "reach_mm"}, {"l3", "reach_mm"}, {"lux", "reach_mm"}, {"lh", "reach_mm"}, {"belowshank", "reach_mm"}, {"necklength", "reach_mm"}, {"reachlength", "reach_mm"}, {"maxreach", "reach_mm"}, {"lbs", "reach_mm"},
    {"neck", "neck_diameter_mm"}, {"neckdia", "neck_diameter_mm"}, {"d3", "neck_diameter_mm"}, {"neckdiam", "neck_diameter_mm"},
    {"radius", "corner_radius_mm"}, {"cr", "corner_radius_mm"}, {"r", "corner_radius_mm"}, {"rad", "corner_radius_mm"}, {"cornerrad", "corner_radius_mm"}, {"noseradius", "corner_radius_mm"}, {"tipradius", "corner_radius_mm"}, {"eckenradius", "corner_radius_mm"},
    {"helix", "helix_deg"}, {"spiralangle", "helix_deg"}, {"drall", "helix_deg"}, {"rake", "rake_deg"}, {"rakeangle", "rake_deg"},
    {"tipangle", "point_angle_deg"}, {"drillangle", "point_angle_deg"}, {"point", "point_angle_deg"}, {"includedangle", "point_angle_deg"}, {"angle", "point_angle_deg"}, {"spitzenwinkel", "point_angle_deg"},
    {"taper", "taper_half_angle_deg"}, {"taperangle", "taper_half_angle_deg"}, {"taperperside", "taper_half_angle_deg"}, {"angleperside", "taper_half_angle_deg"}, {"sideangle", "taper_half_angle_deg"},
    {"tipdia", "tip_diameter_mm"}, {"tip", "tip_diameter_mm"}, {"kappa", "cutting_edge_angle_deg"}, {"entryangle", "cutting_edge_angle_deg"}, {"approachangle", "cutting_edge_angle_deg"},
    {"material", "tool_material"}, {"toolmaterial", "tool_material"}, {"substrate", "tool_material"}, {"cuttermaterial", "tool_material"}, {"edgematerial", "tool_material"}, {"schneidstoff", "tool_material"},
    {"coat", "coating"}, {"finish", "coating"}, {"toolcoating", "coating"}, {"beschichtung", "coating"},
    {"manufacturer", "maker"}, {"brand", "maker"}, {"vendor", "maker"}, {"supplier", "maker"}, {"mfr", "maker"}, {"mfg", "maker"}, {"make", "maker"}, {"hersteller", "maker"}, {"company", "maker"},
    {"family", "series"}, {"productline", "series"}, {"line", "series"}, {"serie", "series"}, {"range", "series"},
    {"partnumber", "order_code"}, {"partno", "order_code"}, {"pn", "order_code"}, {"part", "order_code"}, {"catalog", "order_code"}, {"catalogue", "order_code"}, {"catalognumber", "order_code"}, {"cataloguenumber", "order_code"}, {"catalogno", "order_code"}, {"sku", "order_code"}, {"edp", "order_code"}, {"article", "order_code"}, {"articlenumber", "order_code"}, {"articleno", "order_code"}, {"itemno", "order_code"}, {"itemnumber", "order_code"}, {"ordernumber", "order_code"}, {"orderno", "order_code"}, {"code", "order_code"}, {"productid", "order_code"}, {"productcode", "order_code"}, {"artikelnummer", "order_code"}, {"artikel", "order_code"}, {"bestellnummer", "order_code"}, {"model", "order_code"},
    {"no", "number"}, {"nr", "number"}, {"num", "number"}, {"toolno", "number"}, {"toolnumber", "number"}, {"t", "number"}, {"tno", "number"}, {"tool", "number"}, {"toolid", "number"}, {"toolnr", "number"}, {"nummer", "number"}, {"librarynumber", "number"}, {"toolnum", "number"}, {"pos", "number"},
    {"note", "notes"}, {"comment", "notes"}, {"comments", "notes"}, {"remark", "notes"}, {"remarks", "notes"}, {"bemerkung", "notes"}, {"kommentar", "notes"},
    {"cost", "price"}, {"unitprice", "price"}, {"preis", "price"}, {"eur", "price"}, {"usd", "price"},
    {"qty", "in_stock"}, {"quantity", "in_stock"}, {"stock", "in_stock"}, {"onhand", "in_stock"}, {"count", "in_stock"}, {"pcs", "in_stock"}, {"counted", "in_stock"}, {"found", "in_stock"}, {"bestand", "in_stock"}, {"menge", "in_stock"},
    {"minstock", "wanted"}, {"minimum", "wanted"}, {"minqty", "wanted"}, {"par", "wanted"}, {"reorderpoint", "wanted"}, {"ordered", "on_order"},
    {"threadpitch", "pitch_mm"}, {"steigung", "pitch_mm"}, {"threadsize", "thread"}, {"gewinde", "thread"}, {"url", "link"}, {"web", "link"}, {"website", "link"}, {"productlink", "link"},
    {"units", "unit"}, {"measure", "unit"}, {"system", "unit"}, {"einheit", "unit"}, {"maxrpm", "max_rpm"}, {"rpmmax", "max_rpm"}, {"hand", "rotation"}, {"through", "through_coolant"}, {"throughcoolant", "through_coolant"}, {"coolantthrough", "through_coolant"}, {"rampangle", "max_ramp_deg"}, {"message", "message"}, {"tir", "runout_mm"},
    // Not properties of a cutter, see cutter_rows.
    {"uuid", "id"}, {"holdername", "holder"}, {"toolholder", "holder"}, {"chuck", "holder"}, {"halter", "holder"}, {"stickout", "stickout_mm"}, {"overhang", "stickout_mm"}, {"projection", "stickout_mm"}, {"lengthbelowholder", "stickout_mm"}, {"auskraglänge", "stickout_mm"},
    {"leadangle", "lead_angle_deg"}, {"psir", "lead_angle_deg"}, {"tpi", "threads_per_inch"}, {"threadsperinch", "threads_per_inch"}});

constexpr auto choice_words = std::to_array<ChoiceWord>({
    {"unit", "in", "inch"}, {"unit", "inches", "inch"}, {"unit", "imperial", "inch"}, {"unit", "us", "inch"}, {"unit", "i", "inch"}, {"unit", "metric", "mm"}, {"unit", "millimeter", "mm"}, {"unit", "millimetre", "mm"}, {"unit", "millimeters", "mm"}, {"unit", "m", "mm"},
    {"rotation", "right", "clockwise"}, {"rotation", "r", "clockwise"}, {"rotation", "rh", "clockwise"}, {"rotation", "cw", "clockwise"}, {"rotation", "m3", "clockwise"}, {"rotation", "left", "counter_clockwise"}, {"rotation", "l", "counter_clockwise"}, {"rotation", "lh", "counter_clockwise"}, {"rotation", "ccw", "counter_clockwise"}, {"rotation", "m4", "counter_clockwise"},
    {"shank_form", "cylindrical", "plain"}, {"shank_form", "straight", "plain"}, {"shank_form", "ha", "plain"}, {"shank_form", "weldon", "flat"}, {"shank_form", "hb", "flat"}, {"shank_form", "he", "inclined_flat"},
    {"tap_form", "cut", "cut"}, {"tap_form", "forming", "form"}, {"tap_form", "roll", "form"}, {"edge_direction", "upcut", "up"}, {"edge_direction", "downcut", "down"}});

}  // namespace

std::optional<CutterKind> kind_in_words(std::string_view text) {
  const std::string word = word_of(text);
  for (const KindWord& k : kind_words)
    if (k.word == word) return k.kind;
  // Short words stand in others ("spot" in "hot spot", "tap" in "tapered"): they count alone, or as a word of their own.
  const KindWord* best = nullptr;
  for (const KindWord& k : kind_words)
    if (k.word.size() >= 5 && word.find(k.word) != std::string::npos && (!best || k.word.size() > best->word.size())) best = &k;
  std::string_view rest = text;
  while (!rest.empty()) {
    const auto end = rest.find_first_of(" ,;/-()");
    const std::string one = word_of(rest.substr(0, end));
    for (const KindWord& k : kind_words)
      if (k.word == one && (!best || k.word.size() > best->word.size())) best = &k;
    if (end == std::string_view::npos) break;
    rest.remove_prefix(end + 1);
  }
  return best ? std::optional(best->kind) : std::nullopt;
}

std::optional<ToolMaterial> tool_material_in_words(std::string_view text) {
  const std::string word = word_of(text);
  for (const MaterialWord& m : material_words)
    if (m.word == word) return m.material;
  const MaterialWord* best = nullptr;
  for (const MaterialWord& m : material_words)
    if (m.word.size() >= 3 && word.find(m.word) != std::string::npos && (!best || m.word.size() > best->word.size())) best = &m;
  return best ? std::optional(best->material) : std::nullopt;
}

std::span<const Synonym> cutter_headings() { return headings; }
std::span<const ChoiceWord> cutter_choice_words() { return choice_words; }

}  // namespace pecorra
