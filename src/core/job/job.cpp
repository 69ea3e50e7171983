#include "core/job/job.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <map>
#include <set>

#include "core/feature/lettering.h"
#include "core/geometry/region.h"
#include "core/operation/holes.h"

namespace pecorra {
namespace {

using enum Quantity;

constexpr Choice under_choices[] = {{"free", "free"}, {"table", "machine table"}, {"spoil_board", "spoil board"}};
constexpr Choice skin_choices[] = {{"none", "none"}, {"casting", "casting"}, {"forging", "forging"}};

constexpr std::array job_list{
    field<&JobHead::name>("name", "", "Name", text, ""),
    field<&JobHead::machine>("machine", "", "Machine", id, ""),
    field<&JobHead::material>("material", "", "Material", id, ""),
    field<&JobHead::pace>("pace", "", "Pace", number, "100 is the target").within(1, 1000),
    field<&JobHead::rapid_mm_min>("rapid_mm_min", "", "Rapid", table_feed, "Empty: the machine's; used for cycle times")
        .above(0),
    field<&JobHead::program_unit>("program_unit", "", "Program units", choice, ""),
    field<&JobHead::program_number>("program_number", "", "Program number", count, "As the control lists it")
        .within(1, 99999999)};

constexpr std::array cutter_values_list{
    field<&CutterValues::cutter>("cutter", "", "Cutter", id, ""),
    field<&CutterValues::n_rpm>("n_rpm", "S", "Spindle speed", spindle_speed, "Typed for the cutter").above(0),
    field<&CutterValues::vf_mm_min>("vf_mm_min", "F", "Table feed", table_feed, "Typed for the cutter").above(0),
    field<&CutterValues::ap_mm>("ap_mm", "ap", "Depth of cut", length, "Typed for the cutter").above(0),
    field<&CutterValues::ae_mm>("ae_mm", "ae", "Width of cut", length, "Typed for the cutter").above(0)};

constexpr std::array setup_list{
    field<&Setup::job>("job", "", "Job", id, ""),
    field<&Setup::rank>("rank", "", "Place", number, "In the order of the job"),
    field<&Setup::name>("name", "", "Name", text, ""),
    field<&Setup::x_low_mm>("x_low_mm", "X−", "Stock from X", length, "Left side of the stock"),
    field<&Setup::x_high_mm>("x_high_mm", "X+", "Stock to X", length, "Right side of the stock"),
    field<&Setup::y_low_mm>("y_low_mm", "Y−", "Stock from Y", length, "Front of the stock"),
    field<&Setup::y_high_mm>("y_high_mm", "Y+", "Stock to Y", length, "Back of the stock"),
    field<&Setup::z_low_mm>("z_low_mm", "Z−", "Stock from Z", length, "Bottom of the stock"),
    field<&Setup::z_high_mm>("z_high_mm", "Z+", "Stock to Z", length, "Top of the stock"),
    field<&Setup::clearance_mm>("clearance_mm", "", "Retract plane", length, "Above the top of the stock").above(0),
    field<&Setup::skin>("skin", "", "Skin", choice, "Of the raw stock; the cuts that meet it are slower"),
    field<&Setup::under>("under", "", "Under the stock", choice, "Mills never go past the stock into the table"),
    field<&Setup::zero_x_mm>("zero_x_mm", "X0", "Zero point X", length, "Where the program counts from"),
    field<&Setup::zero_y_mm>("zero_y_mm", "Y0", "Zero point Y", length, "Where the program counts from"),
    field<&Setup::zero_z_mm>("zero_z_mm", "Z0", "Zero point Z", length, "Where the program counts from"),
    field<&Setup::work_offset>("work_offset", "", "Work offset", text, "G54 to G59, G54.1 P1 …; empty: none")};

constexpr std::array part_list{field<&Part::job>("job", "", "Job", id, "")};

std::vector<Point2> flat(const Contour& line) { return flattened(line, 0.01); }

// Lines chosen by themselves for a pocket: what lies within another is an island in it.
void pockets_from(std::vector<BoundLine> lines, OperationInput& input) {
  std::vector<std::vector<Point2>> rings;
  std::vector<double> areas;
  for (const BoundLine& line : lines) {
    rings.push_back(flat(line.contour));
    areas.push_back(std::abs(signed_area(rings.back())));
  }
  std::vector<std::size_t> order(lines.size());
  for (std::size_t i = 0; i < order.size(); ++i) order[i] = i;
  std::sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) { return areas[a] > areas[b]; });
  std::vector<std::pair<std::size_t, std::size_t>> outlines;  // line, pocket
  for (const std::size_t i : order) {
    BoundPocket* around = nullptr;
    for (const auto& [line, pocket] : outlines)
      if (!rings[i].empty() && rings[line].size() > 2 && encloses(rings[line], rings[i].front()))
        around = &input.pockets[pocket];
    if (around) {
      around->islands.push_back(lines[i]);
      continue;
    }
    outlines.emplace_back(i, input.pockets.size());
    input.pockets.push_back({lines[i].key, lines[i].contour, {}, lines[i].depth_mm, lines[i].through});
  }
}

}  // namespace

template <>
std::span<const Choice> choices_of<UnderStock>() {
  return under_choices;
}
template <>
std::span<const Choice> choices_of<StockSkin>() {
  return skin_choices;
}
template <>
std::span<const Property<JobHead>> properties<JobHead>() {
  return job_list;
}
template <>
std::span<const Property<CutterValues>> properties<CutterValues>() {
  return cutter_values_list;
}
template <>
std::span<const Property<Setup>> properties<Setup>() {
  return setup_list;
}
template <>
std::span<const Property<Part>> properties<Part>() {
  return part_list;
}

std::vector<Message> check_setup(const Setup& s) {
  std::vector<Message> messages;
  const auto block = [&](const std::optional<double>& low, const std::optional<double>& high, const char* property) {
    if (low && high && !(*low < *high))
      messages.push_back({Severity::error, "stock_inside_out", property, {{"low_mm", *low}, {"high_mm", *high}}});
  };
  block(s.x_low_mm, s.x_high_mm, "x_high_mm");
  block(s.y_low_mm, s.y_high_mm, "y_high_mm");
  block(s.z_low_mm, s.z_high_mm, "z_high_mm");
  return messages;
}

CutterValues values_for(const JobHead& job, const Id& cutter) {
  for (const CutterValues& values : job.cutters)
    if (values.cutter == cutter) return values;
  return {cutter, {}, {}, {}, {}};
}

const Drawing& Job::drawing() const {
  static const Drawing none;
  return part ? part->drawing : none;
}

std::vector<JobLine> lines_of(const Job& job) {
  std::vector<JobLine> lines;
  const Drawing& drawing = job.drawing();
  std::vector<std::string> keys = keys_of(drawing);
  for (std::size_t i = 0; i < drawing.lines.size(); ++i)
    lines.push_back({std::move(keys[i]), &drawing.lines[i].contour, drawing.lines[i].diameter_mm});
  for (const Feature& f : job.features)
    if (!f.line.vertices.empty())
      lines.push_back({f.key, &f.line, f.kind == FeatureKind::circle ? f.diameter_mm.value_or(0) : 0});
  return lines;
}

std::vector<std::string> feature_keys(const Job& job) {
  std::vector<std::string> keys;
  for (JobLine& line : lines_of(job)) keys.push_back(std::move(line.key));
  for (std::string& key : text_keys_of(job.drawing())) keys.push_back(std::move(key));
  for (const Feature& f : job.features)
    if (f.line.vertices.empty()) keys.push_back(f.key);
  return keys;
}

const Feature* find_feature(const Job& job, std::string_view key) {
  for (const Feature& f : job.features)
    if (f.key == key) return &f;
  return nullptr;
}

const Setup* setup_of(const Job& job, const Operation& o) {
  for (const Setup& s : job.setups)
    if (s.id == o.setup) return &s;
  return job.setups.empty() ? nullptr : &job.setups.front();
}

bool meets_skin(const Job& job, const Operation& o) {
  const Setup* setup = setup_of(job, o);
  return setup && setup->skin != StockSkin::none && declaration(o.path).meets_skin(o);
}

StockBlock stock_of(const Job& job, const Setup* setup) {
  constexpr double far = std::numeric_limits<double>::infinity();
  StockBlock out;
  Box box{far, far, -far, -far};
  const auto take = [&](const Box& b) {
    box = {std::min(box.low_x, b.low_x), std::min(box.low_y, b.low_y), std::max(box.high_x, b.high_x),
           std::max(box.high_y, b.high_y)};
  };
  const bool stated = setup && setup->x_low_mm && setup->x_high_mm && setup->y_low_mm && setup->y_high_mm;
  if (!stated) {
    if (!job.drawing().lines.empty()) take(bounds(job.drawing()));
    for (const Feature& f : job.features) {
      if (!f.line.vertices.empty()) take(bounds(f.line));
      for (const Contour& letter : f.letters) take(bounds(letter));
      const double r = drilled_mm(f).value_or(0) / 2;
      for (const Point2& p : f.at) take(Box{p.x, p.y, p.x, p.y}.grown(r));
    }
  }
  if (box.low_x > box.high_x) box = {};
  if (!setup) {
    out.plan = box;
    return out;
  }
  out.plan = {setup->x_low_mm.value_or(box.low_x), setup->y_low_mm.value_or(box.low_y),
              setup->x_high_mm.value_or(box.high_x), setup->y_high_mm.value_or(box.high_y)};
  out.top = setup->z_high_mm.value_or(0);
  out.has_height = setup->z_low_mm.has_value();
  out.bottom = setup->z_low_mm.value_or(out.top);
  return out;
}

JobIndex::JobIndex(const Job& job) : job_(job), lines_(lines_of(job)) {
  for (std::size_t i = 0; i < job.operations.size(); ++i) {
    const Operation& o = job.operations[i];
    places_.emplace(o.id, i);
    if (declaration(o.path).takes(Role::hole)) makers_.push_back({i, setup_of(job, o), false, {}, {}});
  }
  for (std::size_t i = 0; i < lines_.size(); ++i) line_places_.emplace(lines_[i].key, i);
  for (const Feature& f : job.features) features_.emplace(f.key, &f);
  const std::vector<DrawnText>& texts = job.drawing().texts;
  const std::vector<std::string> keys = text_keys_of(job.drawing());
  for (std::size_t i = 0; i < texts.size(); ++i) texts_.emplace(keys[i], &texts[i]);
}
const JobLine* JobIndex::line(const std::string& key) const {
  const auto found = line_places_.find(key);
  return found == line_places_.end() ? nullptr : &lines_[found->second];
}
const Feature* JobIndex::feature(const std::string& key) const {
  const auto found = features_.find(key);
  return found == features_.end() ? nullptr : found->second;
}
const DrawnText* JobIndex::text(const std::string& key) const {
  const auto found = texts_.find(key);
  return found == texts_.end() ? nullptr : found->second;
}

bool JobIndex::stands(const FeatureUse& use, std::vector<Message>& messages) const {
  const JobLine* line = this->line(use.key);
  const DrawnText* text = this->text(use.key);
  const Feature* feature = this->feature(use.key);
  const auto fault = [&](const char* code) {
    messages.push_back({Severity::error, code, "features", {{"feature", use.key}}});
    return false;
  };
  if (!line && !text && !feature) return fault("feature_gone");
  if (feature && has_error(check_feature(*feature))) return fault("feature_incomplete");
  if (use.print.empty() || feature) return true;
  return use.print == (line ? print_of(*line->contour) : print_of(*text)) || fault("feature_changed");
}

namespace {

// What is stated for a feature that goes through: down to the bottom of the stock.
std::optional<double> depth_in(const Feature& f, double top, const StockBlock& block) {
  if (f.through && !f.depth_mm && block.has_height && top > block.bottom) return top - block.bottom;
  return f.depth_mm;
}

// The features of an operation, by the roles they have in its kind.
class Binder {
 public:
  Binder(const JobIndex& index, const Operation& o, const StockBlock& block, OperationInput& input,
         std::vector<Message>& messages)
      : index_(index),
        kind_(declaration(o.path)),
        block_(block),
        top_(o.top_mm.value_or(block.top)),
        input_(input),
        messages_(messages) {}

  void bind(const Operation& o) {
    for (const FeatureUse& use : o.features)
      if (index_.stands(use, messages_)) {
        bind(use.key);
        doubts(use.key);
      }
    pockets_from(std::move(for_pockets_), input_);
  }

 private:
  void fault(const char* code, const std::string& key) {
    messages_.push_back({Severity::error, code, "features", {{"feature", key}}});
  }

  // What is doubtful about a feature, where it is used: a thread that no standard has, say.
  void doubts(const std::string& key) {
    const Feature* f = index_.feature(key);
    if (!f) return;
    for (Message& m : check_feature(*f)) {
      m.property = "features";
      messages_.push_back(std::move(m));
    }
  }

  void deepest(const std::optional<double>& depth) {
    if (depth && (!input_.feature_depth_mm || *depth > *input_.feature_depth_mm)) input_.feature_depth_mm = depth;
  }

  void bind(const std::string& key) {
    const Feature* f = index_.feature(key);
    if (const JobLine* line = index_.line(key)) {
      if (kind_.takes(Role::hole)) return hole(*line, key, f);
      const auto depth = f ? depth_in(*f, top_, block_) : std::nullopt;
      (kind_.takes(Role::pocket) ? for_pockets_ : input_.lines)
          .push_back({key, straightened(*line->contour), depth, f && f->through});
      return;
    }
    if (const DrawnText* text = index_.text(key)) {
      const Lettering drawn = lettering(text->text, text->at, text->height_mm, text->angle_deg);
      if (!drawn.unknown.empty())
        messages_.push_back({Severity::error, "letter_unknown", "features", {{"letters", drawn.unknown}}});
      return letters(drawn.lines, key);
    }
    if (f) feature(*f);
  }

  // A circle, with what is stated for it: itself, or holes that it is one of.
  void hole(const JobLine& circle, const std::string& key, const Feature* f) {
    if (!circle.is_circle()) return fault("not_a_hole", key);
    const Box b = bounds(*circle.contour);
    BoundHole bound{key, {(b.low_x + b.high_x) / 2, (b.low_y + b.high_y) / 2}, circle.diameter_mm};
    if (f) bound = stated(*f, bound);
    input_.holes.push_back(std::move(bound));
  }

  void letters(const std::vector<Contour>& lines, const std::string& key, const std::optional<double>& depth = {}) {
    if (!kind_.takes(Role::any_line)) return fault("text_is_followed", key);
    for (const Contour& line : lines) input_.lines.push_back({key, line, depth});
  }

  void feature(const Feature& f) {
    switch (f.kind) {
      case FeatureKind::holes: return holes(f);
      case FeatureKind::pocket: return pocket(f);
      case FeatureKind::text: return letters(f.letters, f.key, f.depth_mm);
      case FeatureKind::face:
        if (!kind_.takes(Role::whole_stock)) return fault("only_for_facing", f.key);
        return deepest(f.depth_mm);
      case FeatureKind::line:
      case FeatureKind::rectangle:
      case FeatureKind::circle:
      case FeatureKind::slot: return;  // lines
    }
  }

  BoundHole stated(const Feature& f, BoundHole hole) const {
    hole.diameter_mm = f.diameter_mm.value_or(hole.diameter_mm);
    hole.depth_mm = depth_in(f, top_, block_);
    hole.through = f.through;
    hole.thread = f.thread;
    hole.tolerance = f.tolerance;
    hole.chamfer_mm = f.chamfer_mm;
    return hole;
  }

  void holes(const Feature& f) {
    std::vector<BoundHole> all;
    all.reserve(f.at.size());
    for (const Point2& p : f.at) all.push_back(stated(f, {f.key, p}));
    for (const FeatureUse& use : f.circles) {
      if (!index_.stands(use, messages_)) continue;
      const JobLine* circle = index_.line(use.key);
      if (!circle || !circle->is_circle()) {
        fault("not_a_hole", use.key);
        continue;
      }
      const Box b = bounds(*circle->contour);
      all.push_back(stated(f, {use.key, {(b.low_x + b.high_x) / 2, (b.low_y + b.high_y) / 2}, circle->diameter_mm}));
    }
    if (kind_.takes(Role::hole)) {
      input_.holes.insert(input_.holes.end(), all.begin(), all.end());
      return;
    }
    for (const BoundHole& hole : all) {
      if (!(hole.diameter_mm > 0)) return fault("no_diameter", f.key);
      const Contour circle = circle_contour(hole.at, hole.diameter_mm);
      if (kind_.takes(Role::pocket)) input_.pockets.push_back({f.key, circle, {}, hole.depth_mm, hole.through});
      else input_.lines.push_back({f.key, circle, hole.depth_mm, hole.through});
    }
  }

  void pocket(const Feature& f) {
    if (!index_.stands(f.outline, messages_)) return;
    const JobLine* outline = index_.line(f.outline.key);
    if (!outline) return fault("feature_gone", f.outline.key);
    BoundPocket pocket{f.key, straightened(*outline->contour), {}, depth_in(f, top_, block_), f.through};
    for (const FeatureUse& use : f.islands) {
      if (!index_.stands(use, messages_)) continue;
      if (const JobLine* island = index_.line(use.key))
        pocket.islands.push_back({use.key, straightened(*island->contour), pocket.depth_mm, pocket.through});
      else fault("feature_gone", use.key);
    }
    if (kind_.takes(Role::pocket)) {
      input_.pockets.push_back(std::move(pocket));
      return;
    }
    if (kind_.takes(Role::hole)) return fault("not_a_hole", f.key);
    input_.lines.push_back({f.outline.key, pocket.outline, pocket.depth_mm, pocket.through});
    if (kind_.walls)
      for (BoundLine& island : pocket.islands) input_.lines.push_back(std::move(island));
  }

  const JobIndex& index_;
  const OperationDeclaration& kind_;
  const StockBlock& block_;
  double top_;
  OperationInput& input_;
  std::vector<Message>& messages_;
  std::vector<BoundLine> for_pockets_;
};

}  // namespace

void JobIndex::drill(HoleMaker& maker) const {
  maker.is_known = true;
  const Operation& o = job_.operations[maker.place];
  OperationInput input;
  std::vector<Message> unused;
  const StockBlock block = stock_of(job_, maker.setup);
  input.stock_top = block.top;
  input.stock_bottom = block.bottom;
  Binder(*this, o, block, input, unused).bind(o);
  const double top = top_of(o, input);
  const auto depth = depth_of(o, input);
  if (!depth) return;
  for (const BoundHole& hole : input.holes) {
    const auto bottom = declaration(o.path).hole_bottom(o, hole, top, *depth);
    if (!bottom) continue;
    const Box at{hole.at.x, hole.at.y, hole.at.x, hole.at.y};
    maker.box = maker.holes.empty() ? at
                                    : Box{std::min(maker.box.low_x, at.low_x), std::min(maker.box.low_y, at.low_y),
                                          std::max(maker.box.high_x, at.high_x), std::max(maker.box.high_y, at.high_y)};
    maker.holes.push_back({hole.at, declaration(o.path).hole_mm(o, hole), *bottom});
  }
}

void JobIndex::drilled_before(const Operation& o, const Setup* setup, const Box& where,
                              const std::function<void(const DrilledHole&)>& call) const {
  const auto found = places_.find(o.id);
  const std::size_t end = found == places_.end() ? job_.operations.size() : found->second;
  for (HoleMaker& maker : makers_) {
    if (maker.place >= end) break;
    if (maker.setup != setup) continue;
    if (!maker.is_known) drill(maker);
    if (maker.holes.empty() || !maker.box.meets(where)) continue;
    for (const DrilledHole& hole : maker.holes)
      if (hole.at.x >= where.low_x && hole.at.x <= where.high_x && hole.at.y >= where.low_y &&
          hole.at.y <= where.high_y)
        call(hole);
  }
}

namespace {

// What earlier operations of the setup drilled where this one works.
void find_drilled(const JobIndex& index, const Operation& o, const Setup* setup, OperationInput& input) {
  std::optional<Box> where;
  const auto take = [&](const Box& b) {
    where = where ? Box{std::min(where->low_x, b.low_x), std::min(where->low_y, b.low_y),
                        std::max(where->high_x, b.high_x), std::max(where->high_y, b.high_y)}
                  : b;
  };
  for (const BoundPocket& pocket : input.pockets) take(bounds(pocket.outline));
  const HolePlaces places(input.holes);
  for (const BoundHole& hole : input.holes) take({hole.at.x, hole.at.y, hole.at.x, hole.at.y});
  if (!where) return;
  index.drilled_before(o, setup, where->grown(0.02), [&](const DrilledHole& hole) {
    if (!input.pockets.empty() || places.any_at(hole.at)) input.drilled.push_back(hole);
  });
}

}  // namespace

OperationInput input_of(const Job& job, const JobIndex& index, const Operation& o, const PathRules& rules,
                        std::vector<Message>& messages) {
  OperationInput input;
  const Setup* setup = setup_of(job, o);
  const StockBlock block = stock_of(job, setup);
  const OperationDeclaration& kind = declaration(o.path);
  input.stock = block.plan;
  input.stock_top = block.top;
  input.stock_bottom = block.bottom;
  input.safe_z = block.top + (setup ? setup->clearance_mm.value_or(rules.clearance_mm) : rules.clearance_mm);
  input.rules = rules;
  input.on_table = setup && setup->under == UnderStock::table;
  input.slot_conditions = kind.full_width != FullWidth::usual && o.operation != OperationKind::slot;
  Binder(index, o, block, input, messages).bind(o);
  find_drilled(index, o, setup, input);
  if (setup)
    for (const Clamp& clamp : setup->clamps) {
      if (!index.stands(clamp.outline, messages)) continue;
      if (const JobLine* line = index.line(clamp.outline.key))
        input.keep_outs.push_back({clamp.outline.key, straightened(*line->contour), clamp.top_mm});
      else messages.push_back({Severity::error, "feature_gone", "features", {{"feature", clamp.outline.key}}});
    }
  return input;
}

FeatureUse use_of(const Job& job, const std::string& key) {
  if (find_feature(job, key)) return {key, {}};
  const Drawing& drawing = job.drawing();
  const std::vector<std::string> lines = keys_of(drawing);
  if (const auto at = std::find(lines.begin(), lines.end(), key); at != lines.end())
    return {key, print_of(drawing.lines[static_cast<std::size_t>(at - lines.begin())].contour)};
  const std::vector<std::string> texts = text_keys_of(drawing);
  if (const auto at = std::find(texts.begin(), texts.end(), key); at != texts.end())
    return {key, print_of(drawing.texts[static_cast<std::size_t>(at - texts.begin())])};
  return {key, {}};
}

std::optional<double> hole_depth_mm(const Job& job, const Operation& o) {
  std::optional<double> deepest = o.depth_mm;
  if (deepest) return deepest;
  const StockBlock block = stock_of(job, setup_of(job, o));
  for (const FeatureUse& use : o.features)
    if (const Feature* f = find_feature(job, use.key))
      if (const auto depth = depth_in(*f, o.top_mm.value_or(block.top), block); depth && !(deepest > depth))
        deepest = depth;
  return deepest;
}

void accept_lines(const Job& job, Feature& f) {
  if (!f.outline.key.empty()) f.outline = use_of(job, f.outline.key);
  for (std::vector<FeatureUse>* uses : {&f.islands, &f.circles})
    for (FeatureUse& use : *uses) use = use_of(job, use.key);
}

void rebind(Job& job) {
  std::multimap<std::string, std::string> by_print;  // keys
  std::map<std::string, std::string> prints;
  const auto know = [&](const std::string& key, const std::string& print) {
    prints[key] = print;
    by_print.emplace(print, key);
  };
  const std::vector<std::string> keys = keys_of(job.drawing()), texts = text_keys_of(job.drawing());
  for (std::size_t i = 0; i < keys.size(); ++i) know(keys[i], print_of(job.drawing().lines[i].contour));
  for (std::size_t i = 0; i < texts.size(); ++i) know(texts[i], print_of(job.drawing().texts[i]));
  const auto follow = [&](FeatureUse& use) {
    if (use.print.empty()) return;
    const auto now = prints.find(use.key);
    if (now != prints.end() && now->second == use.print) return;
    if (const auto other = by_print.find(use.print); other != by_print.end()) use.key = other->second;
  };
  for (Operation& o : job.operations)
    for (FeatureUse& use : o.features) follow(use);
  for (Feature& f : job.features) {
    follow(f.outline);
    for (std::vector<FeatureUse>* uses : {&f.islands, &f.circles})
      for (FeatureUse& use : *uses) follow(use);
  }
  for (Setup& setup : job.setups)
    for (Clamp& clamp : setup.clamps) follow(clamp.outline);
}

Offer offer_of(const Job& job) {
  Offer offer;
  for (const JobLine& line : lines_of(job)) offer.lines.push_back({line.key, line.contour->closed, line.diameter_mm});
  offer.outermost = outermost_line(job).value_or("");
  for (const Feature& f : job.features)
    if (std::none_of(job.operations.begin(), job.operations.end(), [&](const Operation& o) {
          return std::any_of(o.features.begin(), o.features.end(), [&](const FeatureUse& u) { return u.key == f.key; });
        }))
      offer.features.push_back(&f);
  const StockBlock stock = stock_of(job, job.setups.empty() ? nullptr : &job.setups.front());
  offer.stock_height_mm = std::max(0.0, stock.top - stock.bottom);
  return offer;
}

std::optional<std::string> outermost_line(const Job& job) {
  std::optional<std::string> best;
  double area = 0;
  for (const JobLine& line : lines_of(job)) {
    if (!line.contour->closed) continue;
    const double a = std::abs(signed_area(flattened(*line.contour, 0.05)));
    if (a <= area) continue;
    area = a;
    best = line.key;
  }
  return best;
}

std::vector<double> hole_diameters(const Job& job) {
  std::vector<double> diameters;
  for (const JobLine& line : lines_of(job))
    if (line.is_circle() && std::none_of(diameters.begin(), diameters.end(),
                                         [&](double d) { return std::abs(d - line.diameter_mm) < 1e-4; }))
      diameters.push_back(line.diameter_mm);
  std::sort(diameters.begin(), diameters.end());
  return diameters;
}

std::vector<std::string> circles_of(const Job& job, double diameter) {
  std::vector<std::string> keys;
  for (const JobLine& line : lines_of(job))
    if (line.is_circle() && std::abs(line.diameter_mm - diameter) < 1e-4) keys.push_back(line.key);
  return keys;
}

}  // namespace pecorra
