// Objects of a shop that refer to something the shop does not have, as a damaged file or another program may leave
// them.
#pragma once

#include "shop/state.h"

namespace pecorra {

struct MissingReference {
  ObjectKind kind;  // what refers
  Id object;
  std::string name;   // of the object, with the row of a table
  std::string key;    // of the property
  ObjectKind wanted;  // what is missing
};

// From every property of every object that is the id of another one. What a job copied keeps its origin for information
// and is not among them.
std::vector<MissingReference> missing_references(const ShopState& state);

// "Its holder is not in this shop".
QString missing_text(const MissingReference& missing);

}  // namespace pecorra
