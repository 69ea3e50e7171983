// Reads and writes plain decimals, as nearly all numbers in files are, faster than the standard library and with the
// same result: up to 15 digits are an exact integer in a double, and dividing it by a power of ten rounds only once.
#pragma once

#include <charconv>
#include <cmath>
#include <cstdint>

namespace pecorra {

inline constexpr double powers_of_ten[] = {1,   1e1, 1e2,  1e3,  1e4,  1e5,  1e6,  1e7,
                                           1e8, 1e9, 1e10, 1e11, 1e12, 1e13, 1e14, 1e15};

// Reads "12" or "0.05" and returns where it ends; nullptr for any other form and for more than 15 digits.
inline const char* read_decimal(const char* from, const char* end, double& out) {
  std::int64_t digits = 0;
  int count = 0, behind_point = 0;
  const char* to = from;
  for (; to != end && *to >= '0' && *to <= '9' && count < 16; ++to, ++count) digits = digits * 10 + (*to - '0');
  if (count == 0) return nullptr;
  if (to != end && *to == '.') {
    for (++to; to != end && *to >= '0' && *to <= '9' && count < 16; ++to, ++count, ++behind_point)
      digits = digits * 10 + (*to - '0');
    if (behind_point == 0) return nullptr;
  }
  if (count > 15) return nullptr;
  out = static_cast<double>(digits) / powers_of_ten[behind_point];
  return to;
}

// The shortest text that reads back as the same, whole numbers without a point; returns where it ends. Needs 32
// characters.
inline char* write_decimal(char* to, char* end, double value) {
  const double size = std::abs(value);
  if (size < 1e15 && value == std::floor(value)) return std::to_chars(to, end, static_cast<std::int64_t>(value)).ptr;
  // Different decimals of up to 15 digits are different doubles, so one that reads back as this number is the shortest.
  if (const double thousandfold = std::round(size * 1e3); size >= 1e-3 && size < 1e11 && thousandfold / 1e3 == size) {
    const auto digits = static_cast<std::int64_t>(thousandfold);
    if (value < 0) *to++ = '-';
    to = std::to_chars(to, end, digits / 1000).ptr;
    if (end - to < 4) return to;
    auto part = static_cast<int>(digits % 1000);
    *to++ = '.';
    for (int tenth = 100; part > 0; part %= tenth, tenth /= 10) *to++ = static_cast<char>('0' + part / tenth);
    return to;
  }
  return std::to_chars(to, end, value).ptr;
}

}  // namespace pecorra
