#include <QCoreApplication>
#include <QRegularExpression>
#include <vector>

#include "shop/words.h"

namespace pecorra {
namespace {

// What readers of files and of typed values say, {} where something of the file stands. The longest first: the first
// that fits is it.
constexpr const char* sentences[] = {
    QT_TRANSLATE_NOOP("Readers",
                      "has no fields of a stock-taking sheet; a sheet that was printed and scanned, or saved without "
                      "its fields, cannot be read"),
    QT_TRANSLATE_NOOP(
        "Readers",
        "is no thread that is known; M8, M10x1, 1/4-20 UNC, #10-32, G1/2, Rc 1/2 and 1/2 NPT are written like this"),
    QT_TRANSLATE_NOOP(
        "Readers",
        "“{}” can be read as a mixed number or as a calculation; write blanks around a minus, or a proper fraction"),
    QT_TRANSLATE_NOOP(
        "Readers", "The SVG file has no outline; paths, lines, polylines, polygons, rectangles and circles are read."),
    QT_TRANSLATE_NOOP("Readers",
                      "has a DOCTYPE or entities of its own, which are not read; a plain asset document is expected"),
    QT_TRANSLATE_NOOP("Readers",
                      "“{}” can be read as a grouped number or as a mixed fraction; write it with a point, or 1-1/2"),
    QT_TRANSLATE_NOOP("Readers",
                      "this row states a chip thickness; the table feed follows from it and the width of cut"),
    QT_TRANSLATE_NOOP("Readers",
                      "“{}” is no kind of cutter that is known here, as end mill, ball end mill, drill or tap"),
    QT_TRANSLATE_NOOP("Readers", "has more than distance, height and radius; use ; between numbers that have blanks"),
    QT_TRANSLATE_NOOP("Readers", "{} has no size “{}”; sizes are 1/16, 1/8, 1/4, 3/8, 1/2, 3/4, 1, 1-1/4, 1-1/2 and 2"),
    QT_TRANSLATE_NOOP("Readers", "The SVG file has more points than an outline needs; at most 200000 are read."),
    QT_TRANSLATE_NOOP("Readers", "A path has the unknown command “{}”; M, L, H, V, C, S, Q, T, A and Z are read."),
    QT_TRANSLATE_NOOP("Readers", "is no MTConnect asset document; MTConnectAssets with Assets is expected"),
    QT_TRANSLATE_NOOP("Readers", "is missing; what the cutter is has to stand here, as end_mill or drill"),
    QT_TRANSLATE_NOOP("Readers", "is empty; what the cutter is has to stand here, as end mill or drill"),
    QT_TRANSLATE_NOOP("Readers", "nothing is written here; write a number, such as 12.5 mm or 7/16\""),
    QT_TRANSLATE_NOOP("Readers", "“{}” is no hardness; a number is expected, with HB, HV, HRC or N/mm²"),
    QT_TRANSLATE_NOOP("Readers", "“{}” has two decimal marks; write one, and blanks between thousands"),
    QT_TRANSLATE_NOOP("Readers", "is too long for a thread; M8 or 1/4-20 UNC are written like this"),
    QT_TRANSLATE_NOOP("Readers", "no column says what the cutter is, and its name does not either"),
    QT_TRANSLATE_NOOP("Readers", "its words do not say what the cutter is, as end mill or drill"),
    QT_TRANSLATE_NOOP("Readers", "“{}” is no unit known here; use mm, cm, m, um, in, ft or thou"),
    QT_TRANSLATE_NOOP("Readers", "“{}” adds a number without unit to a length; give both a unit"),
    QT_TRANSLATE_NOOP("Readers", "has a radius, but the first point is not reached by an arc"),
    QT_TRANSLATE_NOOP("Readers", "is no library: an object with a list “cutters” is expected"),
    QT_TRANSLATE_NOOP("Readers", "is no list of speeds; numbers in rpm, rising, are expected"),
    QT_TRANSLATE_NOOP("Readers", "is no number; a number without quotation marks is expected"),
    QT_TRANSLATE_NOOP("Readers", "needs a distance from the axis and a height above the tip"),
    QT_TRANSLATE_NOOP("Readers", "cannot be written: the library libxlsxwriter is not there"),
    QT_TRANSLATE_NOOP("Readers", "behind the hyphen stand the threads per inch; {} are known"),
    QT_TRANSLATE_NOOP("Readers", "a point is negative or not finite; 0 or more is expected"),
    QT_TRANSLATE_NOOP("Readers", "no valid JSON at byte {}, line {}; an object in {} is expected"),
    QT_TRANSLATE_NOOP("Readers", "a number in it is too large; finite numbers are expected"),
    QT_TRANSLATE_NOOP("Readers", "is the same point as the one before: no arc leads there"),
    QT_TRANSLATE_NOOP("Readers", "M is followed by the diameter in mm, as in M8 or M10x1"),
    QT_TRANSLATE_NOOP("Readers", "threads per inch or the series are missing; {} are known"),
    QT_TRANSLATE_NOOP("Readers", "a thread is expected, as M8, M10x1, 1/4-20 UNC or G1/2"),
    QT_TRANSLATE_NOOP("Readers", "is no UUID; 8-4-4-4-12 hexadecimal digits are expected"),
    QT_TRANSLATE_NOOP("Readers", "each is [length, lower diameter, upper diameter] in mm"),
    QT_TRANSLATE_NOOP("Readers", "“{}” is none of the inserts; the name of one is expected"),
    QT_TRANSLATE_NOOP("Readers", "the first number is the greater one; 6 .. 12 is right"),
    QT_TRANSLATE_NOOP("Readers", "The SVG file has more than {} levels inside each other."),
    QT_TRANSLATE_NOOP("Readers", "The file is larger than 16 MB; save only the outline."),
    QT_TRANSLATE_NOOP("Readers", "{} is outside the table of ISO 18265; {} can be converted"),
    QT_TRANSLATE_NOOP("Readers", "{} is out of range; more than {} and at most {} is expected"),
    QT_TRANSLATE_NOOP("Readers", "radius {} is too small for the way; at least {} is right"),
    QT_TRANSLATE_NOOP("Readers", "a number, as 12, or a range, as 6 .. 12, is expected"),
    QT_TRANSLATE_NOOP("Readers", "{} is out of range; at least {} and at most {} is expected"),
    QT_TRANSLATE_NOOP("Readers", "“{}” divides a length by a length, which is no length"),
    QT_TRANSLATE_NOOP("Readers", "“{}” divides a number by a length, which is no length"),
    QT_TRANSLATE_NOOP("Readers", "the speeds do not rise; rising speeds are expected"),
    QT_TRANSLATE_NOOP("Readers", "is no text; a text in quotation marks is expected"),
    QT_TRANSLATE_NOOP("Readers", "is one too many; at most {} points make an outline"),
    QT_TRANSLATE_NOOP("Readers", "behind the × stands the pitch in mm, as in M10x1"),
    QT_TRANSLATE_NOOP("Readers", "cannot be used: the library libqpdf is not there"),
    QT_TRANSLATE_NOOP("Readers", "{} is no whole number; a whole number is expected"),
    QT_TRANSLATE_NOOP("Readers", "“{}” multiplies two lengths; one unit is enough"),
    QT_TRANSLATE_NOOP("Readers", "“{}” is no number of a tool; 1 or more is right"),
    QT_TRANSLATE_NOOP("Readers", "this row states a chip thickness, not a feed"),
    QT_TRANSLATE_NOOP("Readers", "is no curve; a list of [rpm, kW] is expected"),
    QT_TRANSLATE_NOOP("Readers", "is too large; at most 1000000000 is expected"),
    QT_TRANSLATE_NOOP("Readers", "is of a newer Pecorra; this one reads up to {}"),
    QT_TRANSLATE_NOOP("Readers", "is out of range; 0 to less than 90 is right"),
    QT_TRANSLATE_NOOP("Readers", "This is no SVG file: it has no svg element."),
    QT_TRANSLATE_NOOP("Readers", "is not finite; a finite number is expected"),
    QT_TRANSLATE_NOOP("Readers", "a decimal mark stands here without digits"),
    QT_TRANSLATE_NOOP("Readers", "no valid JSON; an object in {} is expected"),
    QT_TRANSLATE_NOOP("Readers", "{} is out of range; more than {} is expected"),
    QT_TRANSLATE_NOOP("Readers", "a number is missing; 6 .. 12 is a range"),
    QT_TRANSLATE_NOOP("Readers", "is no CSV: quotation marks do not match"),
    QT_TRANSLATE_NOOP("Readers", "This is no SVG file: its XML is broken."),
    QT_TRANSLATE_NOOP("Readers", "{} is out of range; at least {} is expected"),
    QT_TRANSLATE_NOOP("Readers", "is not possible; more than 0 is right"),
    QT_TRANSLATE_NOOP("Readers", "more than {} brackets inside each other"),
    QT_TRANSLATE_NOOP("Readers", "M{} is not in ISO 261; the nearest is M{}"),
    QT_TRANSLATE_NOOP("Readers", "is no flag; true or false is expected"),
    QT_TRANSLATE_NOOP("Readers", "each point is [rpm, kW], two numbers"),
    QT_TRANSLATE_NOOP("Readers", "is not known here; “{}” is the nearest"),
    QT_TRANSLATE_NOOP("Readers", "the text is longer than {} characters"),
    QT_TRANSLATE_NOOP("Readers", "M{} has no coarse pitch; ISO 261 has {}"),
    QT_TRANSLATE_NOOP("Readers", "more than {} levels inside each other"),
    QT_TRANSLATE_NOOP("Readers", "is damaged UTF-16; save it as UTF-8"),
    QT_TRANSLATE_NOOP("Readers", "each is [distance, diameter] in mm"),
    QT_TRANSLATE_NOOP("Readers", "is no text; a CSV file is expected"),
    QT_TRANSLATE_NOOP("Readers", "“{}” is not known; “{}” is the nearest"),
    QT_TRANSLATE_NOOP("Readers", "low, target and high do not rise"),
    QT_TRANSLATE_NOOP("Readers", "stands here twice; once is right"),
    QT_TRANSLATE_NOOP("Readers", "is no well-formed XML: {} at byte {}"),
    QT_TRANSLATE_NOOP("Readers", "has no sheet with anything in it"),
    QT_TRANSLATE_NOOP("Readers", "“{}” is not as it is written here"),
    QT_TRANSLATE_NOOP("Readers", "“{}” stands where a number should"),
    QT_TRANSLATE_NOOP("Readers", "a length unit does not fit here"),
    QT_TRANSLATE_NOOP("Readers", "a cutter is no wider than 1 × D"),
    QT_TRANSLATE_NOOP("Readers", "{} has no such thread; {} are known"),
    QT_TRANSLATE_NOOP("Readers", "is not known here; leave it out"),
    QT_TRANSLATE_NOOP("Readers", "a number is missing at the end"),
    QT_TRANSLATE_NOOP("Readers", "low, target and high must rise"),
    QT_TRANSLATE_NOOP("Readers", "{} is out of range; {} is expected"),
    QT_TRANSLATE_NOOP("Readers", "a whole number is needed here"),
    QT_TRANSLATE_NOOP("Readers", "“{}” has no meaning in a number"),
    QT_TRANSLATE_NOOP("Readers", "this bracket was never opened"),
    QT_TRANSLATE_NOOP("Readers", "a number is missing before “{}”"),
    QT_TRANSLATE_NOOP("Readers", "M{} has no pitch {}; ISO 261 has {}"),
    QT_TRANSLATE_NOOP("Readers", "is no list; [ … ] is expected"),
    QT_TRANSLATE_NOOP("Readers", "this bracket is never closed"),
    QT_TRANSLATE_NOOP("Readers", "the diameter is needed first"),
    QT_TRANSLATE_NOOP("Readers", "“{}” is not known; use one of {}"),
    QT_TRANSLATE_NOOP("Readers", "is no PDF that can be read: {}"),
    QT_TRANSLATE_NOOP("Readers", "a sign is missing before “{}”"),
    QT_TRANSLATE_NOOP("Readers", "unpacks to more than 200 MB"),
    QT_TRANSLATE_NOOP("Readers", "could not be given its name"),
    QT_TRANSLATE_NOOP("Readers", "place {}, “{}”, is not known; {}"),
    QT_TRANSLATE_NOOP("Readers", "an object is expected here"),
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
    QT_TRANSLATE_NOOP("Readers", "is no XLSX workbook"),
    QT_TRANSLATE_NOOP("Readers", "cannot be written: {}"),
    QT_TRANSLATE_NOOP("Readers", "“{}” divides by zero"),
    QT_TRANSLATE_NOOP("Readers", "1 or more is right"),
    QT_TRANSLATE_NOOP("Readers", "cannot be written"),
    QT_TRANSLATE_NOOP("Readers", "“{}” has two units"),
    QT_TRANSLATE_NOOP("Readers", "{} is not possible"),
    QT_TRANSLATE_NOOP("Readers", "is out of range"),
    QT_TRANSLATE_NOOP("Readers", "a finite number"),
    QT_TRANSLATE_NOOP("Readers", "is no XLSX file"),
    QT_TRANSLATE_NOOP("Readers", "“{}” is no number"),
    QT_TRANSLATE_NOOP("Readers", "“{}” is no UUID"),
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
    for (const char* source : sentences) {
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
  const QString text = text_of(english);
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
