#include "app/cutters/look_at_panel.h"

#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

#include "app/widgets/property_form.h"
#include "core/cutter/duplicates.h"
#include "core/cutter/kinds.h"
#include "shop/words.h"

namespace pecorra {
namespace {

// "another one than number 219, End mill Ø12 × 26"
QString told_apart_text(const ShopState& state, const std::string& key) {
  const auto id = Id::parse(key.substr(5));
  const Cutter* other = id ? state.cutters.find(*id) : nullptr;
  return other ? QObject::tr("not the same as number %1, %2").arg(other->number).arg(text_of(other->name))
               : QObject::tr("not the same as a deleted cutter");
}

}  // namespace

LookAtPanel::LookAtPanel(Workspace& workspace, QWidget* parent)
    : QWidget(parent), workspace_(workspace), lines_(new QVBoxLayout(this)) {
  lines_->setContentsMargins(0, 0, 8, 0);
  lines_->setSpacing(4);
  hide();
}

void LookAtPanel::add_line(const QString& text, Tone tone, QWidget* beside) {
  auto* label = new QLabel(text);
  label->setWordWrap(true);
  label->setFont(Look::get().text(12));
  set_tone(label, tone);
  lines_->addWidget(label);
  if (beside) lines_->addWidget(beside);
}

void LookAtPanel::show_cutter(const Cutter* cutter) {
  // The field that a reason is being typed into stays.
  if (cutter && shown_ && *cutter == *shown_) return;
  shown_ = cutter ? std::optional(*cutter) : std::nullopt;
  clear_layout(*lines_);
  if (!cutter) return hide();
  const Cutter c = *cutter;
  const std::vector<Message> open = open_warnings(c);
  setVisible(!open.empty() || !c.accepted.empty() || !c.guesses.empty());
  if (isHidden()) return;
  lines_->addWidget(section_heading(tr("Needs attention")));
  if (!c.guesses.empty()) {
    QStringList names;
    for (const std::string& key : c.guesses)
      if (const Property<Cutter>* property = find_property<Cutter>(key)) names << label_text(property->label).toLower();
    auto* confirm = new QPushButton(tr("Confirm"));
    confirm->setObjectName(QStringLiteral("confirm_guesses"));
    connect(confirm, &QPushButton::clicked, this, [this, c] {
      Cutter after = c;
      after.guesses.clear();
      workspace_.shop().edit(c, after, tr("%1: sizes confirmed").arg(text_of(c.name)));
    });
    add_line(tr("○ Guesses, not measured: %1").arg(names.join(QStringLiteral(", "))), Tone::warning, confirm);
  }
  for (const Message& m : open) {
    auto* reason = new QLineEdit;
    reason->setPlaceholderText(tr("Type a reason to accept it"));
    reason->setObjectName(QStringLiteral("reason_") + text_of(m.code));
    reason->setMaxLength(300);
    connect(reason, &QLineEdit::returnPressed, this, [this, c, code = m.code, reason] {
      const QString why = reason->text().trimmed();
      if (why.isEmpty()) return;
      Cutter after = c;
      after.accepted[code] = why.toStdString();
      workspace_.shop().edit(c, after, tr("%1: warning accepted, “%2”").arg(text_of(c.name), why));
    });
    add_line(sentence(m, workspace_.units()), Tone::warning, reason);
  }
  for (const auto& [code, why] : c.accepted) {
    auto* again = new QPushButton(tr("Restore warning"));
    again->setFlat(true);
    again->setObjectName(QStringLiteral("again_") + text_of(code));
    connect(again, &QPushButton::clicked, this, [this, c, code_text = code] {
      Cutter after = c;
      after.accepted.erase(code_text);
      workspace_.shop().edit(c, after, tr("%1: warning restored").arg(text_of(c.name)));
    });
    QString what = text_of(code);
    if (code.starts_with(told_apart_key({}).substr(0, 5))) what = told_apart_text(workspace_.state(), code);
    for (const Message& m : check_cutter(c))
      if (m.code == code) what = sentence(m, workspace_.units());
    add_line(tr("Accepted, “%1”: %2").arg(text_of(why), what), Tone::quiet, again);
  }
}

}  // namespace pecorra

#include "moc_look_at_panel.cpp"
