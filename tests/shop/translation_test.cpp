// Texts for translation: what the core calls things stands in a file that Qt's tools read, and so does what readers
// say.
#include <QCoreApplication>
#include <QFile>
#include <QTranslator>
#include <catch2/catch.hpp>
#include <set>

#include "formats/json/objects.h"
#include "shop/retune_file.h"
#include "shop/words.h"
#include "support/label_texts.h"

using namespace pecorra;

namespace {

class Marking : public QTranslator {
 public:
  QString translate(const char*, const char* source, const char*, int) const override {
    return QStringLiteral("<") + QString::fromUtf8(source) + QStringLiteral(">");
  }
  bool isEmpty() const override { return false; }
};

}  // namespace

TEST_CASE("labels of the core stand in the file that Qt's tools read") {
  const std::string wanted = test::LabelTexts().source();
  QFile file(QStringLiteral(PECORRA_SOURCES "/shop/label_texts.cpp"));
  if (qEnvironmentVariableIsSet("PECORRA_ACCEPT")) {
    REQUIRE(file.open(QIODevice::WriteOnly));
    file.write(wanted.data(), static_cast<qint64>(wanted.size()));
    file.close();
  }
  REQUIRE(file.open(QIODevice::ReadOnly));
  CHECK(file.readAll().toStdString() == wanted);
}

TEST_CASE("what readers say is found in their table, with what stands in it") {
  Marking marking;
  QCoreApplication::installTranslator(&marking);
  const auto translated = [](const std::string& text) { return reader_text(text).toStdString(); };
  for (const char* typed : {"12 parsec", "1/0", "((", "12 * 3 mm mm", "", "1,5,3", "3 mm + 4", "mm"})
    if (const auto entry = parse_entry(typed, Quantity::length, UnitSystem::metric); !entry) {
      INFO(typed << ": " << entry.error().text);
      CHECK(translated(entry.error().text).starts_with("<"));
    }
  for (const char* json : {R"({"diameter_mm": "ten"})", R"({"kind": "sharpener"})", R"({"kind": "end_mil"})",
                           R"({"flutes": 2.5})", R"({"retired": 1})", R"({"id": "x"})"}) {
    FormatFaults faults;
    Cutter c;
    from_json(c, *parse_json(json), faults);
    REQUIRE(faults.size() == 1);
    INFO(faults[0].line());
    CHECK(reader_text(faults[0]).contains(QLatin1Char('<')));
  }
  const std::string program =
      "O1\nX5\nT1 M6\nS1 M3\nG1 X1 F9\nG777 X5\nX0 [\n(open\nG65 P1\nF#9\nM98 P77\nM98 P5\nT2 M6\nG1 X9\nM98 P5\nM30\n"
      "O5\nG1 X5\nM98 P5\nM99\n";
  RetunedFile file;
  file.read.text = std::make_shared<const ProgramText>(ProgramText::read(program));
  file.reading = std::make_shared<const ProgramReading>(read_program(*file.read.text));
  file.done = retune(*file.read.text, *file.reading, std::vector<NewConditions>(file.reading->sections.size()));
  std::set<std::string> reasons;
  for (const RetunedFile::LeftAlone& l : file.left_alone()) {
    INFO(l.text << ": " << l.why);
    CHECK(translated(l.why).starts_with("<"));
    reasons.insert(l.why);
  }
  CHECK(reasons.size() == 9);

  QCoreApplication::removeTranslator(&marking);
  CHECK(reader_text("is empty") == "is empty");
}
