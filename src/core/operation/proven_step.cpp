#include "core/operation/proven_step.h"

#include <array>

namespace pecorra {
namespace {

using enum Quantity;

constexpr std::array step_fields{
    field<&ProvenStep::name>("name", "", "Name", text, "What it is found by"),
    field<&ProvenStep::material>("material", "", "Material", id, "Proven in"),
    field<&ProvenStep::machine>("machine", "", "Machine", id, "Proven on"),
    field<&ProvenStep::feature>("feature", "", "Makes", text, "What it is for"),
    field<&ProvenStep::any_cutter>("any_cutter", "", "Any fitting cutter", flag,
                                   "Of the same kind, size, teeth and tool material; off: the very one"),
    field<&ProvenStep::source>("source", "", "Source", text, "Where it was saved from"),
    field<&ProvenStep::notes>("notes", "", "Notes", text, "For the programmer")};

}  // namespace

template <>
std::span<const Property<ProvenStep>> properties<ProvenStep>() {
  return step_fields;
}

const Operation* origin_in(const ProvenStep& step, const Operation& o) {
  const Operation* found = nullptr;
  for (const Operation& of : step.operations)
    if (of.path == o.path && of.operation == o.operation && (!found || of.name == o.name)) found = &of;
  return found;
}

bool stands_for(const Cutter& a, const Cutter& b) {
  return a.kind == b.kind && a.diameter_mm == b.diameter_mm && a.corner_radius_mm == b.corner_radius_mm &&
         a.flutes == b.flutes && a.thread == b.thread && a.tool_material == b.tool_material;
}

}  // namespace pecorra
