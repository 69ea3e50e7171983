// A job: machine, work material, and what it is made of. Each setup, feature, operation and drawing is an object of its
// own in the shop; a Job holds those that belong together, in their order.
#pragma once

#include <functional>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <unordered_map>
#include <vector>

#include "core/feature/feature.h"
#include "core/job/part.h"
#include "core/job/setup.h"
#include "core/operation/declaration.h"

namespace pecorra {

// Values typed once for a cutter, for every operation of the job that types none of its own.
struct CutterValues {
  Id cutter;
  std::optional<double> n_rpm, vf_mm_min, ap_mm, ae_mm;
  bool empty() const { return !n_rpm && !vf_mm_min && !ap_mm && !ae_mm; }
  bool operator==(const CutterValues&) const = default;
};
template <>
std::span<const Property<CutterValues>> properties<CutterValues>();

// What is stored of the job itself.
struct JobHead {
  Id id;
  std::int64_t revision = 0;
  std::string name;
  Id machine;
  Id material;
  std::optional<double> pace;
  std::optional<double> rapid_mm_min;  // instead of the machine's
  UnitSystem program_unit = UnitSystem::metric;
  std::optional<int> program_number;
  std::vector<CutterValues> cutters;
  std::map<std::string, std::string, std::less<>> typed;
  bool operator==(const JobHead&) const = default;
};
template <>
std::span<const Property<JobHead>> properties<JobHead>();

// All empty where nothing is typed for the cutter.
CutterValues values_for(const JobHead& job, const Id& cutter);

struct Job : JobHead {
  std::shared_ptr<const Part> part;  // none: without a drawing
  std::vector<Setup> setups;
  std::vector<Feature> features;
  std::vector<Operation> operations;

  JobHead& head() { return *this; }
  const JobHead& head() const { return *this; }
  const Drawing& drawing() const;
};

// A line that can be followed: of the drawing, or typed.
struct JobLine {
  std::string key;
  const Contour* contour = nullptr;
  double diameter_mm = 0;  // of a circle
  bool is_circle() const { return diameter_mm > 0; }
};
// The drawing's first, then the typed ones. Point into the job.
std::vector<JobLine> lines_of(const Job& job);
// Keys of everything that an operation can work on: lines, then the other features.
std::vector<std::string> feature_keys(const Job& job);
const Feature* find_feature(const Job& job, std::string_view key);

// The setup of an operation: its own, else the first; none where the job has none.
const Setup* setup_of(const Job& job, const Operation& operation);

// Whether it cuts the outside of stock that has a skin: faces, profiles around, holes.
bool meets_skin(const Job& job, const Operation& operation);

// The block of stock of a setup; what is not stated is what the features need.
struct StockBlock {
  Box plan;
  double bottom = 0, top = 0;
  bool has_height = false;
};
StockBlock stock_of(const Job& job, const Setup* setup);

// A job's geometry by key. Points into the job, which has to outlive it.
class JobIndex {
 public:
  explicit JobIndex(const Job& job);
  const std::vector<JobLine>& lines() const { return lines_; }
  // Nothing where there is none of that key.
  const JobLine* line(const std::string& key) const;
  const Feature* feature(const std::string& key) const;
  const DrawnText* text(const std::string& key) const;
  // Whether what was chosen is still there and as it was; adds `feature_gone` or `feature_changed` where not.
  bool stands(const FeatureUse& use, std::vector<Message>& messages) const;
  // Calls for the holes within a part of the plan that operations of this setup made before this one; those that are
  // not in the job come last. Found once; from one thread at a time.
  void drilled_before(const Operation& operation, const Setup* setup, const Box& where,
                      const std::function<void(const DrilledHole&)>& call) const;

 private:
  struct HoleMaker {
    std::size_t place = 0;  // in the job
    const Setup* setup = nullptr;
    bool is_known = false;
    Box box;
    std::vector<DrilledHole> holes;
  };
  void drill(HoleMaker& maker) const;

  const Job& job_;
  std::unordered_map<Id, std::size_t> places_;
  mutable std::vector<HoleMaker> makers_;
  std::unordered_map<std::string, const DrawnText*> texts_;
  std::vector<JobLine> lines_;
  std::unordered_map<std::string, std::size_t> line_places_;
  std::unordered_map<std::string, const Feature*> features_;
};

// What an operation works on, found by the keys of its features. Adds `feature_gone` and `feature_changed`, and what
// its kind cannot work on.
OperationInput input_of(const Job& job, const JobIndex& index, const Operation& operation, const PathRules& rules,
                        std::vector<Message>& messages);

// A use of this feature as it is now.
FeatureUse use_of(const Job& job, const std::string& key);
// How deep the holes of an operation are: typed, else as its features state; the deepest.
std::optional<double> hole_depth_mm(const Job& job, const Operation& operation);
// What of the drawing a feature or a setup is made of, as it is now.
void accept_lines(const Job& job, Feature& feature);
// With another drawing: lines that kept their shape keep their operations, under whatever key they have now.
void rebind(Job& job);

// Key of the closed line that encloses the most; none without a closed one.
std::optional<std::string> outermost_line(const Job& job);
// What a new operation can work on. Points into the job.
Offer offer_of(const Job& job);

// Diameters of circles that occur, each once, rising.
std::vector<double> hole_diameters(const Job& job);
// Keys of the circles of that diameter.
std::vector<std::string> circles_of(const Job& job, double diameter_mm);

}  // namespace pecorra
