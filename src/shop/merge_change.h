// Our changes and those of other programs brought together, and what is said where that cannot be.
#pragma once

#include <unordered_set>

#include "shop/change.h"

namespace pecorra {

// As merged_body. The name of a cutter that follows its sizes is made anew by `name_pattern` where both changed it.
tl::expected<std::string, Clash> merged_object_body(ObjectKind kind, const std::string& before,
                                                    const std::string& after, const std::string& theirs,
                                                    std::string_view name_pattern);

// Lets a store bring bodies together so.
void follow_names(Store& store);

// The change as it would be made now, when others have changed some of its objects; in words why it cannot be.
tl::expected<Change, QString> brought_up_to_date(const ShopState& state, Change change,
                                                 const std::unordered_set<Id>& changed_by_others);

// Why a change was refused and what stands: a StoreFault of trouble conflict or taken.
QString refusal_text(const ShopState& state, const StoreFault& fault);

}  // namespace pecorra
