// Operations as a text that another job can take: with their cutters, their values and the typed features they use.
#pragma once

#include <string>

#include "shop/operation_edit.h"

namespace pecorra {

QString operations_mime_type();
std::string copied_text(const Job& job, const Places& operations);
// For people and spreadsheets: a line each.
QString plain_text(const Job& job, const Places& operations, UnitSystem units);

struct Pasted {
  Change change;
  Places at;
};
// Puts them behind this place, their conditions resolved for this job. A feature that is called the same here and is
// another one gets a new name; a line that is not in the drawing leaves its operation in error. Fails with the reason.
tl::expected<Pasted, QString> pasted_operations(const ShopState& state, const Resolver& resolver, const Job& job,
                                                int behind, std::string_view text);

}  // namespace pecorra
