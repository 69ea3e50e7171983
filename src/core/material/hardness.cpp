#include "core/material/hardness.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace pecorra {
namespace {

constexpr double none = -1;
struct Point {
  double rm, hv, hb, hrc;
  double on(HardnessScale scale) const {
    switch (scale) {
      case HardnessScale::hb: return hb;
      case HardnessScale::hv: return hv;
      case HardnessScale::hrc: return hrc;
      case HardnessScale::rm: return rm;
    }
    return none;
  }
};
constexpr Point points[] = {
    {255, 80, 76.0, none},  {270, 85, 80.7, none},    {285, 90, 85.5, none},  {305, 95, 90.2, none},
    {320, 100, 95.0, none}, {335, 105, 99.8, none},   {350, 110, 105, none},  {370, 115, 109, none},
    {385, 120, 114, none},  {400, 125, 119, none},    {415, 130, 124, none},  {430, 135, 128, none},
    {450, 140, 133, none},  {465, 145, 138, none},    {480, 150, 143, none},  {495, 155, 147, none},
    {510, 160, 152, none},  {530, 165, 156, none},    {545, 170, 162, none},  {560, 175, 166, none},
    {575, 180, 171, none},  {595, 185, 176, none},    {610, 190, 181, none},  {625, 195, 185, none},
    {640, 200, 190, none},  {660, 205, 195, none},    {675, 210, 199, none},  {690, 215, 204, none},
    {705, 220, 209, none},  {720, 225, 214, none},    {740, 230, 219, none},  {755, 235, 223, none},
    {770, 240, 228, 20.3},  {785, 245, 233, 21.3},    {800, 250, 238, 22.2},  {820, 255, 242, 23.1},
    {835, 260, 247, 24.0},  {850, 265, 252, 24.8},    {865, 270, 257, 25.6},  {880, 275, 261, 26.4},
    {900, 280, 266, 27.1},  {915, 285, 271, 27.8},    {930, 290, 276, 28.5},  {950, 295, 280, 29.2},
    {965, 300, 285, 29.8},  {995, 310, 295, 31.0},    {1030, 320, 304, 32.2}, {1060, 330, 314, 33.3},
    {1095, 340, 323, 34.4}, {1125, 350, 333, 35.5},   {1155, 360, 342, 36.6}, {1190, 370, 352, 37.7},
    {1220, 380, 361, 38.8}, {1255, 390, 371, 39.8},   {1290, 400, 380, 40.8}, {1320, 410, 390, 41.8},
    {1350, 420, 399, 42.7}, {1385, 430, 409, 43.6},   {1420, 440, 418, 44.5}, {1455, 450, 428, 45.3},
    {1485, 460, 437, 46.1}, {1520, 470, 447, 46.9},   {1555, 480, 456, 47.7}, {1595, 490, 466, 48.4},
    {1630, 500, 475, 49.1}, {1665, 510, 485, 49.8},   {1700, 520, 494, 50.5}, {1740, 530, 504, 51.1},
    {1775, 540, 513, 51.7}, {1810, 550, 523, 52.3},   {1845, 560, 532, 53.0}, {1880, 570, 542, 53.6},
    {1920, 580, 551, 54.1}, {1955, 590, 561, 54.7},   {1995, 600, 570, 55.2}, {2030, 610, 580, 55.7},
    {2070, 620, 589, 56.3}, {2105, 630, 599, 56.8},   {2145, 640, 608, 57.3}, {2180, 650, 618, 57.8},
    {none, 660, 627, 58.3}, {none, 670, 636.5, 58.8}, {none, 680, 646, 59.2}, {none, 690, 655.5, 59.7},
    {none, 700, 665, 60.1}, {none, 720, 684, 61.0},   {none, 740, 703, 61.8}, {none, 760, 722, 62.5},
    {none, 780, 741, 63.3}, {none, 800, 760, 64.0},   {none, 820, 779, 64.7}, {none, 840, 798, 65.3},
    {none, 860, 817, 65.9}, {none, 880, 836, 66.4},   {none, 900, 855, 67.0}, {none, 920, 874, 67.5},
    {none, 940, 893, 68.0}};

}  // namespace

std::optional<double> convert_hardness(double value, HardnessScale from, HardnessScale to) {
  if (!std::isfinite(value)) return std::nullopt;
  const Point* before = nullptr;
  for (const Point& p : points) {
    const double x = p.on(from), y = p.on(to);
    if (x == none || y == none) continue;
    if (x == value) return y;
    if (x > value) {
      if (!before) return std::nullopt;
      const double x0 = before->on(from), y0 = before->on(to);
      return y0 + (y - y0) * (value - x0) / (x - x0);
    }
    before = &p;
  }
  return std::nullopt;
}

std::pair<double, double> hardness_range(HardnessScale scale) {
  double low = none, high = none;
  for (const Point& p : points) {
    const double x = p.on(scale);
    if (x == none) continue;
    if (low == none) low = x;
    high = x;
  }
  return {low, high};
}

std::string_view name_of(HardnessScale scale) {
  static constexpr std::string_view names[] = {"HB", "HV", "HRC", "N/mm²"};
  return names[static_cast<std::size_t>(scale)];
}

}  // namespace pecorra
