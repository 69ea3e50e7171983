// The fields of a cutter, made from the declaration of its kind. What is accepted becomes a change at once; what is
// being typed is shown on the drawing.
#pragma once

#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QWidget>
#include <functional>
#include <vector>

#include "app/widgets/quantity_edit.h"
#include "app/workspace.h"

namespace pecorra {

class CutterForm : public QWidget {
  Q_OBJECT
 public:
  CutterForm(Workspace& workspace, QWidget* parent = nullptr);
  void show_cutter(const Cutter* cutter);
  void focus_field(const QString& key);
  QString focused_key() const { return focused_; }

 signals:
  // A valid value is being typed; the cutter and stick-out as they would be.
  void previewed(const pecorra::Cutter& cutter, std::optional<double> stickout_mm);
  void field_focused(const QString& key);

 private:
  struct Row {
    QString key;
    bool of_assembly = false;
    QuantityEdit* edit = nullptr;
    QLineEdit* text = nullptr;
    QComboBox* choice = nullptr;
    QLabel* note = nullptr;
  };
  void build(CutterKind kind);
  void heading(const QString& text);
  Row& add_row(const QString& key, const QString& label, const QString& symbol, const QString& help);
  void add_number(const Property<Cutter>& property);
  void add_text(const char* key);
  void add_choice(const char* key, bool optional);
  void refresh();
  void show_notes();
  void accept_number(const QString& key, std::optional<double> stored, const QString& text);
  void accept_stickout(std::optional<double> stored, const QString& text);
  void commit(const Cutter& changed, const QString& label);
  UnitSystem units() const;

  Workspace& workspace_;
  QGridLayout* grid_;
  std::vector<Row> rows_;
  std::optional<CutterKind> kind_;
  Id cutter_;
  QString focused_;
  bool filling_ = false;
};

}  // namespace pecorra
