// Wording that was replaced by the words of the trade and of the desktop does not come back: on screen, on the command
// line, in the documents.
#include <QDirIterator>
#include <QFile>
#include <QRegularExpression>
#include <catch2/catch.hpp>

namespace {

struct SourceText {
  QString name, text;
};

std::vector<SourceText> sources_in(const QString& folder, const QStringList& names) {
  std::vector<SourceText> all;
  for (QDirIterator files(folder, names, QDir::Files, QDirIterator::Subdirectories); files.hasNext();) {
    QFile file(files.next());
    REQUIRE(file.open(QIODevice::ReadOnly));
    all.push_back({file.fileName(), QString::fromUtf8(file.readAll())});
  }
  return all;
}

// The texts of a source file, those that are split over lines put together; comments, includes and raw texts left out.
QStringList texts_of(const QString& source) {
  static const QRegularExpression token(
      QStringLiteral(R"re(//[^\n]*|#include[^\n]*|R"(\w*)\((?:.|\n)*?\)\1"|'(?:[^'\\\n]|\\.)+'|)re"
                     R"re(("(?:[^"\\\n]|\\.)*"(?:\s*"(?:[^"\\\n]|\\.)*")*))re"));
  static const QRegularExpression seam(QStringLiteral(R"("\s*")"));
  QStringList texts;
  for (auto found = token.globalMatch(source); found.hasNext();) {
    QString text = found.next().captured(2);
    if (text.size() > 2) texts << text.mid(1, text.size() - 2).replace(seam, QString());
  }
  return texts;
}

// Whole texts that stood for something the desktop or the trade has a word for.
const QStringList replaced_texts{"Do again",
                                 "Leave it",
                                 "Leave",
                                 "Past",
                                 "Narrow",
                                 "Alike",
                                 "To look at",
                                 "Take",
                                 "As it comes",
                                 "What it lacks",
                                 "Made of",
                                 "Manner",
                                 "Chip load",
                                 "It is",
                                 "Edges pull",
                                 "never turns",
                                 "too slow for it",
                                 "Tick all",
                                 "Tick none",
                                 "Highest speed",
                                 "Lowest speed",
                                 "Greatest ramp",
                                 "Feed is",
                                 "Force is",
                                 "Strength is",
                                 "Density is",
                                 "Workholding bears",
                                 "Holds by",
                                 "To take",
                                 "Behind the last operation",
                                 "Nothing is called that"};
// Parts of a text.
const QStringList replaced_parts{"chip load",
                                 "gives all day",
                                 "pushes with",
                                 "Pushes with",
                                 "goes through the stock",
                                 "its key is wider",
                                 "drills in one go",
                                 "the quiet one follows",
                                 "made for something else than",
                                 "is pushed aside",
                                 "type to narrow",
                                 "Type to narrow",
                                 "is no ending that is known",
                                 "of our own",
                                 "no longer kept",
                                 "bears for a short time",
                                 "turns no slower",
                                 "turns no faster",
                                 "others changed",
                                 "take it away",
                                 "takes it away",
                                 "is what is wrong",
                                 "stands here twice",
                                 "runs backwards"};

}  // namespace

TEST_CASE("replaced wording does not come back in the program") {
  int texts = 0;
  for (const SourceText& source : sources_in(QStringLiteral(PECORRA_SOURCES), {"*.cpp", "*.h"}))
    for (const QString& text : texts_of(source.text)) {
      ++texts;
      INFO(source.name.toStdString() << ": " << text.toStdString());
      if (replaced_texts.contains(text)) FAIL_CHECK("replaced text");
      for (const QString& part : replaced_parts)
        if (text.contains(part)) FAIL_CHECK("replaced part: " << part.toStdString());
    }
  CHECK(texts > 4000);
}

TEST_CASE("replaced wording does not come back in the documents") {
  const QString root = QStringLiteral(PECORRA_SOURCES "/..");
  std::vector<SourceText> documents = sources_in(root + "/docs", {"*.md"});
  for (const char* name : {"README.md", "CHANGELOG.md"}) {
    QFile file(root + "/" + name);
    REQUIRE(file.open(QIODevice::ReadOnly));
    documents.push_back({file.fileName(), QString::fromUtf8(file.readAll())});
  }
  for (const SourceText& document : documents)
    for (const QString& part : replaced_parts) {
      INFO(document.name.toStdString() << ": " << part.toStdString());
      CHECK_FALSE(document.text.simplified().contains(part));
    }
}
