#include <dlfcn.h>

#include "formats/paper/paper.h"

namespace pecorra {

tl::expected<const Paper*, FormatFault> paper() {
  // Found by the run path of the program. Stays loaded.
  static void* const module = dlopen("libpecorra_paper.so", RTLD_NOW | RTLD_LOCAL);
  static void* const symbol = module ? dlsym(module, "pecorra_paper") : nullptr;
  if (!symbol)
    return tl::unexpected(
        FormatFault{"", "needs the module libpecorra_paper.so, which cannot be loaded; reinstall Pecorra"});
  return static_cast<const Paper*>(symbol);
}

tl::expected<QByteArray, FormatFault> setup_sheet_pdf(const SetupSheet& sheet, PaperOrientation orientation) {
  return paper().map([&](const Paper* p) { return p->setup_sheet(sheet, orientation); });
}

tl::expected<QByteArray, FormatFault> page_pdf(const QString& html, PaperOrientation orientation) {
  return paper().map([&](const Paper* p) { return p->page(html, orientation); });
}

}  // namespace pecorra
