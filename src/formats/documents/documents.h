// Features with rarely used libraries: PDF forms (libqpdf) and writing workbooks (libxlsxwriter). Every linked library
// delays each start, so these two are in a module loaded on first use.
#pragma once

#include <string>
#include <string_view>
#include <tl/expected.hpp>
#include <vector>

#include "formats/documents/form_sheet.h"

namespace pecorra {

struct Documents {
  tl::expected<std::string, FormatFault> (*form_of)(std::string_view pdf, const Sheet& sheet,
                                                    const std::vector<FormCell>& cells);
  tl::expected<Sheet, FormatFault> (*read_form)(std::string_view pdf);
  tl::expected<std::string, FormatFault> (*workbook_of)(const Sheet& sheet);
};

// Loaded at the first call, from the folder of the program's libraries. Fails when the module is not installed.
tl::expected<const Documents*, FormatFault> documents();

}  // namespace pecorra

// The module's one symbol.
extern "C" {
__attribute__((visibility("default"))) extern const pecorra::Documents pecorra_documents;
}
