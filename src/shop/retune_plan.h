// A program made elsewhere: which cutter each of its T is, and what it is to run at by the tables.
#pragma once

#include <map>
#include <memory>
#include <set>

#include "core/retune/retune.h"
#include "core/retune/retuned_program.h"
#include "shop/evaluation.h"

namespace pecorra {

struct RetuneRequest {
  Id material, machine;
  double pace = 100;
  // As of a RetunedProgram.
  bool in_proportion = false, arc_centres = false;
  std::optional<double> stock_top_mm;
  std::vector<ToolPairing> tools;
};

// How a section's cutter was found, or why it was not.
enum class FoundBy { nothing, told, remembered, job, order_code, name, size, pocket, number };
struct FoundCutter {
  std::shared_ptr<const Cutter> cutter;
  FoundBy by = FoundBy::nothing;
  bool guess = false;
  std::string why;            // in words, for reports in English
  bool size_unknown = false;  // its comment names a size that no cutter has
};

struct RetunedSection {
  FoundCutter found;
  int part = 1, parts = 1;  // which of the sections of its T
  bool left_out = false;    // keeps its S and F; checked all the same
  OperationKind operation = OperationKind::side_rough;
  NewConditions conditions;            // without a speed: it keeps what it has
  std::optional<double> ap_mm, ae_mm;  // of its cut: stated, or seen in its moves; else the tables' own
  SourceKind source = SourceKind::none;
  bool guess = false;
  Trail trail;
  std::vector<Message> messages;
  std::vector<Message> as_it_is;  // what is dangerous or out of range with the program's own values, by line
  // Of those: what is so no longer with the new values.
  std::vector<Message> only_as_it_is() const;
  // The tightest limit with the program's own S and F, and with the new ones.
  std::optional<Headroom> headroom_was, headroom;
};

// Of each section of the reading. Comments count before pockets, and those before numbers; where a comment names a size
// that no cutter has, there is no answer.
std::vector<RetunedSection> plan_retune(const ShopState& state, const Resolver& resolver, const ProgramText& program,
                                        const ProgramReading& reading, const RetuneRequest& request);

// The sizes that a comment names, in mm.
struct NamedSize {
  std::optional<double> diameter_mm, corner_radius_mm;
  std::string thread;  // "M8"
  std::optional<CutterKind> kind;
  bool any() const { return diameter_mm || !thread.empty(); }
};
NamedSize size_in(std::string_view comment);

}  // namespace pecorra
