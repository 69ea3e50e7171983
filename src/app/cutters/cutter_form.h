// The fields of a cutter, made from the declaration of its kind. What is accepted becomes a
// change at once; what is being typed is shown on the drawing.
#pragma once

#include <QWidget>
#include <vector>

#include "app/cutters/like_panel.h"
#include "app/cutters/look_at_panel.h"
#include "app/cutters/outline_panel.h"
#include "app/widgets/lazy_widget.h"
#include "app/widgets/number_table.h"
#include "app/widgets/property_form.h"
#include "app/workspace.h"

namespace pecorra {

class CutterForm : public LazyWidget {
  Q_OBJECT
 public:
  CutterForm(Workspace& workspace, QWidget* parent = nullptr);
  void show_cutter(const Cutter* cutter);
  void focus_field(const QString& key) { form_->focus_field(key); }
  OutlinePanel& outline() { return *outline_; }
  // A size dragged in the drawing: previewed while dragging, accepted on release.
  void drag(const QString& key, double value_mm, bool done);

 signals:
  // A valid value is being typed; the cutter as it would be.
  void previewed(const pecorra::Cutter& cutter);
  void field_focused(const QString& key);
  void outline_wanted();
  // Ctrl+Enter, or Enter in the last field.
  void finished();

 protected:
  void refresh() override;

 private:
  void build(CutterKind kind);
  void preview(const QString& key, const Value& value);
  void accept(const QString& key, const Value& value, const QString& typed);
  void move_to(const Id& library, const QString& name);
  void take_insert(const Id& insert, const QString& name);
  void take_material(const std::string& key, const QString& name);
  std::vector<Message> messages_of(const Cutter& cutter) const;
  void fill_choices(const Cutter& cutter);
  void build_sections();
  Cutter with(const Cutter& cutter, const QString& key, const Value& value, const QString& typed) const;
  void commit(const Cutter& before, Cutter after, const QString& label);
  const Cutter* cutter() const { return workspace_.state().cutters.find(cutter_); }

  Workspace& workspace_;
  PropertyForm* form_;
  LikePanel* like_;
  LookAtPanel* look_at_;
  NumberTable* sections_ = nullptr;  // of the shank
  OutlinePanel* outline_;
  std::optional<CutterKind> kind_;
  Id cutter_;
};

}  // namespace pecorra
