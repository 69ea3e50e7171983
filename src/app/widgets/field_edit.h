// A field of a form: Escape puts back what was there, and undo is the field's own only while something is being typed;
// else it is the shop's.
#pragma once

#include <QKeyEvent>
#include <QLineEdit>

namespace pecorra {

class FieldEdit : public QLineEdit {
 public:
  using QLineEdit::QLineEdit;
  bool is_changed() const { return text() != before_; }
  // What is kept; while somebody is typing, the field stays.
  void show_text(const QString& kept) {
    if (hasFocus() && is_changed()) return;
    before_ = kept;
    if (text() == kept) return;
    setText(kept);
    if (!hasFocus()) setCursorPosition(0);  // a long text is seen from its start
  }
  // What stands here is what is kept from now on.
  void settle() { before_ = text(); }

 protected:
  bool event(QEvent* event) override {
    // What is half typed is taken back before anything else is left.
    if (event->type() == QEvent::ShortcutOverride && is_changed() &&
        static_cast<QKeyEvent*>(event)->key() == Qt::Key_Escape) {
      event->accept();
      return true;
    }
    if (event->type() == QEvent::ShortcutOverride && !is_changed()) {
      auto* key = static_cast<QKeyEvent*>(event);
      if (key->matches(QKeySequence::Undo) || key->matches(QKeySequence::Redo)) {
        event->ignore();
        return false;
      }
    }
    return QLineEdit::event(event);
  }
  void keyPressEvent(QKeyEvent* event) override {
    if (event->key() != Qt::Key_Escape || !is_changed()) return QLineEdit::keyPressEvent(event);
    setText(before_);
    emit textEdited(before_);
    event->accept();
  }

  QString before_;  // text when it was last accepted
};

}  // namespace pecorra
