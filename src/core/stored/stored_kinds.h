// Every kind of object that a shop keeps. A new kind is its folder, an include and a line here: its collection in
// ShopState, loading, saving, JSON, history and undo follow.
#pragma once

#include <optional>
#include <string_view>

#include "core/cutter/cutter.h"
#include "core/cutter/edge_material.h"
#include "core/holder/holder.h"
#include "core/insert/insert.h"
#include "core/job/job.h"
#include "core/library/library.h"
#include "core/library/number_block.h"
#include "core/library/shared_library.h"
#include "core/machine/machine.h"
#include "core/machine/pocket.h"
#include "core/material/work_material.h"
#include "core/never/never_rule.h"
#include "core/operation/operation_trail.h"
#include "core/operation/proven_step.h"
#include "core/program/dialect.h"
#include "core/retune/retuned_program.h"
#include "core/shop_settings/settings.h"
#include "core/tables/condition_table.h"
#include "core/tables/recipe.h"

namespace pecorra {

// Key in the database, type, its collection in ShopState, name on screen. In the order in which shops are written.
#define PECORRA_STORED_KINDS(KIND)                                        \
  KIND(settings, ShopSettings, settings, "Shop settings")                 \
  KIND(library, Library, libraries, "Library")                            \
  KIND(number_block, NumberBlock, number_blocks, "Number block")          \
  KIND(shared_library, SharedLibrary, shared_libraries, "Shared library") \
  KIND(material, WorkMaterial, materials, "Work material")                \
  KIND(machine, Machine, machines, "Machine")                             \
  KIND(edge_material, EdgeMaterial, edge_materials, "Tool material")      \
  KIND(never_rule, NeverRule, never_rules, "Never")                       \
  KIND(insert, Insert, inserts, "Insert")                                 \
  KIND(collet, Collet, collets, "Collet")                                 \
  KIND(holder, Holder, holders, "Holder")                                 \
  KIND(cutter, Cutter, cutters, "Cutter")                                 \
  KIND(assembly, Assembly, assemblies, "Assembly")                        \
  KIND(pocket, Pocket, pockets, "Magazine pocket")                        \
  KIND(dialect, Dialect, dialects, "Dialect")                             \
  KIND(proven_step, ProvenStep, proven_steps, "Proven step")              \
  KIND(recipe, Recipe, recipes, "Recipe")                                 \
  KIND(table, ConditionTable, tables, "Table")                            \
  KIND(job, JobHead, jobs, "Job")                                         \
  KIND(setup, Setup, setups, "Setup")                                     \
  KIND(part, Part, parts, "Drawing")                                      \
  KIND(feature, Feature, features, "Feature")                             \
  KIND(operation, Operation, operations, "Operation")                     \
  KIND(trail, OperationTrail, trails, "Trail")                            \
  KIND(retuned_program, RetunedProgram, programs, "Program")

enum class ObjectKind {
#define PECORRA_ENUMERATOR(kind, Type, list, label) kind,
  PECORRA_STORED_KINDS(PECORRA_ENUMERATOR)
#undef PECORRA_ENUMERATOR
};

namespace detail {
struct StoredKind {
  std::string_view key, label;
};
inline constexpr StoredKind stored_kinds[] = {
#define PECORRA_ENTRY(kind, Type, list, label) {#kind, label},
    PECORRA_STORED_KINDS(PECORRA_ENTRY)
#undef PECORRA_ENTRY
};
template <class T>
struct KindOf;
#define PECORRA_KIND_OF(kind, Type, list, label)          \
  template <>                                             \
  struct KindOf<Type> {                                   \
    static constexpr ObjectKind value = ObjectKind::kind; \
  };
PECORRA_STORED_KINDS(PECORRA_KIND_OF)
#undef PECORRA_KIND_OF
}  // namespace detail

// A trail changes with what it belongs to, and only then.
constexpr bool has_history(ObjectKind kind) { return kind != ObjectKind::trail; }

inline constexpr int object_kind_count = static_cast<int>(std::size(detail::stored_kinds));

constexpr std::string_view key_of(ObjectKind kind) { return detail::stored_kinds[static_cast<int>(kind)].key; }
constexpr std::string_view label_of(ObjectKind kind) { return detail::stored_kinds[static_cast<int>(kind)].label; }
// Nothing for a kind that only a later version knows.
constexpr std::optional<ObjectKind> object_kind_from(std::string_view key) {
  for (int i = 0; i < object_kind_count; ++i)
    if (detail::stored_kinds[i].key == key) return static_cast<ObjectKind>(i);
  return std::nullopt;
}
template <class T>
constexpr ObjectKind kind_of(const T&) {
  return detail::KindOf<T>::value;
}

}  // namespace pecorra
