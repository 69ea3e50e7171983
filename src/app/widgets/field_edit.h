// A field of a form: Escape restores it, and undo acts on the text only while typing, otherwise on the shop.
#pragma once

#include <QKeyEvent>
#include <QLineEdit>
#include <QPlainTextEdit>

namespace pecorra {

class FieldEdit : public QLineEdit {
 public:
  using QLineEdit::QLineEdit;
  bool is_changed() const { return text() != before_; }
  // The stored value; while the user is typing, the field is left alone.
  void show_text(const QString& kept) {
    if (hasFocus() && is_changed()) return;
    before_ = kept;
    if (text() == kept) return;
    setText(kept);
    if (!hasFocus()) setCursorPosition(0);  // a long text is seen from its start
  }
  // The present text becomes the stored one.
  void settle() { before_ = text(); }

 protected:
  bool event(QEvent* event) override {
    // Unfinished text is restored before anything else is discarded.
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

// The same for a text of several lines; undo acts on the shop unless something is being typed.
class LinesEdit : public QPlainTextEdit {
 public:
  using QPlainTextEdit::QPlainTextEdit;

 protected:
  bool event(QEvent* event) override {
    if (event->type() == QEvent::ShortcutOverride && !document()->isModified()) {
      auto* key = static_cast<QKeyEvent*>(event);
      if (key->matches(QKeySequence::Undo) || key->matches(QKeySequence::Redo)) {
        event->ignore();
        return false;
      }
    }
    return QPlainTextEdit::event(event);
  }
};

}  // namespace pecorra
