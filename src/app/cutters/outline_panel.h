// The own profile of a form cutter: its points as text, or read from a DXF or SVG file.
#pragma once

#include <QLabel>
#include <QPlainTextEdit>
#include <QPushButton>

#include "app/workspace.h"

namespace pecorra {

class OutlinePanel : public QWidget {
  Q_OBJECT
 public:
  OutlinePanel(Workspace& workspace, QWidget* parent = nullptr);
  void show_cutter(const Cutter* cutter);
  // Takes what the file holds; its unit is the one chosen where it names none.
  void read_file(const QString& file);

 signals:
  void previewed(const pecorra::Cutter& cutter);
  void file_wanted();

 protected:
  bool eventFilter(QObject* object, QEvent* event) override;

 private:
  void build();
  std::optional<Cutter> typed() const;  // with the text as its outline; says what is wrong
  void accept();
  void take(std::vector<Vertex> outline, const QString& label);

  Workspace& workspace_;
  Id cutter_;
  QPlainTextEdit* text_ = nullptr;  // none until a form cutter is shown
  QPushButton *read_ = nullptr, *inches_ = nullptr;
  QLabel* fault_ = nullptr;
  QString shown_;
};

}  // namespace pecorra
