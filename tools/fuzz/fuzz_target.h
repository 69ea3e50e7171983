// Which of a program's targets is fuzzed.
#pragma once

#include <cstdio>
#include <cstdlib>
#include <initializer_list>
#include <string_view>
#include <utility>

namespace pecorra {

using FuzzTarget = void (*)(std::string_view input);

// The target that PECORRA_FUZZ names. Without one the program ends and says what it has.
inline FuzzTarget fuzz_target(std::initializer_list<std::pair<std::string_view, FuzzTarget>> targets) {
  const char* wanted = std::getenv("PECORRA_FUZZ");
  for (const auto& [name, target] : targets)
    if (wanted && name == wanted) return target;
  std::fputs("PECORRA_FUZZ has to be one of:", stderr);
  for (const auto& [name, target] : targets) std::fprintf(stderr, " %.*s", static_cast<int>(name.size()), name.data());
  std::fputs("\n", stderr);
  std::exit(2);
}

}  // namespace pecorra
