#include "core/tables/recipe.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <utility>

#include "core/cutter/kinds.h"

namespace pecorra {
namespace {

using enum Quantity;

// The declarations of a row, for types that extend it.
template <std::size_t... place>
std::array<Property<Recipe>, sizeof...(place)> inherited(std::index_sequence<place...>) {
  return {[]() {
    const Property<ConditionRow>& row = properties<ConditionRow>()[place];
    Property<Recipe> p;
    p.key = row.key;
    p.symbol = row.symbol;
    p.label = row.label;
    p.quantity = row.quantity;
    p.help = row.help;
    p.low = row.low;
    p.high = row.high;
    p.low_open = row.low_open;
    p.choices = row.choices;
    // A pointer to a member of a row is one to a member of a recipe; a choice is reached by functions.
    using RowChoice = Property<ConditionRow>::ChoiceAccess;
    std::visit(
        [&p](const auto& member) {
          using Member = std::remove_cvref_t<decltype(member)>;
          if constexpr (std::is_same_v<Member, RowChoice>)
            p.member = Property<Recipe>::ChoiceAccess{
                [](const Recipe& r) { return std::get<RowChoice>(properties<ConditionRow>()[place].member).get(r); },
                [](Recipe& r, int to) { std::get<RowChoice>(properties<ConditionRow>()[place].member).set(r, to); }};
          else if constexpr (std::is_member_pointer_v<Member>)
            p.member = static_cast<typename detail::MemberOf<Member>::Type Recipe::*>(member);
        },
        row.member);
    return p;
  }()...};
}

}  // namespace

template <>
std::span<const Property<Recipe>> properties<Recipe>() {
  static const auto list = [] {
    constexpr std::array own{
        field<&Recipe::name>("name", "", "Recipe", text, "As light, heavy, slot, finish"),
        field<&Recipe::cutter>("cutter", "", "Cutter", id, "Cutter it belongs to"),
        field<&Recipe::usual>("usual", "", "Usual one", flag, "Used where several would fit"),
        field<&Recipe::removal_cm3_min>("removal_cm3_min", "Q", "Expected removal", removal_rate, "At its values")
            .above(0)};
    std::vector<Property<Recipe>> all(own.begin(), own.end());
    for (const Property<Recipe>& p : inherited(std::make_index_sequence<row_property_count>())) all.push_back(p);
    return all;
  }();
  return list;
}

std::vector<Message> check_recipe(const Recipe& recipe, const Cutter& cutter) {
  std::vector<Message> messages;
  ConditionRow row = recipe;
  if (!row.diameter_mm) row.diameter_mm = cutter.diameter_mm;
  messages = check_row(row);
  const auto warn = [&](const char* code, const char* key, Details values) {
    messages.push_back({Severity::warning, code, key, std::move(values)});
  };
  if (recipe.kind != cutter.kind)
    warn("recipe_other_kind", "kind",
         {{"made_for", std::string(label_of(recipe.kind))}, {"cutter", std::string(label_of(cutter.kind))}});
  if (recipe.diameter_mm && cutter.diameter_mm && std::abs(*recipe.diameter_mm / *cutter.diameter_mm - 1) > 0.01)
    warn("recipe_other_size", "diameter_mm",
         {{"made_for_mm", *recipe.diameter_mm}, {"diameter_mm", *cutter.diameter_mm}});
  if (recipe.tool_material && cutter.tool_material != recipe.tool_material)
    warn("recipe_other_tool_material", "tool_material",
         {{"made_for", std::string(label_of(*recipe.tool_material))},
          {"cutter", cutter.tool_material ? std::string(label_of(*cutter.tool_material)) : std::string("not stated")}});
  if (!can_do(cutter.kind, recipe.operation))
    warn("cutter_cannot", "operation",
         {{"kind", std::string(label_of(cutter.kind))}, {"operation", std::string(label_of(recipe.operation))}});
  return messages;
}

}  // namespace pecorra
