// An affine transform of the plane: how the parts of a drawing are placed.
#pragma once

#include <cmath>

#include "core/base/vertex.h"

namespace pecorra {

// x' = a·x + c·y + e, y' = b·x + d·y + f
struct Affine {
  double a = 1, b = 0, c = 0, d = 1, e = 0, f = 0;
  Point2 operator()(double x, double y) const { return {a * x + c * y + e, b * x + d * y + f}; }
  // First `o`, then this.
  Affine operator*(const Affine& o) const {
    return {a * o.a + c * o.b, b * o.a + d * o.b,     a * o.c + c * o.d,
            b * o.c + d * o.d, a * o.e + c * o.f + e, b * o.e + d * o.f + f};
  }
  double determinant() const { return a * d - b * c; }
  bool mirrors() const { return determinant() < 0; }
  // Scale of lengths, the mean of both directions.
  double scale() const { return std::sqrt(std::abs(determinant())); }
  // Whether both directions are scaled equally, so that arcs stay arcs.
  bool keeps_arcs() const {
    return std::abs(a * c + b * d) < 1e-9 * scale() * scale() + 1e-15 &&
           std::abs(std::hypot(a, b) - std::hypot(c, d)) < 1e-9 * scale() + 1e-15;
  }
};

}  // namespace pecorra
