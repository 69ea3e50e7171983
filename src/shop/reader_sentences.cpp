#include <QCoreApplication>
#include <QRegularExpression>
#include <vector>

#include "shop/words.h"

namespace pecorra {
namespace {

// Messages of the readers of files and typed values, with {} for text from the file. Longest first: the first match is
// used.
constexpr const char* reader_table[] = {
    QT_TRANSLATE_NOOP("Readers", "a bracket without its pair, or a byte that no program has"),
    QT_TRANSLATE_NOOP("Readers", "a word without a number"),
    QT_TRANSLATE_NOOP("Readers", "unknown code"),
    QT_TRANSLATE_NOOP("Readers", "macro call"),
    QT_TRANSLATE_NOOP("Readers", "speed or feed computed by the control"),
    QT_TRANSLATE_NOOP("Readers", "the subprogram it calls is not in this file or its folder"),
    QT_TRANSLATE_NOOP("Readers", "calls itself, or calls nested too deep"),
    QT_TRANSLATE_NOOP("Readers", "a move before any of G0 to G3"),
    QT_TRANSLATE_NOOP("Readers", "a subprogram of several tools, {}; its S and F stay"),
    QT_TRANSLATE_NOOP("Readers", "the subprogram it calls is in a separate file; S and F there stay as they are"),
    QT_TRANSLATE_NOOP("Readers",  // one sentence in two pieces, NOLINTNEXTLINE(bugprone-suspicious-missing-comma)
                      "has no stock-taking form fields; a printed and scanned sheet, or one saved without its fields, "
                      "cannot be read"),
    QT_TRANSLATE_NOOP("Readers", "is not a known thread; write M8, M10x1, 1/4-20 UNC, #10-32, G1/2, Rc 1/2 or 1/2 NPT"),
    QT_TRANSLATE_NOOP(
        "Readers",
        "“{}” could be a mixed number or a calculation; put spaces around the minus, or write a proper fraction"),
    QT_TRANSLATE_NOOP(
        "Readers", "The SVG file has no outline; paths, lines, polylines, polygons, rectangles and circles are read."),
    QT_TRANSLATE_NOOP("Readers",
                      "has a DOCTYPE or entities of its own, which are not supported; expected a plain asset document"),
    QT_TRANSLATE_NOOP("Readers",
                      "“{}” could be a grouped number or a mixed fraction; write it with a decimal point, or as 1-1/2"),
    QT_TRANSLATE_NOOP("Readers",
                      "this row states a chip thickness; the table feed is calculated from it and the width of cut"),
    QT_TRANSLATE_NOOP("Readers", "“{}” is not a known kind of cutter, such as end mill, ball end mill, drill or tap"),
    QT_TRANSLATE_NOOP("Readers",
                      "has more than distance, height and radius; separate numbers that contain spaces with ;"),
    QT_TRANSLATE_NOOP("Readers", "{} has no size “{}”; sizes are 1/16, 1/8, 1/4, 3/8, 1/2, 3/4, 1, 1-1/4, 1-1/2 and 2"),
    QT_TRANSLATE_NOOP("Readers", "The SVG file has more points than an outline needs; at most 200000 are read."),
    QT_TRANSLATE_NOOP("Readers", "A path has the unknown command “{}”; M, L, H, V, C, S, Q, T, A and Z are read."),
    QT_TRANSLATE_NOOP("Readers", "is not an MTConnect asset document; expected MTConnectAssets with Assets"),
    QT_TRANSLATE_NOOP("Readers", "is missing; give the kind of cutter, such as end_mill or drill"),
    QT_TRANSLATE_NOOP("Readers", "is empty; give the kind of cutter, such as end mill or drill"),
    QT_TRANSLATE_NOOP("Readers", "this is empty; enter a number, such as 12.5 mm or 7/16\""),
    QT_TRANSLATE_NOOP("Readers", "“{}” is not a hardness; enter a number with HB, HV, HRC or N/mm²"),
    QT_TRANSLATE_NOOP("Readers", "“{}” has two decimal marks; use one, and spaces between thousands"),
    QT_TRANSLATE_NOOP("Readers", "is compressed in a way that is not read; save it again in a PDF viewer"),
    QT_TRANSLATE_NOOP("Readers", "is too long for a thread; write M8 or 1/4-20 UNC"),
    QT_TRANSLATE_NOOP("Readers", "neither a column nor the name says what kind of cutter it is"),
    QT_TRANSLATE_NOOP("Readers", "its description does not name a kind of cutter, such as end mill or drill"),
    QT_TRANSLATE_NOOP("Readers", "“{}” is not a known unit; use mm, cm, m, um, in, ft or thou"),
    QT_TRANSLATE_NOOP("Readers", "“{}” adds a number without a unit to a length; give both a unit"),
    QT_TRANSLATE_NOOP("Readers", "has a radius, but no arc leads to the first point"),
    QT_TRANSLATE_NOOP("Readers", "is not a library; expected an object with a list “cutters”"),
    QT_TRANSLATE_NOOP("Readers", "is not a list of speeds; expected rising numbers in rpm"),
    QT_TRANSLATE_NOOP("Readers", "is not a number; expected a number without quotation marks"),
    QT_TRANSLATE_NOOP("Readers", "needs a distance from the axis and a height above the tip"),
    QT_TRANSLATE_NOOP("Readers", "cannot be written: the library libxlsxwriter is not there"),
    QT_TRANSLATE_NOOP("Readers", "threads per inch follow the hyphen; known: {}"),
    QT_TRANSLATE_NOOP("Readers", "a point is negative or not finite; expected 0 or more"),
    QT_TRANSLATE_NOOP("Readers", "invalid JSON at byte {}, line {}; expected an object in {}"),
    QT_TRANSLATE_NOOP("Readers", "contains a number that is too large; expected finite numbers"),
    QT_TRANSLATE_NOOP("Readers", "is the same point as the one before; an arc needs two points"),
    QT_TRANSLATE_NOOP("Readers", "M must be followed by the diameter in mm, as in M8 or M10x1"),
    QT_TRANSLATE_NOOP("Readers", "threads per inch or series are missing; known: {}"),
    QT_TRANSLATE_NOOP("Readers", "expected a thread, such as M8, M10x1, 1/4-20 UNC or G1/2"),
    QT_TRANSLATE_NOOP("Readers", "is not a UUID; expected 8-4-4-4-12 hexadecimal digits"),
    QT_TRANSLATE_NOOP("Readers", "each is [length, lower diameter, upper diameter] in mm"),
    QT_TRANSLATE_NOOP("Readers", "“{}” is not one of the inserts; expected the name of one"),
    QT_TRANSLATE_NOOP("Readers", "the first number is greater than the second; write 6 .. 12"),
    QT_TRANSLATE_NOOP("Readers", "The SVG file is nested more than {} levels deep."),
    QT_TRANSLATE_NOOP("Readers", "The file is larger than 16 MB; save only the outline."),
    QT_TRANSLATE_NOOP("Readers", "{} is outside the table of ISO 18265; {} can be converted"),
    QT_TRANSLATE_NOOP("Readers", "{} is out of range; expected more than {} and at most {}"),
    QT_TRANSLATE_NOOP("Readers", "radius {} is too small for this arc; at least {} is needed"),
    QT_TRANSLATE_NOOP("Readers", "enter a number, such as 12, or a range, such as 6 .. 12"),
    QT_TRANSLATE_NOOP("Readers", "{} is out of range; expected at least {} and at most {}"),
    QT_TRANSLATE_NOOP("Readers", "“{}” divides a length by a length, which is not a length"),
    QT_TRANSLATE_NOOP("Readers", "“{}” divides a number by a length, which is not a length"),
    QT_TRANSLATE_NOOP("Readers", "the speeds must rise"),
    QT_TRANSLATE_NOOP("Readers", "is not text; expected text in quotation marks"),
    QT_TRANSLATE_NOOP("Readers", "is one point too many; an outline has at most {} points"),
    QT_TRANSLATE_NOOP("Readers", "the pitch in mm follows the ×, as in M10x1"),
    QT_TRANSLATE_NOOP("Readers", "cannot be used: the library libqpdf is not there"),
    QT_TRANSLATE_NOOP("Readers", "{} is not a whole number"),
    QT_TRANSLATE_NOOP("Readers", "“{}” multiplies two lengths; one unit is enough"),
    QT_TRANSLATE_NOOP("Readers", "“{}” is not a tool number; use 1 or more"),
    QT_TRANSLATE_NOOP("Readers", "this row states a chip thickness, not a feed"),
    QT_TRANSLATE_NOOP("Readers", "is not a curve; expected a list of [rpm, kW]"),
    QT_TRANSLATE_NOOP("Readers", "is too large; at most 1000000000"),
    QT_TRANSLATE_NOOP("Readers", "was written by a newer Pecorra; this one reads up to {}"),
    QT_TRANSLATE_NOOP("Readers", "is out of range; it must be 0 to less than 90"),
    QT_TRANSLATE_NOOP("Readers", "This is not an SVG file: it has no svg element."),
    QT_TRANSLATE_NOOP("Readers", "is not finite; expected a finite number"),
    QT_TRANSLATE_NOOP("Readers", "a decimal mark without digits"),
    QT_TRANSLATE_NOOP("Readers", "invalid JSON; expected an object in {}"),
    QT_TRANSLATE_NOOP("Readers", "{} is out of range; expected more than {}"),
    QT_TRANSLATE_NOOP("Readers", "a number is missing; 6 .. 12 is a range"),
    QT_TRANSLATE_NOOP("Readers", "is not valid CSV: quotation marks do not match"),
    QT_TRANSLATE_NOOP("Readers", "This is not an SVG file: its XML is broken."),
    QT_TRANSLATE_NOOP("Readers", "{} is out of range; expected at least {}"),
    QT_TRANSLATE_NOOP("Readers", "is not possible; use more than 0"),
    QT_TRANSLATE_NOOP("Readers", "more than {} nested brackets"),
    QT_TRANSLATE_NOOP("Readers", "M{} is not in ISO 261; the nearest is M{}"),
    QT_TRANSLATE_NOOP("Readers", "is not a flag; expected true or false"),
    QT_TRANSLATE_NOOP("Readers", "each point is [rpm, kW], two numbers"),
    QT_TRANSLATE_NOOP("Readers", "is not known; “{}” is the nearest"),
    QT_TRANSLATE_NOOP("Readers", "the text is longer than {} characters"),
    QT_TRANSLATE_NOOP("Readers", "M{} has no coarse pitch; ISO 261 has {}"),
    QT_TRANSLATE_NOOP("Readers", "nested more than {} levels deep"),
    QT_TRANSLATE_NOOP("Readers", "is damaged UTF-16; save it as UTF-8"),
    QT_TRANSLATE_NOOP("Readers", "each is [distance, diameter] in mm"),
    QT_TRANSLATE_NOOP("Readers", "is not a text file; expected CSV"),
    QT_TRANSLATE_NOOP("Readers", "“{}” is not known; “{}” is the nearest"),
    QT_TRANSLATE_NOOP("Readers", "low, target and high do not rise"),
    QT_TRANSLATE_NOOP("Readers", "appears twice; once is enough"),
    QT_TRANSLATE_NOOP("Readers", "is not well-formed XML: {} at byte {}"),
    QT_TRANSLATE_NOOP("Readers", "has no sheet with data"),
    QT_TRANSLATE_NOOP("Readers", "“{}” is not written as expected"),
    QT_TRANSLATE_NOOP("Readers", "“{}” appears where a number should be"),
    QT_TRANSLATE_NOOP("Readers", "a length unit is not allowed here"),
    QT_TRANSLATE_NOOP("Readers", "the width of cut cannot exceed 1 × D"),
    QT_TRANSLATE_NOOP("Readers", "{} has no such thread; known: {}"),
    QT_TRANSLATE_NOOP("Readers", "is not known; leave it out"),
    QT_TRANSLATE_NOOP("Readers", "a number is missing at the end"),
    QT_TRANSLATE_NOOP("Readers", "low, target and high must rise"),
    QT_TRANSLATE_NOOP("Readers", "{} is out of range; expected {}"),
    QT_TRANSLATE_NOOP("Readers", "a whole number is needed here"),
    QT_TRANSLATE_NOOP("Readers", "“{}” has no meaning in a number"),
    QT_TRANSLATE_NOOP("Readers", "this bracket was not opened"),
    QT_TRANSLATE_NOOP("Readers", "a number is missing before “{}”"),
    QT_TRANSLATE_NOOP("Readers", "M{} has no pitch {}; ISO 261 has {}"),
    QT_TRANSLATE_NOOP("Readers", "is not a list; expected [ … ]"),
    QT_TRANSLATE_NOOP("Readers", "this bracket is not closed"),
    QT_TRANSLATE_NOOP("Readers", "the diameter is needed first"),
    QT_TRANSLATE_NOOP("Readers", "“{}” is not known; use one of {}"),
    QT_TRANSLATE_NOOP("Readers", "is not a readable PDF: {}"),
    QT_TRANSLATE_NOOP("Readers", "an operator is missing before “{}”"),
    QT_TRANSLATE_NOOP("Readers", "unpacks to more than 200 MB"),
    QT_TRANSLATE_NOOP("Readers", "could not be given its name"),
    QT_TRANSLATE_NOOP("Readers", "place {}, “{}”, is not known; {}"),
    QT_TRANSLATE_NOOP("Readers", "expected an object here"),
    QT_TRANSLATE_NOOP("Readers", "the speed is needed first"),
    QT_TRANSLATE_NOOP("Readers", "the form cannot be made: {}"),
    QT_TRANSLATE_NOOP("Readers", "more than 0 is needed"),
    QT_TRANSLATE_NOOP("Readers", "this is not a number"),
    QT_TRANSLATE_NOOP("Readers", "is larger than 32 MB"),
    QT_TRANSLATE_NOOP("Readers", "number {} here is {}, order code {}"),
    QT_TRANSLATE_NOOP("Readers", "number {} is taken; it gets {}"),
    QT_TRANSLATE_NOOP("Readers", "number {} here is {}"),
    QT_TRANSLATE_NOOP("Readers", "line {} says something else"),
    QT_TRANSLATE_NOOP("Readers", "place {} is missing; {}"),
    QT_TRANSLATE_NOOP("Readers", "is not an XLSX workbook"),
    QT_TRANSLATE_NOOP("Readers", "cannot be written: {}"),
    QT_TRANSLATE_NOOP("Readers", "“{}” divides by zero"),
    QT_TRANSLATE_NOOP("Readers", "use 1 or more"),
    QT_TRANSLATE_NOOP("Readers", "cannot be written"),
    QT_TRANSLATE_NOOP("Readers", "“{}” has two units"),
    QT_TRANSLATE_NOOP("Readers", "{} is not possible"),
    QT_TRANSLATE_NOOP("Readers", "is out of range"),
    QT_TRANSLATE_NOOP("Readers", "a finite number"),
    QT_TRANSLATE_NOOP("Readers", "is not an XLSX file"),
    QT_TRANSLATE_NOOP("Readers", "“{}” is not a number"),
    QT_TRANSLATE_NOOP("Readers", "“{}” is not a UUID"),
    QT_TRANSLATE_NOOP("Readers", "use one of {}"),
    QT_TRANSLATE_NOOP("Readers", "is missing"),
    QT_TRANSLATE_NOOP("Readers", "is empty"),
};

struct Pattern {
  const char* source;
  QRegularExpression form;
};

const std::vector<Pattern>& patterns() {
  static const std::vector<Pattern> all = [] {
    std::vector<Pattern> list;
    for (const char* source : reader_table) {
      QString form = QRegularExpression::escape(QString::fromUtf8(source));
      form.replace(QRegularExpression::escape(QStringLiteral("{}")), QStringLiteral("(.*)"));
      list.push_back({source, QRegularExpression(QRegularExpression::anchoredPattern(form),
                                                 QRegularExpression::DotMatchesEverythingOption)});
    }
    return list;
  }();
  return all;
}

}  // namespace

QString reader_text(std::string_view english) {
  QString text = text_of(english);
  for (const Pattern& p : patterns()) {
    const auto match = p.form.match(text);
    if (!match.hasMatch()) continue;
    QString translated = QCoreApplication::translate("Readers", p.source);
    for (int i = 1; i <= match.lastCapturedIndex(); ++i) {
      const qsizetype at = translated.indexOf(QLatin1String("{}"));
      if (at >= 0) translated.replace(at, 2, match.captured(i));
    }
    return translated;
  }
  return text;
}

QString reader_text(const FormatFault& fault) {
  return fault.key.empty() ? reader_text(fault.text)
                           : text_of(fault.key) + QStringLiteral(": ") + reader_text(fault.text);
}

}  // namespace pecorra
