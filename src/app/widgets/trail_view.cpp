#include "app/widgets/trail_view.h"

#include <QMouseEvent>
#include <QPainter>
#include <cmath>

#include "app/look/look.h"
#include "core/quantity/print.h"
#include "shop/words.h"

namespace pecorra {
namespace {

constexpr int text_x = 20, gap = 5, result_height = 32;

bool is_limit(const std::string& step) {
  return step.rfind("held", 0) == 0 || step == "pace" || step == "beyond_rows" || step.rfind("no_row", 0) == 0;
}

bool is_aside(const std::string& step) { return step.rfind("beaten", 0) == 0 || step == "near_row"; }

}  // namespace

TrailView::TrailView(QWidget* parent) : QWidget(parent) {
  setMouseTracking(true);
  QSizePolicy policy(QSizePolicy::Preferred, QSizePolicy::Fixed);
  policy.setHeightForWidth(true);
  setSizePolicy(policy);
  setFont(Look::get().text(12));
  connect(&Look::get(), &Look::changed, this, qOverload<>(&QWidget::update));
}

void TrailView::show_trail(Trail trail, UnitSystem units) {
  trail_ = std::move(trail);
  units_ = units;
  steps_.clear();
  if (isVisible()) setMinimumHeight(height_for(width()));
  updateGeometry();
  update();
}

const std::vector<TrailView::Step>& TrailView::steps(int width) const {
  std::vector<Step>& found = steps_[width];
  if (found.size() == trail_.size()) return found;
  // The sentences are the same at any width.
  const std::vector<Step>* known = nullptr;
  for (const auto& [other, steps] : steps_)
    if (other != width && steps.size() == trail_.size()) known = &steps;
  int y = 0;
  for (std::size_t i = 0; i < trail_.size(); ++i) {
    Step step;
    int height = result_height;
    if (trail_[i].step != "result") {
      step.text = known ? (*known)[i].text : QStaticText(sentence(trail_[i], units_));
      step.text.setTextFormat(Qt::PlainText);
      step.text.setTextWidth(std::max(80, width - text_x));
      step.text.prepare(QTransform(), font());
      height = static_cast<int>(std::ceil(step.text.size().height()));
    }
    step.at = {text_x, y, width - text_x, height};
    y += height + gap;
    found.push_back(std::move(step));
  }
  return found;
}

int TrailView::height_for(int width) const { return trail_.empty() ? 20 : steps(width).back().at.bottom() + 1 + gap; }

void TrailView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const Colours& d = colours();
  if (trail_.empty()) {
    p.setPen(d.quiet);
    p.drawText(rect(), Qt::AlignLeft | Qt::AlignTop, tr("No speed and feed here, so no trail"));
    return;
  }
  const std::vector<Step>& at = steps(width());
  auto knot = [&](std::size_t i) {
    return QPointF(7, trail_[i].step == "result" ? at[i].at.center().y() : at[i].at.top() + 8);
  };
  p.setPen(QPen(d.accent, 1.4));
  p.drawLine(knot(0), knot(trail_.size() - 1));
  for (std::size_t i = 0; i < trail_.size(); ++i) {
    const TrailStep& step = trail_[i];
    // Rejected sources are shown beside the line.
    const bool aside = is_aside(step.step);
    p.setBrush(d.raised);
    p.setPen(QPen(is_limit(step.step) ? d.warning : aside ? d.quiet : d.accent, aside ? 1.2 : 2));
    p.drawEllipse(knot(i), aside ? 2.8 : 4.5, aside ? 2.8 : 4.5);
    if (step.step == "result") {
      double n = 0, vf = 0;
      for (const auto& [name, detail] : step.values)
        if (const double* v = std::get_if<double>(&detail)) (name == "n_rpm" ? n : vf) = *v;
      const QString big = QStringLiteral("S %1   F %2")
                              .arg(QString::fromStdString(shown(n, Quantity::spindle_speed, units_)),
                                   QString::fromStdString(shown(vf, Quantity::table_feed, units_)));
      p.setPen(d.ink);
      p.setFont(Look::get().text(18, true));
      const int w = p.fontMetrics().horizontalAdvance(big);
      p.drawText(at[i].at, Qt::AlignLeft | Qt::AlignVCenter, big);
      p.setFont(font());
      p.setPen(d.quiet);
      p.drawText(at[i].at.adjusted(w + 8, 4, 0, 0), Qt::AlignLeft | Qt::AlignVCenter,
                 QStringLiteral("rpm, ") + QString::fromStdString(unit_text(Quantity::table_feed, units_)));
      continue;
    }
    p.setFont(font());
    p.setPen(aside ? d.quiet : step.target.is_null() ? d.ink : d.accent);
    p.drawStaticText(at[i].at.topLeft(), at[i].text);
  }
}

int TrailView::step_at(QPointF point) const {
  const std::vector<Step>& at = steps(width());
  for (std::size_t i = 0; i < at.size(); ++i)
    if (QRect(0, at[i].at.top(), width(), at[i].at.height()).contains(point.toPoint())) return static_cast<int>(i);
  return -1;
}

void TrailView::mousePressEvent(QMouseEvent* event) {
  const int i = step_at(event->position());
  if (i >= 0 && !trail_[static_cast<std::size_t>(i)].target.is_null())
    emit source_clicked(trail_[static_cast<std::size_t>(i)].target);
}

void TrailView::mouseMoveEvent(QMouseEvent* event) {
  const int i = step_at(event->position());
  setCursor(i >= 0 && !trail_[static_cast<std::size_t>(i)].target.is_null() ? Qt::PointingHandCursor : Qt::ArrowCursor);
}

}  // namespace pecorra

#include "moc_trail_view.cpp"
