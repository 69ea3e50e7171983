// A sheet of texts, as it comes from CSV, from XLSX or from the clipboard.
#pragma once

#include <string>
#include <vector>

namespace pecorra {

struct Sheet {
  std::string name;
  std::vector<std::vector<std::string>> lines;
};

}  // namespace pecorra
