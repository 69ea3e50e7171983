// Documents on paper. What draws them needs Qt's graphics, which a command line does not start with: a module that is
// loaded at first use.
#pragma once

#include <QByteArray>
#include <QCoreApplication>
#include <memory>
#include <tl/expected.hpp>

#include "formats/format_fault.h"
#include "formats/paper/setup_sheet.h"

namespace pecorra {

enum class PaperOrientation { landscape, portrait };

struct Paper {
  // A program without a window needs one of these before it draws; with a window it has its own.
  QCoreApplication* (*application)(int& argc, char** argv);
  QByteArray (*setup_sheet)(const SetupSheet& sheet, PaperOrientation orientation);
  QByteArray (*page)(const QString& html, PaperOrientation orientation);
};
tl::expected<const Paper*, FormatFault> paper();

// A4. Each setup begins on a page of its own.
tl::expected<QByteArray, FormatFault> setup_sheet_pdf(const SetupSheet& sheet, PaperOrientation orientation);
// A plain page of HTML: headings, paragraphs, lists, tables.
tl::expected<QByteArray, FormatFault> page_pdf(const QString& html, PaperOrientation orientation);
// One file, with nothing from outside; printed as A4 landscape or portrait.
QByteArray setup_sheet_html(const SetupSheet& sheet, PaperOrientation orientation);

}  // namespace pecorra

// The module's one symbol.
extern "C" {
__attribute__((visibility("default"))) extern const pecorra::Paper pecorra_paper;
}
