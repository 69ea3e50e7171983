// Texts of several lines in a form.
#include "app/look/look.h"
#include "app/widgets/property_form.h"

namespace pecorra {
namespace {

// Each with its end, the last as well.
std::string lines_in(const QPlainTextEdit& edit) {
  const std::string text = edit.toPlainText().toStdString();
  return text.empty() ? text : text + "\n";
}

}  // namespace

// As high as three lines; accepted when it is left.
void PropertyForm::add_lines(Row& row, int at) {
  row.note->hide();
  row.lines = new LinesEdit;
  row.lines->setFont(Look::get().mono(12));
  row.lines->setTabChangesFocus(true);
  row.lines->setLineWrapMode(QPlainTextEdit::NoWrap);
  row.lines->setFixedHeight(QFontMetrics(row.lines->font()).lineSpacing() * 3 + 14);
  grid_->addWidget(row.lines, at + 1, 0, 1, 4);
  connect(row.lines, &QPlainTextEdit::textChanged, this, [this, lines = row.lines, key = row.key] {
    if (filling_) return;
    emit being_typed(key, lines_in(*lines));
  });
}

void PropertyForm::accept_lines(const Row& row) {
  if (!row.lines->document()->isModified() || filling_) return;
  row.lines->document()->setModified(false);
  emit accepted(row.key, lines_in(*row.lines), row.lines->toPlainText());
}

}  // namespace pecorra
