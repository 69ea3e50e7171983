#include "app/widgets/cutter_drawing.h"

#include <QBuffer>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPageSize>
#include <QPdfWriter>
#include <cmath>

#include "app/look/look.h"
#include "formats/dxf/dxf_writer.h"
#include "formats/svg/sheet_svg.h"
#include "shop/words.h"

namespace pecorra {
namespace {

constexpr double nearest_zoom = 0.5, furthest_zoom = 60;

// Texts as they are painted.
void measure(SheetWish& wish) {
  const QFontMetricsF metrics(Look::get().text(11));
  wish.letter_height = metrics.height();
  wish.text_width = [metrics](std::string_view text) { return metrics.horizontalAdvance(text_of(text)) + 2; };
}

QString key_text(const DimensionMark& mark) { return text_of(mark.key); }

}  // namespace

CutterDrawing::CutterDrawing(QWidget* parent) : QWidget(parent) {
  setMouseTracking(true);
  setFocusPolicy(Qt::ClickFocus);
  setMinimumHeight(180);
  setMaximumHeight(230);
  connect(&Look::get(), &Look::changed, this, qOverload<>(&QWidget::update));
}

void CutterDrawing::changed() {
  stale_ = true;
  update();
}

void CutterDrawing::show_cutter(const Cutter* cutter, const Holder* holder, std::optional<double> stickout,
                                const DrawnCut& cut, UnitSystem units) {
  const bool other = !cutter || !cutter_ || cutter->id != cutter_->id || cutter->kind != cutter_->kind;
  cutter_ = cutter ? std::optional(*cutter) : std::nullopt;
  holder_ = holder ? std::optional(*holder) : std::nullopt;
  wish_.stickout_mm = stickout;
  wish_.cut = cut;
  wish_.units = units;
  if (other) {
    fitting_ = Cutter{};
    wish_.zoom = 1;
    wish_.pan_x_mm = wish_.pan_y_mm = 0;
  }
  extras_.faults.clear();
  fault_.clear();
  if (cutter_) {
    const std::vector<Message> messages = check_cutter(*cutter_);
    if (!has_error(messages)) fitting_ = *cutter_;
    for (const Message& m : messages) {
      if (m.severity != Severity::error) continue;
      if (fault_.isEmpty()) fault_ = sentence(m, units);
      std::optional<double> x, y;
      for (const auto& [name, value] : m.values) {
        if (name == "x_mm") x = std::get<double>(value);
        if (name == "y_mm") y = std::get<double>(value);
      }
      if (x && y) extras_.faults.push_back({*x, *y});
    }
  }
  changed();
}

void CutterDrawing::set_lit(const QString& key) {
  if (extras_.lit == key) return;
  extras_.lit = key;
  update();
}

void CutterDrawing::set_ghost(Profile outline) {
  extras_.ghost = std::move(outline);
  update();
}

void CutterDrawing::set_wall(const std::optional<Wall>& wall) {
  if (wish_.wall == wall) return;
  wish_.wall = wall;
  wish_.wall_word = tr("wall").toStdString();
  changed();
}

void CutterDrawing::fit() {
  wish_.zoom = 1;
  wish_.pan_x_mm = wish_.pan_y_mm = 0;
  changed();
}

void CutterDrawing::zoom_by(double factor, QPointF about) {
  const CutterSheet& before = sheet();
  const double x = (about.x() - before.axis_x) / before.scale, y = (before.tip_y - about.y()) / before.scale;
  wish_.zoom = std::clamp(wish_.zoom * factor, nearest_zoom, furthest_zoom);
  stale_ = true;
  // What was under the pointer stays there.
  const CutterSheet& after = sheet();
  wish_.pan_x_mm += (after.px(x, y).x - about.x()) / after.scale;
  wish_.pan_y_mm -= (after.px(x, y).y - about.y()) / after.scale;
  changed();
}

const CutterSheet& CutterDrawing::sheet() const {
  if (!stale_) return sheet_;
  stale_ = false;
  SheetWish wish = wish_;
  wish.width = width();
  wish.height = height();
  wish.holder = holder_ ? &*holder_ : nullptr;
  measure(wish);
  sheet_ = fitting_.diameter_mm ? lay_out(fitting_, silhouette(fitting_), wish) : CutterSheet{};
  return sheet_;
}

void CutterDrawing::paintEvent(QPaintEvent*) {
  QPainter p(this);
  const CutterSheet& drawn = sheet();
  const bool fits = cutter_ && fault_.isEmpty();
  if (drawn.profile.empty()) {
    // Sizes that never fitted: an outline that is drawn at least shows where its fault is.
    p.setPen(colours().quiet);
    p.setFont(Look::get().text(12));
    p.drawText(rect().adjusted(20, 20, -20, -20), Qt::AlignCenter | Qt::TextWordWrap,
               !cutter_           ? tr("No cutter selected")
               : fault_.isEmpty() ? tr("A draft: the drawing appears when the sizes fit together")
                                  : fault_);
    return;
  }
  SheetExtras extras = extras_;
  extras.faint = !fits;
  SheetWish wish = wish_;
  measure(wish);
  paint_sheet(p, drawn, wish, extras);
}

const DimensionMark* CutterDrawing::text_at(QPointF point) const {
  for (const DimensionMark& mark : sheet().marks) {
    const DrawBox& b = mark.box;
    if (QRectF(b.left - 3, b.top - 2, b.width() + 6, b.height() + 4).contains(point)) return &mark;
  }
  return nullptr;
}

const DimensionMark* CutterDrawing::grip_at(QPointF point) const {
  for (const DimensionMark& mark : sheet().marks)
    if (mark.mm_per_pixel != 0 && (!draggable_ || draggable_->contains(key_text(mark))) &&
        std::hypot(mark.grip.x - point.x(), mark.grip.y - point.y()) <= 6)
      return &mark;
  return nullptr;
}

void CutterDrawing::mousePressEvent(QMouseEvent* event) {
  if (event->button() != Qt::LeftButton || !cutter_) return;
  const QPointF at = event->position();
  if (const DimensionMark* mark = text_at(at)) {
    emit dimension_clicked(key_text(*mark));
    return;
  }
  Drag drag;
  drag.from = at;
  if (const DimensionMark* mark = grip_at(at)) {
    drag.key = key_text(*mark);
    const Property<Cutter>* property = find_property<Cutter>(mark->key);
    drag.start_mm = property                                      ? number_of(fitting_, *property).value_or(0)
                    : mark->key == "ap_mm"                        ? wish_.cut.ap_mm.value_or(0)
                    : mark->key == "ae_mm"                        ? wish_.cut.ae_mm.value_or(0)
                    : mark->key == "wall_height_mm" && wish_.wall ? wish_.wall->height_mm
                                                                  : wish_.stickout_mm.value_or(0);
    drag.mm_per_pixel = mark->mm_per_pixel;
    drag.vertical = mark->grip_vertical;
  }
  drag.pan_x_mm = wish_.pan_x_mm;
  drag.pan_y_mm = wish_.pan_y_mm;
  drag_ = drag;
}

void CutterDrawing::mouseMoveEvent(QMouseEvent* event) {
  const QPointF at = event->position();
  if (!drag_) {
    const DimensionMark* grip = grip_at(at);
    setCursor(grip          ? (grip->grip_vertical ? Qt::SizeVerCursor : Qt::SizeHorCursor)
              : text_at(at) ? Qt::PointingHandCursor
                            : Qt::ArrowCursor);
    return;
  }
  const QPointF way = at - drag_->from;
  if (!drag_->moved && way.manhattanLength() < 3) return;
  drag_->moved = true;
  if (drag_->key.isEmpty()) {
    wish_.pan_x_mm = drag_->pan_x_mm - way.x() / sheet().scale;
    wish_.pan_y_mm = drag_->pan_y_mm + way.y() / sheet().scale;
    setCursor(Qt::ClosedHandCursor);
    changed();
    return;
  }
  drag_->value_mm = snapped_mm(drag_->start_mm + (drag_->vertical ? way.y() : way.x()) * drag_->mm_per_pixel,
                               drag_->mm_per_pixel, wish_.units);
  set_lit(drag_->key);
  emit dimension_dragged(drag_->key, drag_->value_mm, false);
}

void CutterDrawing::mouseReleaseEvent(QMouseEvent*) {
  if (!drag_) return;
  const Drag drag = *drag_;
  drag_.reset();
  setCursor(Qt::ArrowCursor);
  if (drag.moved && !drag.key.isEmpty()) emit dimension_dragged(drag.key, drag.value_mm, true);
}

void CutterDrawing::mouseDoubleClickEvent(QMouseEvent* event) {
  if (!text_at(event->position())) fit();
}

void CutterDrawing::keyPressEvent(QKeyEvent* event) {
  const QPointF middle((sheet().window.left + sheet().window.right) / 2,
                       (sheet().window.top + sheet().window.bottom) / 2);
  if (event->key() == Qt::Key_Plus || event->key() == Qt::Key_Equal) zoom_by(1.25, middle);
  else if (event->key() == Qt::Key_Minus) zoom_by(0.8, middle);
  else if (event->key() == Qt::Key_0) fit();
  else if (event->key() == Qt::Key_Escape && drag_) {
    const bool of_size = !drag_->key.isEmpty();
    drag_.reset();
    if (of_size) emit drag_left();
  } else {
    QWidget::keyPressEvent(event);
  }
}

void CutterDrawing::wheelEvent(QWheelEvent* event) {
  zoom_by(std::pow(1.0015, event->angleDelta().y()), event->position());
  event->accept();
}

tl::expected<QByteArray, QString> CutterDrawing::picture(const QString& ending) const {
  if (sheet().profile.empty()) return tl::unexpected(tr("No drawing yet: the sizes do not fit together."));
  if (ending == QLatin1String("dxf")) return QByteArray::fromStdString(dxf_of_profile(silhouette(fitting_)));
  SheetWish wish = wish_;  // all of it, on a paper of its own
  wish.zoom = 1;
  wish.pan_x_mm = wish.pan_y_mm = 0;
  wish.holder = holder_ ? &*holder_ : nullptr;
  if (ending == QLatin1String("svg")) {
    wish.width = 900;
    wish.height = 620;
    return QByteArray::fromStdString(svg_of_sheet(lay_out(fitting_, silhouette(fitting_), wish), wish));
  }
  if (ending != QLatin1String("pdf"))
    return tl::unexpected(tr("“.%1” is not a supported file type; use .svg, .dxf or .pdf.").arg(ending));
  QBuffer out;
  out.open(QIODevice::WriteOnly);
  {
    constexpr double fine = 4;  // dots of the file for each pixel
    QPdfWriter pdf(&out);
    pdf.setTitle(text_of(fitting_.name));
    pdf.setPageSize(QPageSize(QPageSize::A4));
    pdf.setPageOrientation(QPageLayout::Landscape);
    pdf.setResolution(static_cast<int>(96 * fine));
    QPainter p(&pdf);
    p.scale(fine, fine);
    wish.width = pdf.width() / fine;
    wish.height = pdf.height() / fine;
    measure(wish);
    const PaperLook paper{Look::get().text(11), Look::get().text(11, true), Look::get().day()};
    SheetExtras extras;
    extras.paper = &paper;
    paint_sheet(p, lay_out(fitting_, silhouette(fitting_), wish), wish, extras);
  }
  return out.data();
}

}  // namespace pecorra

#include "moc_cutter_drawing.cpp"
