// All that the core calls things, as a source that Qt's tools read: labels and help of properties, choices, kinds.
#pragma once

#include <set>
#include <string>

#include "core/conditions/conditions.h"
#include "core/drawing/cutter_sheet.h"
#include "core/mechanics/curves.h"
#include "core/mechanics/cut.h"
#include "core/program/program.h"
#include "core/stored/stored_kinds.h"
#include "core/transfer/merge.h"
#include "shop/demo.h"
#include "shop/evaluation.h"
#include "shop/library_file.h"

namespace test {

class LabelTexts {
 public:
  LabelTexts() {
    using namespace pecorra;
#define PECORRA_TEXTS(kind, Type, list, label) add(label), add_properties<Type>();
    PECORRA_STORED_KINDS(PECORRA_TEXTS)
#undef PECORRA_TEXTS
    add_properties<ConditionRow>();
    add_properties<Cut>();
    add_properties<CutResults>();
    add_properties<Dialect>();
    add_properties<Operation>();
    add_properties<TakenConditions>();
    add_properties<CutterValues>();
    add_properties<WhatIf>();
    add_choices<CurveKind>();
    add_choices<CutterFormat>();
    add_choices<FeedLimit>();
    add_choices<Limit>();
    add_choices<MergeState>();
    add_choices<OperationKind>();
    add_choices<PathKind>();
    add_choices<SourceKind>();
    add_choices<TableLevel>();
    for (std::size_t i = 0; i < choices_of<PathKind>().size(); ++i) add(declaration(static_cast<PathKind>(i)).about);
    for (const char* of_curve : curve_texts) add(of_curve);
    for (const NeverRule& rule : shipped_never_rules())
      for (const std::string& text : {rule.name, rule.why, rule.instead, rule.source}) add(text);
  }
  const std::set<std::string, std::less<>>& all() const { return all_; }
  // The file src/shop/label_texts.cpp.
  std::string source() const {
    std::string out =
        "// What the core calls things, for Qt's translation tools. Made from the declarations by test_shop; after a\n"
        "// change of one: PECORRA_ACCEPT=1 build-check/tests/test_shop \"labels*\"\n"
        "#include <QtGlobal>\n\n"
        "// clang-format off\n"
        "[[maybe_unused]] static const char* const label_texts[] = {\n";
    for (const std::string& text : all_) out += "  QT_TRANSLATE_NOOP(\"Labels\", \"" + escaped(text) + "\"),\n";
    return out + "};\n";
  }

 private:
  // Of curves: what their lines and axes are.
  static constexpr const char* curve_texts[] = {
      "this cut",  "motor",        "short time", "spindle", "Spindle speed", "Stick-out",      "at the tip",
      "permitted", "Width of cut", "thickest",   "mean",    "rubs below",    "Rotation angle", "all teeth"};
  // A symbol that is a word of English, as "HB from".
  static bool has_word(std::string_view symbol) {
    int letters = 0;
    for (const char c : symbol) {
      letters = c >= 'a' && c <= 'z' ? letters + 1 : 0;
      if (letters >= 4) return true;
    }
    return false;
  }
  static std::string escaped(const std::string& text) {
    std::string out;
    for (const char c : text) out += c == '"' || c == '\\' ? std::string{'\\', c} : std::string(1, c);
    return out;
  }
  void add(std::string_view text) {
    if (!text.empty()) all_.emplace(text);
  }
  template <class T>
  void add_properties() {
    for (const pecorra::Property<T>& p : pecorra::properties<T>()) {
      add(p.label);
      add(p.help);
      if (has_word(p.symbol)) add(p.symbol);
      for (const pecorra::Choice& c : p.choices) add(c.label);
    }
  }
  template <class E>
  void add_choices() {
    for (const pecorra::Choice& c : pecorra::choices_of<E>()) add(c.label);
  }
  std::set<std::string, std::less<>> all_;
};

}  // namespace test
