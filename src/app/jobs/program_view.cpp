#include "app/jobs/program_view.h"

#include <QRegularExpression>
#include <QSyntaxHighlighter>
#include <QTextBlock>

#include "app/look/look.h"

namespace pecorra {
namespace {

class Highlighter : public QSyntaxHighlighter {
 public:
  using QSyntaxHighlighter::QSyntaxHighlighter;

 protected:
  void highlightBlock(const QString& text) override {
    if (text.startsWith(QLatin1Char('('))) {
      QTextCharFormat quiet;
      quiet.setForeground(colours().quiet);
      setFormat(0, static_cast<int>(text.size()), quiet);
      return;
    }
    QTextCharFormat word;
    word.setForeground(colours().accent);
    word.setFontWeight(QFont::Bold);
    static const QRegularExpression speeds(QStringLiteral("[SF][0-9.]+"));
    for (auto it = speeds.globalMatch(text); it.hasNext();) {
      const auto match = it.next();
      setFormat(static_cast<int>(match.capturedStart()), static_cast<int>(match.capturedLength()), word);
    }
  }
};

}  // namespace

ProgramView::ProgramView(QWidget* parent) : QPlainTextEdit(parent) {
  setReadOnly(true);
  setFont(Look::get().mono(12));
  setLineWrapMode(NoWrap);
  setObjectName(QStringLiteral("program"));
  setMinimumWidth(160);
  auto* highlighter = new Highlighter(document());
  connect(&Look::get(), &Look::changed, highlighter, &QSyntaxHighlighter::rehighlight);
}

void ProgramView::show_program(const QString& program) {
  if (program == toPlainText()) return;
  setPlainText(program);
  const int operation = operation_;
  operation_ = 0;
  show_operation(operation);
}

void ProgramView::show_operation(int number) {
  if (number == operation_) return;
  operation_ = number;
  const QTextCursor found = document()->find(QRegularExpression(QStringLiteral("^\\(OP %1 ").arg(number)));
  QList<QTextEdit::ExtraSelection> lit;
  if (!found.isNull()) {
    QTextCursor end(document());
    end.movePosition(QTextCursor::End);
    setTextCursor(end);
    QTextCursor start = found;
    start.movePosition(QTextCursor::StartOfLine);
    setTextCursor(start);  // from below, so that the line stands at the top
    QTextEdit::ExtraSelection line;
    line.format.setBackground(colours().lit);
    line.format.setProperty(QTextFormat::FullWidthSelection, true);
    line.cursor = start;
    lit << line;
  }
  setExtraSelections(lit);
}

}  // namespace pecorra

#include "moc_program_view.cpp"
