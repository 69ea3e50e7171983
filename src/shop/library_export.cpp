#include <QDateTime>
#include <QObject>
#include <algorithm>
#include <unordered_set>

#include "core/drawing/cutter_sheet.h"
#include "formats/dxf/dxf_writer.h"
#include "formats/mtconnect/assets.h"
#include "formats/sheet/sheet_file.h"
#include "formats/svg/sheet_svg.h"
#include "shop/library_file.h"
#include "shop/words.h"
#include "store/write_file.h"

namespace pecorra {
namespace {

// One below the other, each in its holder, as drawn in the window.
std::string svg_of(const ShopState& state, const std::vector<const Cutter*>& cutters) {
  constexpr double width = 900, height = 620;
  std::string sheets;
  double y = 0;
  for (const Cutter* c : cutters) {
    const Profile profile = silhouette(*c);
    if (profile.empty()) continue;
    const Assembly* a = state.assembly_of(c->id);
    SheetWish wish;
    wish.width = width;
    wish.height = height;
    wish.units = c->unit;
    wish.holder = a ? state.holders.find(a->holder) : nullptr;
    wish.stickout_mm = a ? stickout_of(*a) : std::nullopt;
    std::string svg = svg_of_sheet(lay_out(*c, profile, wish), wish);
    if (cutters.size() == 1) return svg;
    svg.insert(4, " y=\"" + std::to_string(y) + "\"");
    sheets += svg;
    y += height;
  }
  return "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"" + std::to_string(width) + "\" height=\"" +
         std::to_string(y) + "\">\n" + sheets + "</svg>\n";
}

std::string dxf_of(const std::vector<const Cutter*>& cutters) {
  std::vector<PlacedProfile> placed;
  double x = 0;
  for (const Cutter* c : cutters) {
    Profile profile = silhouette(*c);
    if (profile.empty()) continue;
    const double half = largest_radius_mm(profile, std::numeric_limits<double>::infinity());
    placed.push_back({std::move(profile), placed.empty() ? 0 : x + half, std::to_string(c->number) + " " + c->name});
    x = placed.back().x_mm + half + 10;
  }
  return dxf_of_profiles(placed);
}

CutterSheetWish sheet_wish(const ShopState& state, bool words, UnitSystem units) {
  CutterSheetWish wish;
  wish.words = words;
  wish.units = units;
  wish.text_of_id = [&state](std::string_view key, const Id& id) -> std::string {
    if (key == "library") {
      const Library* library = state.libraries.find(id);
      return library ? library->name : std::string();
    }
    const Insert* insert = state.inserts.find(id);
    return insert ? insert->name : std::string();
  };
  wish.extra = [&state](const Cutter& c) -> CutterLineExtra {
    const Assembly* a = state.assembly_of(c.id);
    const Holder* holder = a ? state.holders.find(a->holder) : nullptr;
    return {holder ? holder->name : std::string(), a ? a->stickout_mm : std::nullopt};
  };
  return wish;
}

std::string mtconnect_of(const ShopState& state, const LibraryFile& file) {
  std::vector<AssetExtra> extras;
  for (const Cutter& c : file.cutters) {
    const Assembly* a = state.assembly_of(c.id);
    if (!a) continue;
    const Holder* holder = state.holders.find(a->holder);
    AssetExtra extra{c.id, holder ? holder->name : std::string(), stickout_of(*a),
                     holder ? gauge_length_mm(*holder, *a) : std::nullopt,
                     holder ? weight_kg(c, *holder, *a) : std::nullopt};
    extras.push_back(std::move(extra));
  }
  return mtconnect_text(file, extras, QDateTime::currentDateTimeUtc().toString(Qt::ISODate).toStdString());
}

// What these cutters have that the format cannot hold.
QStringList left_out_of(const ShopState& state, const std::vector<const Cutter*>& cutters, CutterFormat format) {
  if (format == CutterFormat::json) return {};
  std::size_t recipes = 0, more_assemblies = 0, without_outline = 0;
  for (const Cutter* c : cutters) {
    recipes += state.recipes.of_cutter(c->id).size();
    const std::size_t assemblies = state.assemblies.of_cutter(c->id).size();
    more_assemblies += assemblies > 1 ? assemblies - 1 : 0;
    without_outline += silhouette(*c).empty();
  }
  QStringList out;
  if (format == CutterFormat::dxf || format == CutterFormat::svg) {
    out << QObject::tr("anything besides the outline");
    if (without_outline > 0) out << QObject::tr("%1 cutters whose sizes do not form an outline").arg(without_outline);
    return out;
  }
  if (recipes > 0) out << QObject::tr("%1 recipes").arg(recipes);
  if (more_assemblies > 0) out << QObject::tr("%1 assemblies besides the usual ones").arg(more_assemblies);
  if (std::any_of(cutters.begin(), cutters.end(), [&](const Cutter* c) { return state.assembly_of(c->id); }))
    out << QObject::tr("collets, measured values and sizes of holders");
  if (format == CutterFormat::mtconnect &&
      std::any_of(cutters.begin(), cutters.end(), [](const Cutter* c) { return c->number < 1; }))
    out << QObject::tr("numbers below 1");
  return out;
}

}  // namespace

LibraryFile library_file(const ShopState& state, const Library* library, const std::vector<const Cutter*>& cutters) {
  LibraryFile file;
  file.shop = state.shop_settings().name;
  if (library) file.library = *library;
  std::unordered_set<Id> needed;
  std::unordered_set<std::string> coatings, materials;
  for (const Cutter* c : cutters) {
    file.cutters.push_back(*c);
    needed.insert(c->insert);
    coatings.insert(c->coating);
    materials.insert(c->own_material);
    for (const std::size_t i : state.assemblies.of_cutter(c->id)) {
      file.assemblies.push_back(state.assemblies[i]);
      needed.insert(state.assemblies[i].holder);
      needed.insert(state.assemblies[i].collet);
    }
    for (const std::size_t i : state.recipes.of_cutter(c->id)) {
      file.recipes.push_back(state.recipes[i]);
      needed.insert(state.recipes[i].material);
    }
  }
  const auto pick = [&](auto& into, const auto& all) {
    for (const auto& part : all)
      if (needed.contains(part.id)) into.push_back(part);
  };
  pick(file.holders, state.holders);
  pick(file.collets, state.collets);
  pick(file.inserts, state.inserts);
  pick(file.materials, state.materials);
  for (const EdgeMaterial& m : state.edge_materials)
    if ((m.part == EdgePart::coating ? coatings : materials).contains(m.name)) file.edge_materials.push_back(m);
  return file;
}

Sheet stock_sheet(const ShopState& state, const std::vector<const Cutter*>& cutters, UnitSystem units,
                  std::size_t empty_lines) {
  CutterSheetWish wish = sheet_wish(state, true, units);
  wish.extra = {};
  wish.keys = {"number",
               "name",
               "kind",
               "diameter_mm",
               "flutes",
               "flute_length_mm",
               "overall_length_mm",
               "corner_radius_mm",
               "tool_material",
               "maker",
               "order_code",
               "in_stock",
               "notes"};
  Sheet sheet = cutter_sheet(cutters, wish);
  sheet.lines[0].push_back("id");
  for (std::size_t i = 0; i < cutters.size(); ++i) sheet.lines[i + 1].push_back(cutters[i]->id.text());
  sheet.lines.resize(sheet.lines.size() + empty_lines, std::vector<std::string>(sheet.lines[0].size()));
  return sheet;
}

Written write_cutter_file(const ShopState& state, const Library* library, const std::vector<const Cutter*>& cutters,
                          CutterFormat format, const QString& file, UnitSystem units) {
  Written out;
  out.left_out = left_out_of(state, cutters, format);
  std::string text;
  switch (format) {
    case CutterFormat::json: text = library_text(library_file(state, library, cutters)); break;
    case CutterFormat::csv: text = csv_text(cutter_sheet(cutters, sheet_wish(state, false, UnitSystem::metric))); break;
    case CutterFormat::xlsx: {
      Sheet sheet = cutter_sheet(cutters, sheet_wish(state, true, units));
      sheet.name = library ? library->name : std::string();
      auto workbook = xlsx_of(sheet);
      if (!workbook) {
        out.fault = reader_text(workbook.error().text);
        return out;
      }
      text = std::move(*workbook);
      break;
    }
    case CutterFormat::mtconnect: text = mtconnect_of(state, library_file(state, library, cutters)); break;
    case CutterFormat::dxf: text = dxf_of(cutters); break;
    case CutterFormat::svg: text = svg_of(state, cutters); break;
  }
  out.fault = write_file(file, QByteArray::fromStdString(text));
  return out;
}

}  // namespace pecorra
