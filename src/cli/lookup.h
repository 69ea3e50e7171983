// Finding things in a shop by what was typed on the command line; what is not found is a fault that names the nearest.
#pragma once

#include <cmath>
#include <cstdlib>
#include <iostream>

#include "cli/commands.h"
#include "shop/shop.h"

namespace pecorra::cli {

// Only so many faults are listed; the rest are counted.
constexpr std::size_t most_listed = 1000;

inline int say(const StoreFault& fault) {
  std::cerr << "shop: " << fault.sentence().toStdString() << "\n";
  switch (fault.trouble) {
    case StoreTrouble::missing:
    case StoreTrouble::not_a_shop: return wrong_input;
    default: return failed;
  }
}

// A figure, where there is one.
inline void put(Json& json, const char* key, double value) {
  if (!std::isnan(value)) json[key] = value;
}

template <class T>
const T* find_named(const Collection<T>& all, const std::string& name, const char* key, FormatFaults& faults) {
  if (const T* found = all.named(name)) return found;
  std::vector<std::string> names;
  for (const T& item : all) names.push_back(item.name);
  const std::string near = nearest_text(name, names);
  std::string text = "“" + name + "” is not in this shop; ";
  if (near.empty()) {
    text += "there are:";
    for (std::size_t i = 0; i < names.size() && i < 12; ++i) text += (i ? ", " : " ") + names[i];
  } else {
    text += "the nearest is “" + near + "”";
  }
  faults.push_back({key, text});
  return nullptr;
}

inline const Cutter* find_cutter(const ShopState& state, const Library* library, int number, const char* key,
                                 FormatFaults& faults) {
  if (!library) return nullptr;
  if (const Cutter* found = state.cutter_numbered(library->id, number)) return found;
  int nearest = 0;
  for (const Cutter& c : state.cutters)
    if (c.library == library->id && (nearest == 0 || std::abs(c.number - number) < std::abs(nearest - number)))
      nearest = c.number;
  faults.push_back({key, "there is no cutter " + std::to_string(number) + " in “" + library->name + "”" +
                             (nearest ? "; the nearest is " + std::to_string(nearest) : "; it is empty")});
  return nullptr;
}

template <class E>
std::optional<E> find_choice(const std::string& text, const char* key, FormatFaults& faults) {
  if (const auto found = choice_from_key<E>(text)) return found;
  std::vector<std::string> keys;
  for (const Choice& c : choices_of<E>()) keys.emplace_back(c.key);
  const std::string near = nearest_text(text, keys);
  faults.push_back(
      {key, "“" + text + "” is not known" + (near.empty() ? std::string() : "; the nearest is “" + near + "”")});
  return std::nullopt;
}

}  // namespace pecorra::cli
