#include "core/cutter/edge_material.h"

#include <array>

#include "core/base/check.h"

namespace pecorra {
namespace {

constexpr Choice part_choices[] = {{"tool_material", "Tool material"}, {"coating", "Coating"}};

using enum Quantity;
constexpr std::array list{
    field<&EdgeMaterial::name>("name", "", "Name", text, "As written on the cutters"),
    field<&EdgeMaterial::part>("part", "", "Type", choice, "A tool material or a coating"),
    field<&EdgeMaterial::like>("like", "", "Cuts like", choice, "Tool material whose rows it uses"),
    field<&EdgeMaterial::speed_factor>("speed_factor", "", "Speed factor", number,
                                       "Scales the cutting speed of starter rows; shop and maker rows are never scaled")
        .above(0)
        .within(0, 10),
    field<&EdgeMaterial::feed_factor>("feed_factor", "", "Feed factor", number, "Scales the feed of starter rows")
        .above(0)
        .within(0, 10),
    field<&EdgeMaterial::source>("source", "", "Source", text, "Source of the factors"),
    field<&EdgeMaterial::notes>("notes", "", "Notes", text, "For the programmer")};

}  // namespace

template <>
std::span<const Choice> choices_of<EdgePart>() {
  return part_choices;
}
template <>
std::span<const Property<EdgeMaterial>> properties<EdgeMaterial>() {
  return list;
}

std::vector<Message> check_edge_material(const EdgeMaterial& m) {
  std::vector<Message> messages;
  check_ranges(m, messages);
  if (m.part == EdgePart::tool_material && !m.like)
    messages.push_back({Severity::warning, "cuts_like_missing", "like", {}});
  return messages;
}

EdgeFactors::EdgeFactors(std::span<const EdgeMaterial> materials, double premium, double standard, double plain)
    : quality_{premium, standard, plain} {
  for (const EdgeMaterial& m : materials)
    if (!m.name.empty() && !has_error(check_edge_material(m)))
      (m.part == EdgePart::coating ? coatings_ : tool_materials_).try_emplace(m.name, m.speed_factor, m.feed_factor);
}

EdgeFactor EdgeFactors::of(const Cutter& cutter) const {
  EdgeFactor out;
  const auto take = [&](double speed, double feed, const std::string& from) {
    if (speed == 1 && feed == 1) return;
    out.speed *= speed;
    out.feed *= feed;
    out.from += (out.from.empty() ? "" : ", ") + from;
  };
  if (cutter.quality)
    take(quality_[static_cast<std::size_t>(*cutter.quality)], 1,
         "quality “" + std::string(label_of(*cutter.quality)) + "”");
  if (const auto found = tool_materials_.find(cutter.own_material); found != tool_materials_.end())
    take(found->second.first, found->second.second, "tool material “" + found->first + "”");
  if (const auto found = coatings_.find(cutter.coating); found != coatings_.end())
    take(found->second.first, found->second.second, "coating “" + found->first + "”");
  return out;
}

}  // namespace pecorra
