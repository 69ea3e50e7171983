#include "app/jobs/program_panel.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QVBoxLayout>

#include "app/look/look.h"

namespace pecorra {

ProgramPanel::ProgramPanel(QWidget* parent)
    : QWidget(parent), view_(new ProgramView), find_row_(new QWidget), text_(new QLineEdit), none_(new QLabel) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(4);
  auto* row = new QHBoxLayout(find_row_);
  row->setContentsMargins(0, 0, 0, 0);
  text_->setPlaceholderText(tr("Find in the program: a word, a comment"));
  text_->setClearButtonEnabled(true);
  text_->setObjectName(QStringLiteral("find_in_program"));
  text_->installEventFilter(this);
  set_tone(none_, Tone::quiet);
  row->addWidget(text_, 1);
  row->addWidget(none_);
  find_row_->hide();
  column->addWidget(find_row_);
  column->addWidget(view_, 1);
  setMinimumWidth(160);
  connect(view_, &ProgramView::find_wanted, this, &ProgramPanel::open_find);
  connect(text_, &QLineEdit::textChanged, this, [this] { find(false); });
}

void ProgramPanel::open_find() {
  find_row_->show();
  text_->setFocus();
  text_->selectAll();
}

void ProgramPanel::find(bool backwards) {
  none_->setText(view_->find(text_->text(), backwards) ? QString() : tr("not found"));
}

// Enter goes on, Shift+Enter back, Esc closes.
bool ProgramPanel::eventFilter(QObject* watched, QEvent* event) {
  if (watched != text_ || event->type() != QEvent::KeyPress) return QWidget::eventFilter(watched, event);
  const auto* key = static_cast<QKeyEvent*>(event);
  if (key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter || key->matches(QKeySequence::FindNext)) {
    find(key->modifiers().testFlag(Qt::ShiftModifier));
    return true;
  }
  if (key->key() != Qt::Key_Escape) return QWidget::eventFilter(watched, event);
  text_->clear();
  find_row_->hide();
  view_->setFocus();
  return true;
}

}  // namespace pecorra

#include "moc_program_panel.cpp"
