#include "app/cutters/outline_panel.h"

#include <QEvent>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QVBoxLayout>
#include <limits>

#include "app/look/look.h"
#include "app/widgets/property_form.h"
#include "core/cutter/form_profile.h"
#include "core/cutter/kinds.h"
#include "core/cutter/outline_text.h"
#include "shop/drawing_file.h"
#include "shop/task.h"
#include "shop/words.h"

namespace pecorra {
namespace {

// Diameter and flute length follow from the outline.
Cutter with_outline(const Cutter& cutter, std::vector<Vertex> outline) {
  Cutter after = cutter;
  after.outline = std::move(outline);
  const Profile profile = profile_of_outline(after.outline);
  if (profile.empty() || has_error(check_outline(after.outline))) return after;
  const double top = profile.back().to.y;
  after.diameter_mm = 2 * largest_radius_mm(profile, std::numeric_limits<double>::infinity());
  after.flute_length_mm = top;
  if (after.reach_mm && *after.reach_mm < top) after.reach_mm = top;
  if (after.overall_length_mm && *after.overall_length_mm < after.reach_mm.value_or(top))
    after.overall_length_mm = after.reach_mm.value_or(top) + 30;
  for (const char* key : {"diameter_mm", "flute_length_mm", "reach_mm", "overall_length_mm", "outline"}) {
    after.typed.erase(key);
    after.guesses.erase(key);
  }
  return after;
}

}  // namespace

OutlinePanel::OutlinePanel(Workspace& workspace, QWidget* parent) : QWidget(parent), workspace_(workspace) { hide(); }

// For the first form cutter that is shown.
void OutlinePanel::build() {
  text_ = new QPlainTextEdit;
  read_ = new QPushButton(tr("Read DXF or SVG"));
  inches_ = new QPushButton(tr("Default: mm"));
  fault_ = new QLabel;
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 8, 0);
  layout->setSpacing(4);
  layout->addWidget(section_heading(tr("Profile")));
  auto* row = new QHBoxLayout;
  row->addWidget(read_);
  inches_->setCheckable(true);
  inches_->setToolTip(tr("Unit of a file that states none"));
  inches_->setObjectName(QStringLiteral("outline_inches"));
  row->addWidget(inches_);
  row->addStretch(1);
  layout->addLayout(row);
  text_->setObjectName(QStringLiteral("outline_text"));
  text_->setAccessibleName(tr("Points of the profile"));
  text_->setFont(Look::get().mono(12));
  text_->setPlaceholderText(tr("distance  height  radius"));
  text_->setToolTip(
      tr("A point on each line, from the tip upwards: distance from the axis, height above the tip, and for an arc its "
         "radius (negative is hollow)"));
  text_->setFixedHeight(132);
  text_->setTabChangesFocus(true);
  text_->installEventFilter(this);
  layout->addWidget(text_);
  fault_->setWordWrap(true);
  fault_->setFont(Look::get().text(11.5));
  fault_->setObjectName(QStringLiteral("outline_fault"));
  set_tone(fault_, Tone::error);
  layout->addWidget(fault_);
  connect(read_, &QPushButton::clicked, this, &OutlinePanel::file_wanted);
  connect(inches_, &QPushButton::toggled, this,
          [this](bool inch) { inches_->setText(inch ? tr("Default: inch") : tr("Default: mm")); });
  connect(text_, &QPlainTextEdit::textChanged, this, [this] {
    if (text_->toPlainText() == shown_) return;
    if (const auto c = typed()) emit previewed(*c);
  });
}

void OutlinePanel::show_cutter(const Cutter* cutter) {
  setVisible(cutter && cutter->kind == CutterKind::form);
  if (!cutter || cutter->kind != CutterKind::form) {
    cutter_ = {};
    return;
  }
  if (!text_) build();
  const bool other = cutter->id != cutter_;
  cutter_ = cutter->id;
  const QString now = text_of(outline_text(cutter->outline, workspace_.units()));
  if (!other && text_->hasFocus() && text_->toPlainText() != shown_) return;  // somebody is typing
  shown_ = now;
  if (text_->toPlainText() != now) text_->setPlainText(now);
  QString fault;
  for (const Message& m : check_outline(cutter->outline))
    if (fault.isEmpty()) fault = sentence(m, workspace_.units());
  fault_->setText(fault);
  fault_->setVisible(!fault.isEmpty());
}

std::optional<Cutter> OutlinePanel::typed() const {
  const Cutter* c = workspace_.state().cutters.find(cutter_);
  if (!c) return std::nullopt;
  auto outline = parse_outline(text_->toPlainText().toStdString(), workspace_.units());
  if (!outline) {
    fault_->setText(tr("Line %1: %2").arg(outline.error().line).arg(reader_text(outline.error().text)));
    fault_->show();
    return std::nullopt;
  }
  const Cutter after = with_outline(*c, std::move(*outline));
  QString fault;
  for (const Message& m : check_outline(after.outline))
    if (fault.isEmpty()) fault = sentence(m, workspace_.units());
  fault_->setText(fault);
  fault_->setVisible(!fault.isEmpty());
  return after;
}

bool OutlinePanel::eventFilter(QObject* object, QEvent* event) {
  if (object == text_ && event->type() == QEvent::FocusOut) accept();
  return QWidget::eventFilter(object, event);
}

void OutlinePanel::accept() {
  if (text_->toPlainText() == shown_) return;
  if (const auto after = typed()) take(after->outline, tr("Profile: %1 points").arg(after->outline.size()));
}

void OutlinePanel::take(std::vector<Vertex> outline, const QString& label) {
  const Cutter* c = workspace_.state().cutters.find(cutter_);
  if (!c) return;
  Cutter after = with_outline(*c, std::move(outline));
  if (after.name == workspace_.state().name_for(*c)) after.name = workspace_.state().name_for(after);
  shown_ = text_->toPlainText();  // accepted: what the shop says is shown again
  workspace_.shop().edit(*c, after, label);
}

void OutlinePanel::read_file(const QString& file) {
  if (!text_) return;
  const double unstated = inches_->isChecked() ? mm_per_inch : 1;
  workspace_.tasks().run(
      this, tr("Reading %1").arg(QFileInfo(file).fileName()),
      [file, unstated](Task&) { return read_drawing_file(file, unstated); },
      [this, file, id = cutter_](const DrawingRead& read) {
        if (id != cutter_) return;  // another cutter is shown by now
        const auto refuse = [this](const QString& why) {
          fault_->setText(why);
          fault_->show();
        };
        if (!read.fault.isEmpty()) return refuse(read.fault);
        const Contour* longest = longest_line(read.drawing);
        if (!longest) return refuse(tr("The file has only circles; a profile is a line from the tip upwards."));
        std::vector<Vertex> outline = outline_from(longest->vertices, longest->closed);
        if (outline.empty()) return refuse(tr("The outline is closed and does not touch the axis, x = 0."));
        take(std::move(outline), tr("Profile read from %1, %2").arg(QFileInfo(file).fileName(), read.note));
      });
}

}  // namespace pecorra

#include "moc_outline_panel.cpp"
