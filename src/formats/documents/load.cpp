#include <dlfcn.h>

#include "formats/documents/documents.h"

namespace pecorra {

tl::expected<const Documents*, FormatFault> documents() {
  // Found by the run path of the program. Stays loaded.
  static void* const module = dlopen("libpecorra_documents.so", RTLD_NOW | RTLD_LOCAL);
  static void* const symbol = module ? dlsym(module, "pecorra_documents") : nullptr;
  if (!symbol)
    return tl::unexpected(
        FormatFault{"", "needs the module libpecorra_documents.so, which cannot be loaded; reinstall Pecorra"});
  return static_cast<const Documents*>(symbol);
}

tl::expected<std::string, FormatFault> pdf_with_cells(std::string_view pdf, const Sheet& sheet,
                                                      const std::vector<FormCell>& cells) {
  return documents().and_then([&](const Documents* d) { return d->form_of(pdf, sheet, cells); });
}

tl::expected<Sheet, FormatFault> read_pdf_form(std::string_view pdf) {
  return documents().and_then([&](const Documents* d) { return d->read_form(pdf); });
}

}  // namespace pecorra
