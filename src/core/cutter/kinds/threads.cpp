// Cutters that make threads: taps and thread mills. Both know their thread by its designation.
#include "core/cutter/kinds/threads.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/cutter/kinds/outline.h"
#include "core/cutter/kinds/shaft.h"

namespace pecorra {
namespace {

using enum Dimension;

constexpr int most_teeth = 200;  // drawn; more would be a line

std::optional<Thread> thread_stated(const Cutter& c) {
  if (c.thread.empty()) return std::nullopt;
  auto thread = parse_thread(c.thread);
  return thread ? std::optional(std::move(*thread)) : std::nullopt;
}

double half_flank_rad(const Cutter& c) {
  const auto thread = thread_stated(c);
  return (thread ? thread->flank_angle_deg : 60) / 2 * std::numbers::pi / 180;
}

// Height of the thread: 5/8 of its triangle (ISO 68-1).
double thread_height(const Cutter& c) { return 0.625 * *c.pitch_mm / (2 * std::tan(half_flank_rad(c))); }

// Teeth from `low` to `high` on the radius `r`: crests of an eighth, grounds of a quarter of the pitch.
void append_teeth(Outline& outline, const Cutter& c, double low, double high) {
  const double p = *c.pitch_mm, r = *c.diameter_mm / 2, ground = r - thread_height(c);
  const int teeth = static_cast<int>(std::min((high - low) / p + 1e-6, 1.0 * most_teeth));
  outline.to(ground, low);
  for (int i = 0; i < std::max(1, teeth); ++i) {
    const double y = low + p * (i + 0.5);
    if (y + 0.375 * p > high + 1e-9) break;
    outline.to(ground, y - 0.375 * p).to(r, y - 0.0625 * p).to(r, y + 0.0625 * p).to(ground, y + 0.375 * p);
  }
  outline.to(ground, high);
}

Profile thread_mill_silhouette(const Cutter& c) {
  Outline outline;
  append_teeth(outline, c, 0, *c.flute_length_mm);
  return outline.shaft(c, *c.flute_length_mm).done();
}

Profile tap_silhouette(const Cutter& c) {
  const double r = *c.diameter_mm / 2, lead = std::min(c.lead_threads.value_or(3) * *c.pitch_mm, *c.flute_length_mm);
  Outline outline;
  outline.to(r - thread_height(c), 0).to(r, lead);
  if (lead < *c.flute_length_mm) append_teeth(outline, c, lead, *c.flute_length_mm);
  return outline.shaft(c, *c.flute_length_mm).done();
}

// The thread's own figures against what is typed beside it. Taps of inch threads are ground to the thread's size as
// well.
void check_thread(const Cutter& c, std::vector<Message>& messages) {
  check_shaft(c, messages);
  if (thread_height(c) >= *c.diameter_mm / 2)
    messages.push_back(fault(Severity::error, "pitch_over_diameter", "pitch_mm",
                             {{"pitch_mm", *c.pitch_mm}, {"diameter_mm", *c.diameter_mm}}));
  if (c.thread.empty()) return;
  const auto thread = parse_thread(c.thread);
  if (!thread) {
    messages.push_back(
        fault(Severity::error, "thread_unknown", "thread", {{"thread", c.thread}, {"why", thread.error().text}}));
    return;
  }
  if (std::abs(thread->pitch_mm - *c.pitch_mm) > 1e-3)
    messages.push_back(
        fault(Severity::error, "pitch_not_of_thread", "pitch_mm",
              {{"pitch_mm", *c.pitch_mm}, {"thread", thread->designation}, {"right_mm", thread->pitch_mm}}));
}

void check_tap(const Cutter& c, std::vector<Message>& messages) {
  check_thread(c, messages);
  if (const auto thread = thread_stated(c);
      thread && !thread->tapped_taper && std::abs(thread->major_mm - *c.diameter_mm) > 0.02 * thread->major_mm)
    messages.push_back(
        fault(Severity::error, "diameter_not_of_thread", "diameter_mm",
              {{"diameter_mm", *c.diameter_mm}, {"thread", thread->designation}, {"right_mm", thread->major_mm}}));
  if (c.lead_threads.value_or(3) * *c.pitch_mm >= *c.flute_length_mm)
    messages.push_back(
        fault(Severity::error, "lead_over_flutes", "lead_threads",
              {{"lead_mm", c.lead_threads.value_or(3) * *c.pitch_mm}, {"flutes_mm", *c.flute_length_mm}}));
}

void check_thread_mill(const Cutter& c, std::vector<Message>& messages) {
  check_thread(c, messages);
  if (*c.flute_length_mm < *c.pitch_mm * 0.75 - 1e-9)
    messages.push_back(fault(Severity::error, "flutes_under_pitch", "flute_length_mm",
                             {{"flutes_mm", *c.flute_length_mm}, {"pitch_mm", *c.pitch_mm}}));
  // The smallest thread it is for: it must fit into the internal thread.
  if (const auto thread = thread_stated(c); thread && *c.diameter_mm >= thread->minor_mm())
    messages.push_back(
        fault(Severity::error, "thread_mill_over_minor", "diameter_mm",
              {{"diameter_mm", *c.diameter_mm}, {"thread", thread->designation}, {"minor_mm", thread->minor_mm()}}));
}

// A metric coarse thread where the size is one; else a pitch near its neighbours'.
void propose_tap(Cutter& c) {
  const auto& sizes = coarse_metric_threads();
  const auto nearest = std::min_element(sizes.begin(), sizes.end(), [&](const Thread& a, const Thread& b) {
    return std::abs(a.major_mm - *c.diameter_mm) < std::abs(b.major_mm - *c.diameter_mm);
  });
  c.pitch_mm = nearest->pitch_mm;
  if (std::abs(nearest->major_mm - *c.diameter_mm) < 1e-6) c.thread = nearest->designation;
  if (*c.flute_length_mm < 6 * *c.pitch_mm) c.flute_length_mm = 6 * *c.pitch_mm;
  if (c.reach_mm && *c.reach_mm < *c.flute_length_mm) c.reach_mm = c.flute_length_mm;
  c.tool_material = ToolMaterial::hss_co;
}

constexpr ParameterUse tap_parameters[] = {{"thread"},
                                           {"tap_form", false},
                                           {"diameter_mm", true, 1, 0, across_tip},
                                           {"flutes", true, 0, 3},
                                           {"pitch_mm", true, 0.15, 0, pitch},
                                           {"lead_threads", false, 0, 3},
                                           {"flute_length_mm", true, 1, 8, along_axis},
                                           {"overall_length_mm", true, 5, 45, along_axis},
                                           {"shank_diameter_mm", true, 0.8, 0, across_shank},
                                           {"reach_mm", false, 2, 15, along_axis},
                                           {"neck_diameter_mm", false, 0.7, 0, across_neck},
                                           {"helix_deg"},
                                           {"max_rpm"}};
constexpr ParameterUse thread_mill_parameters[] = {{"thread"},
                                                   {"diameter_mm", true, 1, 0, across_tip},
                                                   {"flutes", true, 0, 4},
                                                   {"pitch_mm", true, 0.15, 0, pitch},
                                                   {"flute_length_mm", true, 2.1, 0, along_axis},
                                                   {"overall_length_mm", true, 5, 30, along_axis},
                                                   {"shank_diameter_mm", true, 1, 0, across_shank},
                                                   {"reach_mm", false, 2.8, 0, along_axis},
                                                   {"neck_diameter_mm", false, 0.75, 0, across_neck},
                                                   {"helix_deg", false, 0, 15},
                                                   {"rake_deg"},
                                                   {"edge_radius_mm"},
                                                   {"max_chip_mm"},
                                                   {"max_rpm"}};

}  // namespace

std::optional<Thread> thread_of(const Cutter& cutter) { return thread_stated(cutter); }

void follow_thread(Cutter& cutter) {
  const auto thread = thread_stated(cutter);
  if (!thread) return;
  const auto becomes = [&](std::optional<double>& size, double value, const char* key) {
    if (size && std::abs(*size - value) < 1e-6) return;
    size = value;
    cutter.typed.erase(key);
    cutter.guesses.erase(key);
  };
  becomes(cutter.pitch_mm, thread->pitch_mm, "pitch_mm");
  if (cutter.kind == CutterKind::tap) becomes(cutter.diameter_mm, thread->major_mm, "diameter_mm");
}

std::optional<double> tapping_drill_mm(const Cutter& cutter) {
  if (cutter.kind != CutterKind::tap) return std::nullopt;
  const bool forming = cutter.tap_form == TapForm::form;
  if (const auto thread = thread_stated(cutter)) return forming ? thread->forming_drill_mm() : thread->tapping_drill_mm;
  if (!cutter.diameter_mm || !cutter.pitch_mm) return std::nullopt;
  return *cutter.diameter_mm - (forming ? *cutter.pitch_mm / 2 : *cutter.pitch_mm);
}

const KindDeclaration tap_kind{CutterKind::tap,
                               CuttingForm::other,
                               set_of(OperationKind::tap),
                               OperationKind::tap,
                               tap_parameters,
                               0.5,
                               12,
                               tap_silhouette,
                               check_tap,
                               propose_tap};
const KindDeclaration thread_mill_kind{CutterKind::thread_mill,
                                       CuttingForm::other,
                                       set_of(OperationKind::thread_mill),
                                       OperationKind::thread_mill,
                                       thread_mill_parameters,
                                       0.05,
                                       5,
                                       thread_mill_silhouette,
                                       check_thread_mill};

}  // namespace pecorra
