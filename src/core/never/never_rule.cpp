#include "core/never/never_rule.h"

#include <array>

#include "core/base/check.h"
#include "core/cutter/kinds.h"
#include "core/library/folded.h"

namespace pecorra {
namespace {

constexpr Choice verdict_choices[] = {{"never", "never"}, {"warning", "warning"}};

using enum Quantity;
using R = NeverRule;
constexpr std::array rule_fields{
    field<&R::name>("name", "", "Rule", text, "What is not done"),
    field<&R::verdict>("verdict", "", "Verdict", choice,
                       "Never: no speed and feed. Warning: an answer, and the reason"),
    field<&R::kind>("kind", "", "Cutter", choice, "Empty: any kind"),
    field<&R::tool_material>("tool_material", "", "Tool material", choice, "Empty: any"),
    field<&R::coating>("coating", "", "Coating", text, "Part of its name, such as TiAlN; empty: any"),
    field<&R::tap_form>("tap_form", "", "Tap", choice, "Empty: any"),
    field<&R::made_for>("made_for", "", "Made for", choice, "Empty: any"),
    field<&R::not_to_centre>("not_to_centre", "", "Not centre-cutting", flag,
                             "Only cutters that do not cut to the centre"),
    field<&R::operation>("operation", "", "Operation", choice, "Empty: any"),
    field<&R::group>("group", "", "Group", choice, "Empty: any"),
    field<&R::subgroup>("subgroup", "", "Subgroup", choice, "Empty: any"),
    field<&R::alloy>("alloy", "", "Alloy", text, "Any designation of the material; empty: any"),
    field<&R::hardness_from_hb>("hardness_from_hb", "", "Hardness from", hardness, "This hard or harder").above(0),
    field<&R::hardness_to_hb>("hardness_to_hb", "", "Hardness to", hardness, "Up to this hard").above(0),
    field<&R::why>("why", "", "Reason", text, "Shown instead of speed and feed"),
    field<&R::instead>("instead", "", "Instead", text, "What would do"),
    field<&R::source>("source", "", "Source", text, "Source of the rule")};

bool fits_folded(const R& r, const Cutter& c, const std::string& coating) {
  return (!r.kind || *r.kind == c.kind) && (!r.tool_material || r.tool_material == c.tool_material) &&
         (r.coating.empty() || coating.find(r.coating) != std::string::npos) &&
         (!r.tap_form || r.tap_form == c.tap_form) && (!r.made_for || r.made_for == made_for(c)) &&
         (!r.not_to_centre || !cuts_to_centre(c));
}

}  // namespace

template <>
std::span<const Choice> choices_of<Verdict>() {
  return verdict_choices;
}
template <>
std::span<const Property<NeverRule>> properties<NeverRule>() {
  return rule_fields;
}

std::vector<Message> check_never_rule(const NeverRule& rule) {
  std::vector<Message> messages;
  check_ranges(rule, messages);
  if (rule.hardness_from_hb && rule.hardness_to_hb && *rule.hardness_from_hb > *rule.hardness_to_hb)
    messages.push_back({Severity::error,
                        "values_reversed",
                        "hardness_to_hb",
                        {{"from", *rule.hardness_from_hb}, {"to", *rule.hardness_to_hb}}});
  if (rule.why.empty()) messages.push_back({Severity::warning, "never_without_reason", "why", {}});
  const bool tool = rule.kind || rule.tool_material || !rule.coating.empty() || rule.tap_form || rule.made_for ||
                    rule.not_to_centre,
             work = rule.group || rule.subgroup || !rule.alloy.empty() || rule.hardness_from_hb ||
                    rule.hardness_to_hb || rule.operation;
  if (!tool || !work) messages.push_back({Severity::error, "never_everything", tool ? "group" : "kind", {}});
  return messages;
}

bool fits(const NeverRule& r, const WorkMaterial& m) {
  return (!r.group || *r.group == m.group) && (!r.subgroup || r.subgroup == subgroup_of(m)) &&
         (r.alloy.empty() || is_called(m, r.alloy)) &&
         (!r.hardness_from_hb || (m.hardness_hb && *m.hardness_hb >= *r.hardness_from_hb)) &&
         (!r.hardness_to_hb || (m.hardness_hb && *m.hardness_hb <= *r.hardness_to_hb));
}

NeverRules::NeverRules(std::vector<NeverRule> rules) : rules_(std::move(rules)) {
  // A faulty rule could forbid everything.
  std::erase_if(rules_, [](const NeverRule& r) { return has_error(check_never_rule(r)); });
  if (rules_.size() > most) rules_.resize(most);
  for (NeverRule& r : rules_) r.coating = folded(r.coating);
}

NeverRules::Mask NeverRules::of(const Cutter& cutter) const {
  Mask mask{};
  const std::string coating = folded(cutter.coating);
  for (std::size_t i = 0; i < rules_.size(); ++i)
    if (fits_folded(rules_[i], cutter, coating)) mask[i / 64] |= std::uint64_t{1} << (i % 64);
  return mask;
}

NeverRules::Mask NeverRules::of(const WorkMaterial& material) const {
  Mask mask{};
  for (std::size_t i = 0; i < rules_.size(); ++i)
    if (fits(rules_[i], material)) mask[i / 64] |= std::uint64_t{1} << (i % 64);
  return mask;
}

std::vector<const NeverRule*> NeverRules::broken(const Mask& cutter, const Mask& material,
                                                 OperationKind operation) const {
  std::vector<const NeverRule*> out;
  for (const Verdict verdict : {Verdict::never, Verdict::warning})
    for (std::size_t i = 0; i < rules_.size(); ++i) {
      const NeverRule& r = rules_[i];
      if (r.verdict == verdict && (cutter[i / 64] & material[i / 64]) >> (i % 64) & 1 &&
          (!r.operation || *r.operation == operation))
        out.push_back(&r);
    }
  return out;
}

}  // namespace pecorra
