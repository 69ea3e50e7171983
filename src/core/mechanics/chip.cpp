#include "core/mechanics/chip.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include "core/base/angle.h"

namespace pecorra {
namespace {

using std::numbers::pi;

// Greatest and mean of sin φ over the engaged arc.
ChipRatio arc_ratio(const Engagement& e) {
  const double angle = e.angle();
  const double greatest =
      e.from_rad <= pi / 2 && e.to_rad >= pi / 2 ? 1.0 : std::max(std::sin(e.from_rad), std::sin(e.to_rad));
  if (angle < 1e-9) return {greatest, greatest / 2};
  return {greatest, (std::cos(e.from_rad) - std::cos(e.to_rad)) / angle};
}

// Gauss–Legendre points and weights on 0 … 1.
constexpr std::array<std::array<double, 2>, 8> gauss{{{0.019855071751231884, 0.050614268145188130},
                                                      {0.101666761293186631, 0.111190517226687235},
                                                      {0.237233795041835507, 0.156853322938943644},
                                                      {0.408282678752175098, 0.181341891689180991},
                                                      {0.591717321247824902, 0.181341891689180991},
                                                      {0.762766204958164493, 0.156853322938943644},
                                                      {0.898333238706813369, 0.111190517226687235},
                                                      {0.980144928248768116, 0.050614268145188130}}};

// Calls visit(position, weight) for the integral from `low` to `high`, split at `kink`, where the integrand is not
// smooth.
template <class Visit>
void integrate(double low, double high, double kink, Visit&& visit) {
  constexpr int panels = 4;
  auto piece = [&](double from, double to) {
    if (!(to > from)) return;
    for (int panel = 0; panel < panels; ++panel) {
      const double start = from + (to - from) * panel / panels, width = (to - from) / panels;
      for (const auto& [at, weight] : gauss) visit(start + at * width, weight * width);
    }
  };
  kink = std::clamp(kink, low, high);
  piece(low, kink);
  piece(kink, high);
}

// Sums over a piece of edge: chip area and engaged length, both averaged over the arc, and the thickest chip.
struct EdgeSum {
  double area = 0;
  double length = 0;
  double greatest = 0;

  void add(double sin_kappa, double radius_mm, double ae_mm, double edge_length_mm) {
    // Of the local diameter, side_engagement and arc_ratio without their trigonometry.
    const double share = share_of(ae_mm, radius_mm), cosine = 1 - 2 * share;
    area += sin_kappa * (1 - cosine) * edge_length_mm;
    length += std::acos(cosine) * edge_length_mm;
    see(sin_kappa, share);
  }
  // What an end of the edge does, without its length.
  void see_end(double sin_kappa, double radius_mm, double ae_mm) { see(sin_kappa, share_of(ae_mm, radius_mm)); }

 private:
  // Of the local diameter that is cut.
  static double share_of(double ae_mm, double radius_mm) { return std::clamp(ae_mm / (2 * radius_mm), 0.0, 1.0); }
  void see(double sin_kappa, double share) {
    greatest = std::max(greatest, sin_kappa * (share >= 0.5 ? 1 : 2 * std::sqrt(share * (1 - share))));
  }
};

// A point of a cutting edge: how far from the axis, and the sine of the angle between the edge and the plane across the
// axis.
struct EdgePoint {
  double radius_mm = 0;
  double sin_kappa = 0;
};

// The points of a segment by their share of its length.
class EdgeSegment {
 public:
  explicit EdgeSegment(const ProfileSegment& s) : s_(s) {
    if (s.arc) {
      radius_ = radius_of(s);
      start_ = angle_at(s, s.from);
      sweep_ = swept_angle(s);
    } else if (const double length = length_of(s); length > 0) {
      sine_ = std::abs(s.to.y - s.from.y) / length;
    }
  }

  EdgePoint at(double share) const {
    if (!s_.arc) return {std::max(1e-6, s_.from.x + (s_.to.x - s_.from.x) * share), sine_};
    const double cosine = std::cos(start_ + sweep_ * share);  // the edge is at right angles to the arc's radius
    return {std::max(1e-6, s_.centre.x + radius_ * cosine), std::abs(cosine)};
  }
  double height_at(double share) const {
    return s_.arc ? s_.centre.y + radius_ * std::sin(start_ + sweep_ * share)
                  : s_.from.y + (s_.to.y - s_.from.y) * share;
  }

 private:
  const ProfileSegment& s_;
  double radius_ = 0, start_ = 0, sweep_ = 0;  // of an arc
  double sine_ = 0;                            // of a line
};

// Calls visit(segment, from, to) with the shares of each cutting segment that lie below `ap` and are not across the
// axis.
template <class Visit>
void visit_outline(const Profile& outline, double ap, Visit&& visit) {
  for (const ProfileSegment& s : outline) {
    if (s.role != ProfileRole::cutting) continue;
    const double low = std::min(s.from.y, s.to.y), high = std::max(s.from.y, s.to.y);
    if (!s.arc && high - low < 1e-9) continue;
    if (low >= ap) continue;
    double to = 1;
    if (s.to.y > ap) {  // up to where it passes the depth; heights rise along a segment
      const EdgeSegment edge(s);
      double below = 0, above = 1;
      for (int i = 0; i < 40; ++i) {
        const double middle = (below + above) / 2;
        (edge.height_at(middle) < ap ? below : above) = middle;
      }
      to = below;
    }
    if (to > 1e-9) visit(s, 0.0, to);
  }
}

}  // namespace

bool depth_shapes_chip(const EdgeShape& edge) {
  return edge.form == CuttingForm::ball || edge.form == CuttingForm::corner || edge.form == CuttingForm::cone ||
         edge.form == CuttingForm::outline;
}

std::vector<EdgePiece> edge_pieces(const EdgeShape& edge, double ap) {
  std::vector<EdgePiece> pieces;
  if (!(ap > 0)) return pieces;
  const double d = edge.diameter_mm;
  switch (edge.form) {
    case CuttingForm::ball:
    case CuttingForm::corner: {
      const double r = edge.corner_radius_mm, deep = std::min(ap, r);
      const double top = std::acos(std::clamp(1 - deep / r, -1.0, 1.0));
      const int count = std::clamp(static_cast<int>(std::ceil(top / (pi / 2) * 24)), 6, 24);
      for (int i = 0; i < count; ++i) {
        const double from = top * i / count, to = top * (i + 1) / count, middle = (from + to) / 2;
        pieces.push_back(
            {r * (1 - std::cos(from)), r * (1 - std::cos(to)), d / 2 - r + r * std::sin(middle), std::sin(middle)});
      }
      if (ap > r) pieces.push_back({r, ap, d / 2, 1});
      return pieces;
    }
    case CuttingForm::cone: {
      const double slope = std::tan(edge.half_angle_rad);
      constexpr int count = 16;
      for (int i = 0; i < count; ++i) {
        const double from = ap * i / count, to = ap * (i + 1) / count;
        pieces.push_back({from, to, std::clamp(edge.tip_diameter_mm / 2 + (from + to) / 2 * slope, 1e-6, d / 2),
                          std::cos(edge.half_angle_rad)});
      }
      return pieces;
    }
    case CuttingForm::outline:
      visit_outline(*edge.outline, ap, [&](const ProfileSegment& s, double, double share) {
        const EdgeSegment segment(s);
        const int count = s.arc ? 12 : std::abs(s.to.x - s.from.x) < 1e-9 ? 1 : 8;
        for (int i = 0; i < count; ++i) {
          const double a = segment.height_at(share * i / count), b = segment.height_at(share * (i + 1) / count);
          const EdgePoint middle = segment.at(share * (i + 0.5) / count);
          if (std::abs(b - a) > 1e-12)
            pieces.push_back({std::min(a, b), std::max(a, b), middle.radius_mm, middle.sin_kappa});
        }
      });
      return pieces;
    default: return {{0, ap, d / 2, std::sin(edge.kappa_rad)}};
  }
}

std::optional<EdgeShape> edge_shape(const Cutter& c) {
  if (!c.diameter_mm) return std::nullopt;
  EdgeShape edge;
  edge.form = declaration(c.kind).form;
  edge.diameter_mm = *c.diameter_mm;
  edge.kappa_rad = pi / 2;
  if (edge.form == CuttingForm::ball) edge.corner_radius_mm = edge.diameter_mm / 2;
  else if (edge.form == CuttingForm::corner || edge.form == CuttingForm::cylinder) {
    edge.corner_radius_mm = std::min(c.corner_radius_mm.value_or(0), edge.diameter_mm / 2);
    edge.form = edge.corner_radius_mm > 0 ? CuttingForm::corner : CuttingForm::cylinder;
  }
  if (edge.form == CuttingForm::outline) {
    if (Profile profile = silhouette(c); !profile.empty())
      edge.outline = std::make_shared<const Profile>(std::move(profile));
    else if (c.kind == CutterKind::undercut_ball)
      edge.form = CuttingForm::ball, edge.corner_radius_mm = *c.diameter_mm / 2;
    else edge.form = CuttingForm::other;
  }
  if (edge.form == CuttingForm::cone) {
    const auto half = half_angle_deg(c);
    if (!half) return std::nullopt;
    edge.half_angle_rad = radians(*half);
    edge.tip_diameter_mm = c.tip_diameter_mm.value_or(0);
    edge.kappa_rad = pi / 2 - edge.half_angle_rad;
  } else if (const auto kappa = edge_angle_deg(c)) {
    edge.kappa_rad = radians(*kappa);
  }
  return edge;
}

std::optional<double> effective_diameter_mm(const EdgeShape& edge, std::optional<double> ap, double tilt_rad,
                                            double tip_offset_mm) {
  const double d = edge.diameter_mm, r = edge.corner_radius_mm;
  switch (edge.form) {
    case CuttingForm::ball: {
      if (!ap) return std::nullopt;
      const double depth = std::min(*ap, r);
      if (tilt_rad != 0) {
        const double angle = std::abs(tilt_rad) + std::acos(1 - 2 * depth / d);
        return angle < pi / 2 ? d * std::sin(angle) : d;
      }
      return 2 * std::sqrt(depth * (d - depth));
    }
    case CuttingForm::corner: {
      if (!ap) return std::nullopt;
      const double depth = std::min(*ap, r);
      return d - 2 * r + 2 * std::sqrt(depth * (2 * r - depth));
    }
    case CuttingForm::cone:
      if (!ap) return edge.half_angle_rad == 0 ? std::optional(d) : std::nullopt;
      return std::min(d, edge.tip_diameter_mm + 2 * (tip_offset_mm + *ap) * std::tan(edge.half_angle_rad));
    case CuttingForm::face:
      if (edge.kappa_rad >= pi / 2 - 1e-12) return d;
      if (!ap) return std::nullopt;
      return d + 2 * *ap / std::tan(edge.kappa_rad);
    case CuttingForm::outline:
      if (!ap) return std::nullopt;
      return 2 * largest_radius_mm(*edge.outline, *ap);
    default: return d;
  }
}

Engagement side_engagement(double ae, double d) { return {0, std::acos(std::clamp(1 - 2 * ae / d, -1.0, 1.0))}; }

Engagement face_engagement(double ae, double offset, double d) {
  const double low = std::clamp((offset - ae / 2) / (d / 2), -1.0, 1.0);
  const double high = std::clamp((offset + ae / 2) / (d / 2), -1.0, 1.0);
  return {std::acos(high), std::acos(low)};
}

ChipRatio chip_ratio(const EdgeShape& edge, const Engagement& engagement, double ap, double ae, bool facing) {
  const double d = edge.diameter_mm;
  const bool round = edge.form == CuttingForm::ball || edge.form == CuttingForm::corner;
  if (!depth_shapes_chip(edge) || facing || ap <= 0) {
    ChipRatio ratio = arc_ratio(engagement);
    const double sin_kappa = std::sin(edge.kappa_rad);
    return {ratio.greatest * sin_kappa, ratio.mean * sin_kappa};
  }
  EdgeSum sum;
  if (round) {
    const double r = edge.corner_radius_mm;
    const double kappa_top = std::acos(std::clamp(1 - std::min(ap, r) / r, -1.0, 1.0));
    const double kink = std::asin(std::clamp((ae / 2 - d / 2 + r) / r, 0.0, 1.0));
    integrate(0, kappa_top, kink, [&](double kappa, double weight) {
      sum.add(std::sin(kappa), d / 2 - r + r * std::sin(kappa), ae, weight * r);
    });
    if (ap > r) sum.add(1, d / 2, ae, ap - r);
    // The sample points lie inside the edge; its upper end carries the thickest chip.
    const double top = d / 2 - r + r * std::sin(kappa_top);
    sum.see_end(std::sin(kappa_top), top, ae);
  } else if (edge.form == CuttingForm::outline) {
    visit_outline(*edge.outline, ap, [&](const ProfileSegment& s, double from, double to) {
      const EdgeSegment segment(s);
      const double length = length_of(s);
      // The integrand has a kink where the local diameter equals the width of cut; bisecting a monotonic piece is close
      // enough.
      integrate(from, to, (from + to) / 2, [&](double share, double weight) {
        const EdgePoint p = segment.at(share);
        sum.add(p.sin_kappa, p.radius_mm, ae, weight * length);
      });
      for (const EdgePoint end : {segment.at(from), segment.at(to)}) sum.see_end(end.sin_kappa, end.radius_mm, ae);
    });
  } else {
    const double low = edge.tip_diameter_mm / 2;
    const double high = std::min(d / 2, low + ap * std::tan(edge.half_angle_rad));
    const double slope = std::tan(edge.half_angle_rad), cosine = std::cos(edge.half_angle_rad);
    const double kink = slope > 1e-9 ? (ae / 2 - low) / slope : 0;
    integrate(0, ap, kink, [&](double height, double weight) {
      sum.add(cosine, std::clamp(low + height * slope, 1e-6, high), ae, weight / cosine);
    });
    for (const double end : {low, high}) sum.see_end(cosine, std::max(end, 1e-6), ae);
  }
  return {sum.greatest, sum.length > 0 ? sum.area / sum.length : 0};
}

}  // namespace pecorra
