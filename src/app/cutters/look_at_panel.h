// What needs attention on a cutter: guesses to confirm, warnings to accept with a reason, and accepted ones.
#pragma once

#include <QVBoxLayout>
#include <QWidget>

#include "app/look/look.h"
#include "app/workspace.h"

namespace pecorra {

class LookAtPanel : public QWidget {
  Q_OBJECT
 public:
  LookAtPanel(Workspace& workspace, QWidget* parent = nullptr);
  void show_cutter(const Cutter* cutter);

 private:
  void add_line(const QString& text, Tone tone, QWidget* beside);

  Workspace& workspace_;
  QVBoxLayout* lines_;
  std::optional<Cutter> shown_;
};

}  // namespace pecorra
