#include "shop/never_check.h"

#include <algorithm>

namespace pecorra {

std::vector<Message> check_never(const ShopState& state, const NeverRule& rule) {
  std::vector<Message> messages = check_never_rule(rule);
  if (has_error(messages)) return messages;
  const ResolverOptions options = state.resolver_options();
  const std::vector<NeverRule>& counting = options.never->rules();
  if (std::none_of(counting.begin(), counting.end(), [&](const NeverRule& r) { return r.id == rule.id; }))
    messages.push_back(
        {Severity::error, "never_rule_too_many", "name", {{"most", static_cast<double>(NeverRules::most)}}});
  return messages;
}

}  // namespace pecorra
