// The assemblies of the selected cutter: holder, stick-out, extension, derived values, and clearance to a wall.
#pragma once

#include <QLabel>
#include <QPushButton>

#include "app/widgets/lazy_widget.h"
#include "app/widgets/property_form.h"
#include "app/widgets/switch_row.h"
#include "app/workspace.h"
#include "core/drawing/cutter_sheet.h"

namespace pecorra {

class AssemblyPanel : public LazyWidget {
  Q_OBJECT
 public:
  AssemblyPanel(Workspace& workspace, QWidget* parent = nullptr);
  void show_cutter(const Cutter* cutter);
  // The one that is shown; none: the cutter has none.
  const Assembly* assembly() const;
  const std::optional<Wall>& wall() const { return wall_; }
  // The wall to check clearance against, if any.
  void ask_about(const std::optional<Wall>& wall);
  void focus_field(const QString& key) {
    if (form_) (key == QLatin1String("wall_height_mm") ? wall_form_ : form_)->focus_field(key);
  }
  // A size dragged in the drawing: previewed while dragging, accepted on release.
  void drag(const QString& key, double value_mm, bool done);
  void drag_wall(double height_mm);
  void add_assembly();
  void remove_assembly();

 signals:
  void shown_changed();  // another assembly, or another wall
  void previewed(const pecorra::Assembly& assembly);
  void field_focused(const QString& key);

 protected:
  void refresh() override;

 private:
  void build();
  void accept(const QString& key, const Value& value, const QString& typed);
  QString figures_text(const AssemblyFigures& figures) const;
  QString clearance_text(const AssemblyFigures& figures) const;
  std::vector<const Assembly*> assemblies() const;

  Workspace& workspace_;
  Id cutter_, shown_;
  SwitchRow* names_ = nullptr;
  QPushButton *add_ = nullptr, *remove_ = nullptr;
  PropertyForm *form_ = nullptr, *wall_form_ = nullptr;  // made when first shown
  QLabel *figures_ = nullptr, *clearance_ = nullptr;
  std::optional<Wall> wall_;
};

// What an assembly is called: its own name, else its holder and stick-out.
QString assembly_name(const ShopState& state, const Assembly& assembly, UnitSystem units);

}  // namespace pecorra
