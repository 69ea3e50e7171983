#include "core/transfer/merge.h"

namespace pecorra {
namespace {
constexpr Choice state_choices[] = {
    {"new", "new"}, {"changed", "changed"}, {"same", "same"}, {"conflict", "conflict"}, {"faulty", "faulty"}};
}
template <>
std::span<const Choice> choices_of<MergeState>() {
  return state_choices;
}
}  // namespace pecorra
