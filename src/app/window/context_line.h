// The sentence across the top: what is cut, on which machine, doing what, at which pace. Each part is a choice.
#pragma once

#include <QAbstractButton>
#include <QHBoxLayout>
#include <QLabel>
#include <QWidget>
#include <functional>

#include "app/workspace.h"

namespace pecorra {

class PickList;
struct PickItem;

// One word of the sentence.
class WordButton : public QAbstractButton {
  Q_OBJECT
 public:
  explicit WordButton(QWidget* parent = nullptr);
  QSize sizeHint() const override;
  QSize minimumSizeHint() const override { return sizeHint(); }

 protected:
  void paintEvent(QPaintEvent*) override;
};

// The letter of a material's group on the standard's colour, or our own word.
class GroupTag : public QWidget {
  Q_OBJECT
 public:
  explicit GroupTag(QWidget* parent = nullptr);
  void set_group(MaterialGroup group);
  QSize sizeHint() const override;

 protected:
  void paintEvent(QPaintEvent*) override;

 private:
  MaterialGroup group_ = MaterialGroup::P;
};
void draw_group_tag(QPainter& painter, QRectF box, MaterialGroup group);
QString group_letter(MaterialGroup group);

class ContextLine : public QWidget {
  Q_OBJECT
 public:
  ContextLine(Workspace& workspace, QWidget* parent = nullptr);

  void choose_material();
  void choose_machine();
  void choose_operation();
  void choose_pace();
  void toggle_units();
  void choose_units();
  // Buttons at the right end.
  void add_action_button(QWidget* button);

 private:
  void refresh();
  void open_at(QWidget* under, std::vector<PickItem> items, int current, const QString& hint,
               std::function<bool(const QString&)> free_text = {});

  Workspace& workspace_;
  WordButton *material_, *machine_, *operation_, *pace_, *units_;
  GroupTag* tag_;
  QLabel* hazard_;  // of the material, where it has one
  QLabel* joint_;
  PickList* list_;
  QHBoxLayout* layout_;
};

}  // namespace pecorra
