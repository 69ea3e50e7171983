// A made shop with very many cutters in several libraries, the same every time. Makers and codes are invented.
#pragma once

#include <cmath>
#include <random>

#include "core/cutter/kinds.h"
#include "core/cutter/name_pattern.h"
#include "shop/demo.h"

namespace pecorra {

inline std::vector<Cutter> made_cutters(std::size_t count, const std::vector<Id>& libraries) {
  static constexpr const char* makers[] = {"Heddlemoor",   "Tansy & Rudd", "Ferrow",      "Oxbarrow",
                                           "Quillon Edge", "Wrenhalt",     "Marl & Sons", "Ketterby"};
  static constexpr const char* series[] = {"Swift", "Plain", "Keen", "Fell", "Long Reach", "Bright", "Stout"};
  static constexpr const char* coatings[] = {"", "AlTiN", "TiAlN", "DLC", "ZrN", "TiCN"};
  static constexpr CutterKind kinds[] = {CutterKind::end_mill,  CutterKind::end_mill,     CutterKind::ball,
                                         CutterKind::bull_nose, CutterKind::drill,        CutterKind::drill,
                                         CutterKind::reamer,    CutterKind::chamfer_mill, CutterKind::rougher,
                                         CutterKind::spot_drill};
  std::mt19937 random(20);
  std::vector<Cutter> cutters;
  cutters.reserve(count);
  std::vector<int> numbers(libraries.size());
  for (std::size_t i = 0; i < count; ++i) {
    const double diameter = std::round((0.5 + static_cast<double>(random() % 400) * 0.0625) * 1000) / 1000;
    Cutter c = proposed_cutter(kinds[random() % std::size(kinds)], diameter);
    const std::size_t library = i % libraries.size();
    c.id = Id::from_name("made cutter/" + std::to_string(i));
    c.library = libraries[library];
    c.number = ++numbers[library];
    c.tool_material = random() % 4 ? ToolMaterial::carbide : ToolMaterial::hss_co;
    c.maker = makers[random() % std::size(makers)];
    c.series = series[random() % std::size(series)];
    c.coating = coatings[random() % std::size(coatings)];
    c.order_code = c.maker.substr(0, 2) + "-" + std::to_string(100000 + i);
    c.price = 5 + static_cast<double>(random() % 9000) / 100;
    if (random() % 3 == 0) c.in_stock = static_cast<int>(random() % 12);
    if (random() % 10 == 0)
      c.notes =
          random() % 2 ? "kept in drawer " + std::to_string(random() % 60) : "for the second shift, not for cast iron";
    c.name = suggested_name(c);
    cutters.push_back(std::move(c));
  }
  return cutters;
}

inline ShopState made_shop(std::size_t count) {
  ShopState state = new_shop_state("Made shop");
  std::vector<Id> libraries;
  for (const char* name : {"Main store", "Second store", "Loan", "Retired and spare", "Router room"}) {
    Library l;
    l.id = Id::from_name(std::string("made library/") + name);
    l.name = name;
    state.libraries.put(l);
    libraries.push_back(l.id);
  }
  state.cutters.reserve(count);
  for (Cutter& c : made_cutters(count, libraries)) state.cutters.put(std::move(c));
  return state;
}

}  // namespace pecorra
