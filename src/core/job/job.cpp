#include "core/job/job.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <map>

#include "core/geometry/region.h"

namespace pecorra {
namespace {

using enum Quantity;

constexpr Choice feature_choices[] = {{"line", "Line"}, {"pocket", "Pocket"}, {"holes", "Holes"}, {"face", "Face"}};

constexpr Choice skin_choices[] = {{"none", "none"}, {"casting", "casting"}, {"forging", "forging"}};

constexpr std::array job_list{
    field<&JobHead::name>("name", "", "Name", text, ""),
    field<&JobHead::machine>("machine", "", "Machine", id, ""),
    field<&JobHead::material>("material", "", "Material", id, ""),
    field<&JobHead::pace>("pace", "", "Pace", number, "100 is the target").within(1, 1000),
    field<&JobHead::rapid_mm_min>("rapid_mm_min", "", "Rapid", table_feed, "Empty: the machine's; used for cycle times")
        .above(0),
    field<&JobHead::program_unit>("program_unit", "", "Program units", choice, "")};

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
    field<&Setup::zero_x_mm>("zero_x_mm", "X0", "Zero point X", length, "Where the program counts from"),
    field<&Setup::zero_y_mm>("zero_y_mm", "Y0", "Zero point Y", length, "Where the program counts from"),
    field<&Setup::zero_z_mm>("zero_z_mm", "Z0", "Zero point Z", length, "Where the program counts from"),
    field<&Setup::work_offset>("work_offset", "", "Work offset", text, "G54 to G59, G54.1 P1 …; empty: none")};

constexpr std::array feature_list{
    field<&Feature::job>("job", "", "Job", id, ""),
    field<&Feature::rank>("rank", "", "Place", number, "In the order of the job"),
    field<&Feature::key>("key", "", "Name", text, "Each once in a job"),
    field<&Feature::kind>("kind", "", "Kind", choice, ""),
    field<&Feature::outline>("outline", "", "Outline", text, "The line around a pocket"),
    field<&Feature::diameter_mm>("diameter_mm", "D", "Diameter", length, "Of each hole").above(0),
    field<&Feature::depth_mm>("depth_mm", "", "Depth", length, "Below the top of the stock").above(0),
    field<&Feature::through>("through", "", "Through", flag, "The holes go through"),
    field<&Feature::thread>("thread", "", "Thread", text, "M10, M10×1, 1/4-20 …")};

constexpr std::array part_list{field<&Part::job>("job", "", "Job", id, "")};

std::vector<Point2> flat(const Contour& line) { return flattened(line, 0.01); }

// Whether a point is inside a ring.
bool inside(const std::vector<Point2>& ring, Point2 p) {
  bool in = false;
  for (std::size_t i = 0, k = ring.size() - 1; i < ring.size(); k = i++)
    if ((ring[i].y > p.y) != (ring[k].y > p.y) &&
        p.x < (ring[k].x - ring[i].x) * (p.y - ring[i].y) / (ring[k].y - ring[i].y) + ring[i].x)
      in = !in;
  return in;
}

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
      if (!rings[i].empty() && rings[line].size() > 2 && inside(rings[line], rings[i].front()))
        around = &input.pockets[pocket];
    if (around) {
      around->islands.push_back(lines[i]);
      continue;
    }
    outlines.emplace_back(i, input.pockets.size());
    input.pockets.push_back({lines[i].key, lines[i].contour, {}, {}});
  }
}

}  // namespace

template <>
std::span<const Choice> choices_of<FeatureKind>() {
  return feature_choices;
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
std::span<const Property<Setup>> properties<Setup>() {
  return setup_list;
}
template <>
std::span<const Property<Feature>> properties<Feature>() {
  return feature_list;
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
    if (f.kind == FeatureKind::line) lines.push_back({f.key, &f.line, 0});
  return lines;
}

std::vector<std::string> feature_keys(const Job& job) {
  std::vector<std::string> keys;
  for (JobLine& line : lines_of(job)) keys.push_back(std::move(line.key));
  for (const Feature& f : job.features)
    if (f.kind != FeatureKind::line) keys.push_back(f.key);
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
  if (!setup || setup->skin == StockSkin::none) return false;
  return o.path == PathKind::face || (o.path == PathKind::profile && o.where == ProfileWhere::around) ||
         o.path == PathKind::drill;
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
      if (f.kind == FeatureKind::line && !f.line.vertices.empty()) take(bounds(f.line));
      const double r = f.diameter_mm.value_or(0) / 2;
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

JobIndex::JobIndex(const Job& job) : lines_(lines_of(job)) {
  for (std::size_t i = 0; i < lines_.size(); ++i) line_places_.emplace(lines_[i].key, i);
  for (const Feature& f : job.features) features_.emplace(f.key, &f);
}
const JobLine* JobIndex::line(const std::string& key) const {
  const auto found = line_places_.find(key);
  return found == line_places_.end() ? nullptr : &lines_[found->second];
}
const Feature* JobIndex::feature(const std::string& key) const {
  const auto found = features_.find(key);
  return found == features_.end() ? nullptr : found->second;
}

namespace {

// The features of an operation, by the roles they have in its kind.
void bind(const JobIndex& index, const Operation& o, OperationInput& input, std::vector<Message>& messages) {
  const auto fault = [&](const char* code, const std::string& key) {
    messages.push_back({Severity::error, code, "features", {{"feature", key}}});
  };
  std::vector<BoundLine> for_pockets;
  for (const FeatureUse& use : o.features) {
    if (const JobLine* line = index.line(use.key)) {
      if (!use.print.empty() && use.print != print_of(*line->contour)) {
        fault("feature_changed", use.key);
        continue;
      }
      if (o.path == PathKind::drill) {
        const Box b = bounds(*line->contour);
        if (line->is_circle())
          input.holes.push_back(
              {use.key, {(b.low_x + b.high_x) / 2, (b.low_y + b.high_y) / 2}, line->diameter_mm, {}, false, {}});
        else fault("not_a_hole", use.key);
      } else if (o.path == PathKind::pocket) {
        for_pockets.push_back({use.key, *line->contour});
      } else {
        input.lines.push_back({use.key, *line->contour});
      }
      continue;
    }
    const Feature* f = index.feature(use.key);
    if (!f) {
      fault("feature_gone", use.key);
      continue;
    }
    switch (f->kind) {
      case FeatureKind::holes:
        if (o.path == PathKind::drill)
          for (const Point2& p : f->at)
            input.holes.push_back({f->key, p, f->diameter_mm.value_or(0), f->depth_mm, f->through, f->thread});
        else if (!f->diameter_mm) fault("no_diameter", f->key);
        else
          for (const Point2& p : f->at) {
            const Contour circle = circle_contour(p, *f->diameter_mm);
            if (o.path == PathKind::pocket) input.pockets.push_back({f->key, circle, {}, f->depth_mm});
            else input.lines.push_back({f->key, circle});
          }
        break;
      case FeatureKind::pocket: {
        const JobLine* outline = index.line(f->outline);
        if (!outline) {
          fault("feature_gone", f->outline);
          break;
        }
        BoundPocket pocket{f->key, *outline->contour, {}, f->depth_mm};
        for (const std::string& key : f->islands) {
          if (const JobLine* island = index.line(key)) pocket.islands.push_back({key, *island->contour});
          else fault("feature_gone", key);
        }
        if (o.path == PathKind::pocket) {
          input.pockets.push_back(std::move(pocket));
        } else if (o.path == PathKind::drill) {
          fault("not_a_hole", f->key);
        } else {
          input.lines.push_back({f->outline, pocket.outline});
          if (o.path == PathKind::profile)
            for (BoundLine& island : pocket.islands) input.lines.push_back(std::move(island));
          if (!input.face_depth_mm) input.face_depth_mm = f->depth_mm;
        }
        break;
      }
      case FeatureKind::face:
        if (o.path == PathKind::face) input.face_depth_mm = f->depth_mm;
        else fault("only_for_facing", f->key);
        break;
      case FeatureKind::line: break;
    }
  }
  pockets_from(std::move(for_pockets), input);
}

}  // namespace

OperationInput input_of(const Job& job, const JobIndex& index, const Operation& o, const PathRules& rules,
                        std::vector<Message>& messages) {
  OperationInput input;
  const Setup* setup = setup_of(job, o);
  const StockBlock block = stock_of(job, setup);
  input.stock = block.plan;
  input.stock_top = block.top;
  input.stock_bottom = block.bottom;
  input.safe_z = block.top + (setup ? setup->clearance_mm.value_or(rules.clearance_mm) : rules.clearance_mm);
  input.rules = rules;
  input.slot_conditions = o.path != PathKind::slot && o.operation != OperationKind::slot;
  bind(index, o, input, messages);
  // Only pockets go down where a hole is.
  if (o.path == PathKind::pocket)
    for (const Operation& before : job.operations) {
      if (before.id == o.id) break;
      if (before.path != PathKind::drill || setup_of(job, before) != setup) continue;
      OperationInput holes;
      std::vector<Message> unused;
      bind(index, before, holes, unused);
      for (const BoundHole& hole : holes.holes) input.drilled.push_back(hole.at);
    }
  if (setup)
    for (const Clamp& clamp : setup->clamps) {
      if (const JobLine* line = index.line(clamp.outline))
        input.keep_outs.push_back({clamp.outline, *line->contour, clamp.top_mm});
      else messages.push_back({Severity::error, "feature_gone", "features", {{"feature", clamp.outline}}});
    }
  return input;
}

FeatureUse use_of(const Job& job, const std::string& key) {
  for (const JobLine& line : lines_of(job))
    if (line.key == key) return {key, find_feature(job, key) ? std::string() : print_of(*line.contour)};
  return {key, {}};
}

void rebind(Job& job) {
  std::multimap<std::string, std::string> by_print;  // keys
  std::map<std::string, std::string> prints;
  const std::vector<std::string> keys = keys_of(job.drawing());
  for (std::size_t i = 0; i < keys.size(); ++i) {
    const std::string print = print_of(job.drawing().lines[i].contour);
    prints[keys[i]] = print;
    by_print.emplace(print, keys[i]);
  }
  for (Operation& o : job.operations)
    for (FeatureUse& use : o.features) {
      if (use.print.empty()) continue;
      const auto now = prints.find(use.key);
      if (now != prints.end() && now->second == use.print) continue;
      if (const auto other = by_print.find(use.print); other != by_print.end()) use.key = other->second;
    }
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
