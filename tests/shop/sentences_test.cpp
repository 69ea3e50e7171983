// The table of sentences against everything that the sources can say: every code has a sentence, every figure that a
// sentence names is given where the code is said, and no sentence is left over.
#include <QDirIterator>
#include <QFile>
#include <QRegularExpression>
#include <catch2/catch.hpp>
#include <map>
#include <set>

#include "shop/sentences.h"
#include "shop/words.h"

using namespace pecorra;

namespace {

struct Source {
  QString name, text;
};

std::vector<Source> sources() {
  std::vector<Source> all;
  QDirIterator files(QStringLiteral(PECORRA_SOURCES), {"*.cpp", "*.h"}, QDir::Files, QDirIterator::Subdirectories);
  while (files.hasNext()) {
    QFile file(files.next());
    if (file.fileName().endsWith("_sentences.cpp") || !file.open(QIODevice::ReadOnly)) continue;
    all.push_back({file.fileName(), QString::fromUtf8(file.readAll())});
  }
  return all;
}

std::set<QString> matches(const QString& text, const char* pattern) {
  std::set<QString> found;
  auto every = QRegularExpression(QString::fromLatin1(pattern)).globalMatch(text);
  while (every.hasNext()) found.insert(every.next().captured(1));
  return found;
}

// Of the parts that are always said, or of those that a condition decides.
std::set<QString> figures_of(const Sentence& sentence, bool conditional) {
  std::set<QString> names;
  for (const SentencePart& part : sentence.parts)
    if (part.text && (part.when != nullptr) == conditional)
      for (const QString& name : matches(QString::fromUtf8(part.text), "\\{(\\w+)[:}]")) names.insert(name);
  return names;
}

// Calls with a code as a literal: of a message, or of a step.
constexpr const char* message_patterns[] = {"Severity::\\w+,\\s*\"([a-z_0-9]+)\"", "\\bfault\\(\\s*\"([a-z_0-9]+)\"",
                                            "\\bwarn\\(\\s*\"([a-z_0-9]+)\""};
constexpr const char* step_pattern = "\\breport\\.add\\(\\s*\"([a-z_0-9]+)\"";

using Given = std::map<std::string, std::set<QString>, std::less<>>;  // by code

void check_said(std::span<const Sentence> sentences, const Source& source, const std::set<QString>& codes,
                Given& given_somewhere) {
  const std::set<QString> given = matches(source.text, "\\{\\s*\"([a-z_0-9]+)\",");
  for (const QString& code : codes) {
    const std::string key = code.toStdString();
    INFO(source.name.toStdString() << " says " << key);
    const auto found =
        std::find_if(sentences.begin(), sentences.end(), [&](const Sentence& s) { return s.code == key; });
    REQUIRE(found != sentences.end());
    for (const QString& name : figures_of(*found, false)) {
      INFO("figure " << name.toStdString());
      CHECK(given.count(name) == 1);
    }
    given_somewhere[key].insert(given.begin(), given.end());
  }
}

}  // namespace

TEST_CASE("every code that is said has a sentence, and the figures that it names") {
  std::size_t said = 0;
  Given given_somewhere;
  for (const Source& source : sources()) {
    if (source.name.endsWith("value_text.cpp")) continue;  // its faults have their sentences beside them
    std::set<QString> codes;
    for (const char* pattern : message_patterns) codes.merge(matches(source.text, pattern));
    const std::set<QString> steps = matches(source.text, step_pattern);
    check_said(message_sentences(), source, codes, given_somewhere);
    check_said(trail_sentences(), source, steps, given_somewhere);
    said += codes.size() + steps.size();
  }
  for (const auto sentences : {message_sentences(), trail_sentences()})
    for (const Sentence& s : sentences)
      if (const auto given = given_somewhere.find(s.code); given != given_somewhere.end())
        for (const QString& name : figures_of(s, true)) {
          INFO(s.code << " figure " << name.toStdString());
          CHECK(given->second.count(name) == 1);
        }
  CHECK(said > 150);  // the patterns still find what they look for
}

TEST_CASE("every sentence is said somewhere, once, and its figures have forms that are known") {
  QString all;
  for (const Source& source : sources()) all += source.text;
  for (const auto sentences : {message_sentences(), trail_sentences()}) {
    std::set<std::string_view> seen;
    for (const Sentence& s : sentences) {
      INFO(s.code);
      CHECK(seen.insert(s.code).second);
      CHECK(all.contains(QStringLiteral("\"%1\"").arg(text_of(s.code))));
      for (const SentencePart& part : s.parts) {
        if (!part.text) continue;
        const QString text = QString::fromUtf8(part.text);
        CHECK(text.count('{') == text.count('}'));
        CHECK_FALSE(text.contains("%1"));
        for (const QString& form : matches(text, ":(\\w+)\\}")) {
          INFO(form.toStdString());
          CHECK((QRegularExpression("^\\d$").match(form).hasMatch() ||
                 std::set<QString>{"mm", "power", "torque", "force", "stress", "removal", "feed", "rpm", "table_feed",
                                   "bare_table_feed", "fine_table_feed", "feed_kind", "within", "capital"}
                         .count(form) == 1));
        }
      }
    }
  }
}

TEST_CASE("a figure that is not given is found") {
  const Details details{{"part_mm", 3.0}};
  const Figures figures(details, UnitSystem::metric);
  CHECK(figures.put_into("{part_mm} of {whole_mm}") == "3 mm of —");
  CHECK(figures.missing_from("{part_mm} of {whole_mm}") == QStringList{"whole_mm"});
}
