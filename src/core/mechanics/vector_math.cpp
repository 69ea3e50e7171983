#include "core/mechanics/vector_math.h"

#include <cmath>

namespace pecorra {
namespace {

#if defined(__x86_64__) && defined(__GNUC__) && !defined(__clang__) && !defined(__SANITIZE_ADDRESS__) && \
    !defined(__SANITIZE_THREAD__)
[[gnu::target_clones("avx2", "default")]]
#endif
void raise(double* __restrict v, std::size_t count, double exponent) {
#pragma omp simd
  for (std::size_t i = 0; i < count; ++i) v[i] = v[i] > 1e-300 ? std::exp(exponent * std::log(v[i])) : 0;
}

}  // namespace

void raise_to(std::span<double> values, double exponent) { raise(values.data(), values.size(), exponent); }

}  // namespace pecorra
