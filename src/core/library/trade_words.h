// The words of the trade for kinds of cutter, tool materials and the headings of lists of cutters. Common practice, no
// source.
#pragma once

#include <optional>
#include <span>
#include <string_view>

#include "core/cutter/cutter.h"
#include "core/transfer/columns.h"

namespace pecorra {

// "Ball nose", "2FL carbide endmill", "NC spot drill", "jobber drill": the kind whose words stand in the text, the
// longest counting; nothing where none does.
std::optional<CutterKind> kind_in_words(std::string_view text);
std::optional<ToolMaterial> tool_material_in_words(std::string_view text);

// What lists of cutters call their columns, besides our own names and the symbols.
std::span<const Synonym> cutter_headings();
// Further words in cells of choices.
std::span<const ChoiceWord> cutter_choice_words();

}  // namespace pecorra
