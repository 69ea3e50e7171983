// Merges our changes with those of other programs, and says why where that is impossible.
#pragma once

#include <unordered_set>

#include "shop/change.h"

namespace pecorra {

// As merged_body, but a name that follows the sizes is made again by `name_pattern` if both sides changed it.
tl::expected<std::string, Clash> merged_object_body(ObjectKind kind, const std::string& before,
                                                    const std::string& after, const std::string& theirs,
                                                    std::string_view name_pattern);

// Makes a store merge bodies this way.
void follow_names(Store& store);

// The change as it would be made now that others have changed some of its objects; or why it cannot be made.
tl::expected<Change, QString> brought_up_to_date(const ShopState& state, Change change,
                                                 const std::unordered_set<Id>& changed_by_others);

// Why a change was refused and what is stored now: a StoreFault of trouble conflict or taken.
QString refusal_text(const ShopState& state, const StoreFault& fault);

}  // namespace pecorra
