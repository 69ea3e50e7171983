// The window in a made-up language: every vowel of every translated text gets an accent. What is then painted without
// one was not translated.
#include <QRegularExpression>
#include <QTranslator>

#include "app/window/shots.h"
#include "demo_copy.h"
#include "painted_texts.h"
#include "window_fixture.h"

using namespace pecorra;

namespace {

QString accented(const QString& text) {
  static const QString from = QStringLiteral("aeiouAEIOU"), to = QStringLiteral("áéíóúÁÉÍÓÚ");
  QString out;
  QChar closing;
  for (qsizetype i = 0; i < text.size(); ++i) {
    const QChar c = text[i];
    // Places for figures and marks of rich text stay as they are.
    if (closing.isNull() && c == QLatin1Char('{')) closing = QLatin1Char('}');
    else if (closing.isNull() && c == QLatin1Char('<') && i + 1 < text.size() && !text[i + 1].isSpace())
      closing = QLatin1Char('>');
    const qsizetype place = from.indexOf(c);
    out += closing.isNull() && place >= 0 ? to[place] : c;
    if (c == closing) closing = QChar();
  }
  return out;
}

class MadeUpLanguage : public QTranslator {
 public:
  QString translate(const char*, const char* source, const char*, int) const override {
    return accented(QString::fromUtf8(source));
  }
  bool isEmpty() const override { return false; }
};

// Names and words that somebody typed or that are the same in every language.
class Known {
 public:
  explicit Known(const ShopState& state) {
    state.visit_all([this](const auto& list) {
      for (const auto& object : list) add_object(object);
    });
    for (const ConditionTable& table : state.tables)
      for (const ConditionRow& row : table.rows) add_object(row);
    for (const Job& job : state.whole_jobs()) {
      add(job.drawing().source);
      for (const Operation& o : job.operations) add_object(o), add_object(o.cutter), add_object(o.taken);
    }
    // The user, and what the drawn views read and write.
    for (const char* of_views : {"programmer",
                                 "demo",
                                 "cut-sheet.pdf",
                                 "cabinet.csv",
                                 "Cabinet 3.json",
                                 "Tool no",
                                 "Type",
                                 "Dia",
                                 "Flutes",
                                 "Flute length",
                                 "Manufacturer",
                                 "Part number",
                                 "Shelf",
                                 "Sharpener",
                                 "End mill for ribs",
                                 "End mill Ø6, long",
                                 "one chipped, thrown away",
                                 "Ferrow",
                                 "Oxbarrow",
                                 "Ball end mill",
                                 "Tap Ø8 × 20",
                                 "ten"})
      add(of_views);
    add(current_user());
    std::sort(texts_.begin(), texts_.end(), [](const QString& a, const QString& b) { return a.size() > b.size(); });
  }
  // What of a painted text is neither translated nor known.
  QString rest_of(QString text) const {
    const bool cut = text.contains(QChar(0x2026));
    if (cut) {
      QString begin = text.left(text.indexOf(QChar(0x2026))).trimmed();
      for (const QString& known : texts_)
        if (!begin.isEmpty() && known.contains(begin)) return {};
    }
    // A line of a name that is broken in two stands between quotation marks that are not all there.
    for (const QString& piece : text.split(QRegularExpression(QStringLiteral("[“”]"))))
      for (const QString& known : texts_)
        if (piece.size() > 3 && known.contains(piece.trimmed())) text.replace(piece, QStringLiteral(" "));
    for (const QString& known : texts_) {
      if (known.contains(text)) return {};  // a line of a longer one
      text.replace(known, QStringLiteral(" "));
    }
    if (text.startsWith(QLatin1Char('('))) return {};  // a comment of a program
    static const QRegularExpression word(QStringLiteral("[A-Za-zÀ-ÿ]{3,}")), accent(QStringLiteral("[áéíóúÁÉÍÓÚ]")),
        vowel(QStringLiteral("[aeiouAEIOU]"));
    QStringList rest;
    auto words = word.globalMatch(text);
    while (words.hasNext()) {
      const QString w = words.next().captured();
      // Symbols of ISO 13399 and of standards are capitals.
      if (w.contains(vowel) && !w.contains(accent) && w != w.toUpper() && !same_everywhere().count(w)) rest << w;
    }
    return rest.join(QLatin1Char(' '));
  }

 private:
  static const std::set<QString>& same_everywhere() {
    static const std::set<QString> words{"min",   "rev", "rpm", "Pecorra", "hex",  "kHz", "Ctrl",
                                         "Shift", "Alt", "Del", "Esc",     "Deff", "mini"};
    return words;
  }
  void add(const std::string& text) {
    if (text.size() > 2) texts_.push_back(QString::fromStdString(text));
  }
  template <class T>
  void add_object(const T& object) {
    for (const Property<T>& p : properties<T>())
      if (p.quantity == Quantity::text) {
        const Value value = p.get(object);
        if (const std::string* text = std::get_if<std::string>(&value)) add(*text);
      }
  }
  std::vector<QString> texts_;
};

}  // namespace

TEST_CASE("every main view can be drawn; in a made-up language no text of it is left in English") {
  MadeUpLanguage language;
  QApplication::installTranslator(&language);
  {
    test::Window w;
    std::map<QString, QString> left;  // with the view where it was seen first
    std::set<QString> seen;
    QString fault;
    const QStringList files = draw_views(*w.window, w.dir.filePath("shots"), fault, [&](const char* view) {
      std::set<QString> texts;
      for (const test::PaintedText& painted : test::TextRecorder::of(*w.window)) texts.insert(painted.text);
      CHECK(texts.size() > 30);
      const Known known(w.state());
      for (const QString& text : texts)
        if (const QString rest = seen.insert(text).second ? known.rest_of(text) : QString(); !rest.isEmpty())
          left.emplace(rest + QStringLiteral("  in “") + text + QStringLiteral("”"), QString::fromUtf8(view));
    });
    CHECK(fault.isEmpty());
    CHECK(files.size() >= 8);
    for (const QString& name : files) {
      const QImage image(name);
      INFO(name.toStdString());
      if (QGuiApplication::platformName() == "offscreen" || image.width() == 1280) CHECK(image.width() == 1280);
      std::set<QRgb> colours;
      for (int y = 0; y < image.height(); y += 7)
        for (int x = 0; x < image.width(); x += 7) colours.insert(image.pixel(x, y));
      CHECK(colours.size() > 20);
    }
    for (const auto& [text, view] : left) {
      INFO(view.toStdString() << ": " << text.toStdString());
      CHECK(false);
    }
  }
  QApplication::removeTranslator(&language);
}

TEST_CASE("the made-up language is told from English") {
  const Known known(the_demo());
  CHECK(known.rest_of(QStringLiteral("Clearance plane 26 mm")) == QStringLiteral("Clearance plane"));
  CHECK(known.rest_of(accented(QStringLiteral("Flute length {x} <b>26</b> mm"))).isEmpty());
  CHECK(known.rest_of(QStringLiteral("Spindle rail")).isEmpty());  // the name of a job
}
