// Pieces of JSON Schemas, derived from the declarations.
#pragma once

#include <cmath>

#include "formats/json/objects.h"

namespace pecorra::schema {

inline Json reference(const char* name) { return {{"$ref", std::string("#/$defs/") + name}}; }
inline Json list_of(Json items) { return {{"type", "array"}, {"items", std::move(items)}}; }
inline Json numbers(int least, int most) {
  return {{"type", "array"}, {"items", {{"type", "number"}}}, {"minItems", least}, {"maxItems", most}};
}
inline Json texts_by_key() { return {{"type", "object"}, {"additionalProperties", {{"type", "string"}}}}; }

// `ranged`: with the range that is kept to in reading.
inline Json value_schema(const PropertyFacts& p, bool ranged) {
  Json out;
  switch (p.quantity) {
    case Quantity::text: out["type"] = "string"; break;
    case Quantity::id: return reference("uuid");
    case Quantity::choice:
      for (const Choice& c : p.choices) out["enum"].push_back(c.key);
      break;
    case Quantity::flag: out["type"] = "boolean"; break;
    case Quantity::count: out["type"] = "integer"; break;
    default: out["type"] = "number";
  }
  if (ranged && p.quantity != Quantity::flag && p.quantity != Quantity::text && p.quantity != Quantity::choice) {
    if (std::isfinite(p.low)) out[p.low_open ? "exclusiveMinimum" : "minimum"] = p.low;
    if (std::isfinite(p.high)) out["maximum"] = p.high;
  }
  std::string about(p.label);
  if (!p.symbol.empty()) about += " (" + std::string(p.symbol) + ")";
  if (!p.help.empty()) about += ". " + std::string(p.help);
  out["description"] = about;
  return out;
}

}  // namespace pecorra::schema
