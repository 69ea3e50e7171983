// Which cutters suit an operation, and why: by kind and size, depth, what the machine takes, what the shop has, and
// what conditions there are.
#pragma once

#include <vector>

#include "core/operation/declaration.h"
#include "shop/evaluation.h"

namespace pecorra {

struct CutterOption {
  const Cutter* cutter = nullptr;  // of a library that is switched on, or of the job's own: a generic one
  std::vector<Message> misfits;    // why it does not suit, each with the size that would
  bool in_job = false;
  bool here = true;                      // the shop has one, or does not count them
  const Holder* other_holder = nullptr;  // it stands in one that does not go into this machine
  bool generic = false;
  bool advised_against = false;  // by a never rule that warns
  double off = 0;                // how far from what is wanted, as a share; for the order
  Resolution resolution;         // of those that fit
  bool fits() const { return misfits.empty(); }
  bool taken() const { return fits() && resolution.found(); }
};

// The cutters that can do an operation: those that fit and have conditions first; of these those in stock, then those
// of the job, then the nearest to what is wanted. Drafts and retired ones are left out. Only as many as are asked for
// are looked at closely. Points into state and job.
class CutterSearch {
 public:
  CutterSearch(const ShopState& state, const Resolver& resolver, const Job& job, const Operation& operation);

  // The best that fits and has conditions; nothing where none does.
  std::optional<CutterOption> best();
  std::vector<CutterOption> first(std::size_t most);
  // What would suit, where that is known.
  const std::optional<WantedCutter>& wanted() const { return wanted_; }

 private:
  // Drafts are dropped, and the conditions of those that fit resolved.
  bool look_closely(CutterOption& option) const;
  void sort(std::size_t most);

  const ShopState& state_;
  const Resolver& resolver_;
  const Job& job_;
  const Operation& operation_;
  const WorkMaterial* material_;
  const Machine* machine_;
  std::optional<WantedCutter> wanted_;
  std::vector<CutterOption> all_;
};

// Why this one was not taken instead of `taken`: a size that does not suit, no conditions, or what makes the other
// better.
Message reason_against(const CutterOption& option, const CutterOption& taken,
                       const std::optional<WantedCutter>& wanted);

// Of the first note of match_cutter(), in a few words: “nearest to Ø9 mm, in this job”.
QString short_reason(const Message& note, UnitSystem units);

// Picks the best cutter, else makes a generic one; the notes say what was chosen and why, and why the next ones were
// not. Without a cutter where not even its size is known.
std::vector<Message> match_cutter(const ShopState& state, const Resolver& resolver, const Job& job,
                                  Operation& operation);
// A generic one of these sizes, whatever the libraries have; its note, none where it could not do the operation.
std::vector<Message> use_generic(const ShopState& state, const Resolver& resolver, const Job& job, Operation& operation,
                                 const WantedCutter& wanted);

}  // namespace pecorra
