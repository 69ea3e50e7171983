#include "app/cutters/like_panel.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>

#include "app/look/look.h"
#include "app/widgets/property_form.h"
#include "shop/cutter_edit.h"

namespace pecorra {

LikePanel::LikePanel(Workspace& workspace, QWidget* parent)
    : QWidget(parent), workspace_(workspace), lines_(new QVBoxLayout(this)) {
  lines_->setContentsMargins(0, 0, 8, 0);
  lines_->setSpacing(4);
  hide();
}

void LikePanel::show_cutter(const Cutter* cutter) {
  std::vector<std::pair<Id, QString>> now;
  if (cutter)
    for (const LikeCutter& like : like_cutters(workspace_.state(), *cutter)) {
      const Cutter& c = *like.cutter;
      const Library* library = workspace_.state().libraries.find(c.library);
      now.emplace_back(c.id, (like.by_order_code ? tr("The same maker and order code as number %1, %2, in %3")
                                                 : tr("The same sizes as number %1, %2, in %3"))
                                 .arg(c.number)
                                 .arg(text_of(c.name), library ? text_of(library->name) : tr("no library")));
    }
  const Id id = cutter ? cutter->id : Id{};
  if (id == cutter_ && now == shown_) return;
  cutter_ = id;
  shown_ = std::move(now);
  clear_layout(*lines_);
  setVisible(!shown_.empty());
  if (isHidden()) return;
  lines_->addWidget(section_heading(tr("Possible duplicate")));
  for (const auto& [other_id, text] : shown_) {
    auto* label = new QLabel(text);
    label->setWordWrap(true);
    label->setFont(Look::get().text(12));
    set_tone(label, Tone::warning);
    lines_->addWidget(label);
    auto* row = new QHBoxLayout;
    const Id other = other_id;
    const auto button = [&](const QString& name, const char* object, const QString& tip, auto act) {
      auto* b = new QPushButton(name);
      b->setObjectName(QLatin1String(object));
      b->setToolTip(tip);
      connect(b, &QPushButton::clicked, this, [this, other, act] {
        const Cutter *mine = workspace_.state().cutters.find(cutter_), *that = workspace_.state().cutters.find(other);
        if (mine && that) act(*mine, *that);
      });
      row->addWidget(b);
    };
    button(tr("Show it"), "show_like", tr("Go to that cutter"),
           [this](const Cutter&, const Cutter& that) { workspace_.select_cutter(that.id); });
    button(tr("Merge into it"), "merge_like",
           tr("Deletes this cutter; its assemblies and the jobs using it switch to the other one"),
           [this](const Cutter& mine, const Cutter& that) {
             const Id kept = that.id;
             workspace_.shop().apply(merge_cutters(workspace_.state(), that, mine));
             workspace_.select_cutter(kept);
           });
    button(tr("Not duplicates"), "tell_apart", tr("Never reported as duplicates again"),
           [this](const Cutter& mine, const Cutter& that) {
             workspace_.shop().apply(tell_apart(mine, that, tr("not duplicates").toStdString()));
           });
    row->addStretch(1);
    lines_->addLayout(row);
  }
}

}  // namespace pecorra

#include "moc_like_panel.cpp"
