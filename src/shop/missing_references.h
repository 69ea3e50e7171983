// References to objects that the shop does not have, as left by a damaged file or another program.
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

// Checks every property that holds the id of another object. What a job copied keeps its origin only for information
// and is not checked.
std::vector<MissingReference> missing_references(const ShopState& state);

// "Its holder is not in this shop".
QString missing_text(const MissingReference& missing);

}  // namespace pecorra
