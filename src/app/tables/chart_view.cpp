#include "app/tables/chart_view.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QPainter>
#include <QScrollBar>
#include <QToolTip>
#include <algorithm>
#include <cmath>
#include <limits>

#include "app/look/look.h"
#include "app/window/context_line.h"
#include "core/quantity/print.h"
#include "shop/words.h"

namespace pecorra {
namespace {
constexpr int row_height = 27, head_height = 48;
constexpr int speed_right = 58, feed_right = 124;
}  // namespace

Mark mark_of(const ChartCell& cell) {
  return !cell.found() ? Mark::none : cell.guess ? Mark::guess : cell.proven ? Mark::proven : Mark::table;
}

ChartView::ChartView(Workspace& workspace, QWidget* parent) : QAbstractScrollArea(parent), workspace_(workspace) {
  setFrameShape(QFrame::NoFrame);
  setFocusPolicy(Qt::StrongFocus);
  setObjectName(QStringLiteral("chart"));
  viewport()->setMouseTracking(true);
  background_.setInterval(0);
  connect(&background_, &QTimer::timeout, this, &ChartView::work);
  connect(&workspace_, &Workspace::context_changed, this, [this, before = workspace.context()]() mutable {
    // Another material or unit changes the highlight, not the cells.
    Context now = workspace_.context();
    const bool same = now.machine == before.machine && now.operation == before.operation && now.pace == before.pace;
    before = now;
    if (same && !stale_) viewport()->update();
    else again();
  });
  connect(&workspace_, &Workspace::data_changed, this, [this] {
    grid_.clear();  // it looks into what has just changed
    again();
  });
  connect(&workspace_, &Workspace::selection_changed, this, [this] {
    if (wish_.rows == ChartRows::operations) again();
    else viewport()->update();
  });
  connect(&Look::get(), &Look::changed, viewport(), qOverload<>(&QWidget::update));
}

void ChartView::again() {
  stale_ = true;
  background_.stop();
  if (!isVisible()) return;
  recompute();
}

void ChartView::showEvent(QShowEvent* event) {
  QAbstractScrollArea::showEvent(event);
  if (stale_) recompute();
}

ChartWish ChartView::wish() const {
  ChartWish wish = wish_;
  wish.cutter = wish_.rows == ChartRows::operations ? workspace_.cutter_id() : Id{};
  return wish;
}

void ChartView::recompute() {
  stale_ = false;
  grid_.set(workspace_.state(), workspace_.shop().resolver(), workspace_.context(), wish());
  heat_low_ = heat_high_ = 0;
  update_range();
  viewport()->update();
  background_.start();
  emit counted();
}

// Visible cells are calculated as they are painted; the rest in slices too short to notice.
void ChartView::work() {
  if (!grid_.work(4000)) return;
  background_.stop();
  if (heat_ != Heat::none) viewport()->update();
}

void ChartView::change(const ChartWish& wish) {
  if (wish == wish_) return;
  wish_ = wish;
  again();
}
void ChartView::set_rows(ChartRows rows) {
  ChartWish wish = wish_;
  wish.rows = rows;
  change(wish);
}
void ChartView::set_text(const QString& text) {
  ChartWish wish = wish_;
  wish.text = text.toStdString();
  change(wish);
}
void ChartView::set_only_able(bool only) {
  ChartWish wish = wish_;
  wish.only_able = only;
  change(wish);
}
void ChartView::set_all_materials(bool all) {
  ChartWish wish = wish_;
  wish.all_materials = all;
  change(wish);
}
void ChartView::set_heat(Heat heat) {
  heat_ = heat;
  viewport()->update();
}

namespace {
float heat_of(const ChartCell& cell, Heat heat) {
  return heat == Heat::speed ? cell.n_rpm : heat == Heat::feed ? cell.vf_mm_min : cell.q_cm3_min;
}
}  // namespace

QColor ChartView::tint(int row, int column) const {
  const Colours& d = colours();
  if (heat_ == Heat::headroom) {
    const double used = grid_.worst_used(row, column);
    QColor colour = used > 1 + 1e-9 ? d.error : used > 0.8 ? d.warning : d.good;
    colour.setAlphaF(used <= 0 ? 0 : used > 1 ? 0.34 : 0.10 + 0.22 * used);
    return colour;
  }
  const float value = heat_of(grid_.cell(row, column), heat_);
  if (!(value > 0) || !(heat_high_ > heat_low_)) return Qt::transparent;
  QColor colour = d.accent;
  colour.setAlphaF(0.05 +
                   0.40 * std::clamp(std::log(value / heat_low_) / std::log(heat_high_ / heat_low_), 0.0f, 1.0f));
  return colour;
}

void ChartView::update_range() {
  horizontalScrollBar()->setRange(0, std::max(0, name_width + column_count() * cell_width - viewport()->width()));
  horizontalScrollBar()->setPageStep(viewport()->width());
  horizontalScrollBar()->setSingleStep(cell_width / 2);
  verticalScrollBar()->setRange(0, std::max(0, head_height + row_count() * row_height - viewport()->height()));
  verticalScrollBar()->setPageStep(viewport()->height());
  verticalScrollBar()->setSingleStep(row_height);
}

int ChartView::row_now() const {
  return wish_.rows == ChartRows::cutters
             ? grid_.row_of(workspace_.cutter_id())
             : grid_.row_of(workspace_.cutter() ? context_for(workspace_.context(), workspace_.cutter()->kind).operation
                                                : workspace_.context().operation);
}

QString ChartView::cell_text(int row, int column) const {
  const ChartCell& cell = grid_.cell(row, column);
  if (!cell.found()) return reason_text(cell.reason, grid_.cutter_at(row).kind);
  return QString::fromStdString("S " + shown(cell.n_rpm, Quantity::spindle_speed, workspace_.units()) + " F " +
                                shown(cell.vf_mm_min, Quantity::table_feed, workspace_.units()));
}

void ChartView::paintEvent(QPaintEvent*) {
  QPainter p(viewport());
  const Colours& d = colours();
  const int dx = horizontalScrollBar()->value(), dy = verticalScrollBar()->value();
  const int w = viewport()->width(), h = viewport()->height();
  p.fillRect(viewport()->rect(), d.paper);
  if (row_count() == 0) {
    p.setPen(d.quiet);
    p.drawText(viewport()->rect(), Qt::AlignCenter,
               workspace_.state().cutters.empty() ? tr("No cutters yet: the chart fills as cutters are added")
               : !workspace_.machine()            ? tr("No machine yet")
                                                  : tr("No cutter matches the filter"));
    return;
  }
  const int row_now = this->row_now(), column_now = grid_.column_of(workspace_.context().material);
  const UnitSystem units = workspace_.units();
  const int first_row = std::max(0, dy / row_height),
            last_row = std::min(row_count() - 1, (dy + h - head_height) / row_height);
  const int first_column = std::max(0, dx / cell_width),
            last_column = std::min(column_count() - 1, (dx + w - name_width) / cell_width);
  auto x_of = [&](int column) { return name_width + column * cell_width - dx; };
  auto y_of = [&](int row) { return head_height + row * row_height - dy; };
  if (heat_ != Heat::none && heat_ != Heat::headroom && heat_high_ == 0) {
    // The scale covers the whole chart, as far as it is calculated.
    heat_low_ = std::numeric_limits<float>::max();
    for (int row = 0; row < row_count(); ++row)
      for (int column = 0; column < column_count() && (grid_.is_complete() || (row >= first_row && row <= last_row));
           ++column)
        if (const float value = heat_of(grid_.cell(row, column), heat_); value > 0)
          heat_low_ = std::min(heat_low_, value), heat_high_ = std::max(heat_high_, value);
    if (!grid_.is_complete()) QTimer::singleShot(0, this, [this] { heat_high_ = 0; });
  }
  // The column and row of the context are highlighted.
  if (column_now >= 0) p.fillRect(QRect(x_of(column_now), 0, cell_width, y_of(row_count())), d.lit);
  if (row_now >= 0) p.fillRect(QRect(0, y_of(row_now), w, row_height), d.lit);

  p.setClipRect(name_width, head_height, w - name_width, h - head_height);
  for (int row = first_row; row <= last_row; ++row) {
    const Cutter& cutter = grid_.cutter_at(row);
    for (int column = first_column; column <= last_column; ++column) {
      const ChartCell& r = grid_.cell(row, column);
      const QRect cell(x_of(column), y_of(row), cell_width, row_height);
      if (heat_ != Heat::none && r.found())
        p.fillRect(cell.adjusted(1, 1, -1, -2), d.paper), p.fillRect(cell.adjusted(1, 1, -1, -2), tint(row, column));
      if (row == row_now && column == column_now) {
        p.setPen(QPen(d.accent, 2));
        p.setBrush(Qt::NoBrush);
        p.drawRect(cell.adjusted(1, 1, -2, -2));
      }
      if (!r.found()) {
        p.setFont(Look::get().text(12));
        p.setPen(r.reason == NoAnswer::draft ? d.error : d.quiet);
        p.drawText(cell.adjusted(14, 0, 0, 0), Qt::AlignLeft | Qt::AlignVCenter, reason_text(r.reason, cutter.kind));
        continue;
      }
      p.setFont(Look::get().text(13));
      p.setPen(d.ink);
      p.drawText(QRect(cell.left(), cell.top(), speed_right, row_height), Qt::AlignRight | Qt::AlignVCenter,
                 QString::fromStdString(shown(r.n_rpm, Quantity::spindle_speed, units)));
      p.drawText(QRect(cell.left(), cell.top(), feed_right, row_height), Qt::AlignRight | Qt::AlignVCenter,
                 QString::fromStdString(shown(r.vf_mm_min, Quantity::table_feed, units)));
      draw_mark(p, QRectF(cell.left() + feed_right + 5, cell.top(), 12, row_height), mark_of(r));
      // Beyond a limit it is marked; a limited value is underlined.
      if (grid_.worst_used(row, column) > 1 + 1e-6)
        draw_mark(p, QRectF(cell.left() + 4, cell.top(), 10, row_height), Mark::beyond);
      else if (r.held) {
        p.setPen(QPen(d.quiet, 1, Qt::DotLine));
        p.drawLine(cell.left() + 18, cell.bottom() - 5, cell.left() + feed_right, cell.bottom() - 5);
      }
    }
  }
  p.setClipRect(0, head_height, w, h - head_height);
  for (int row = first_row; row <= last_row; ++row) {
    p.setPen(d.line);
    p.drawLine(0, y_of(row) + row_height - 1, std::min(w, x_of(column_count())), y_of(row) + row_height - 1);
  }
  // First column, on top of what scrolls beneath it.
  for (int row = first_row; row <= last_row; ++row) {
    const Cutter& cutter = grid_.cutter_at(row);
    const bool operations = wish_.rows == ChartRows::operations;
    const QRect cell(0, y_of(row), name_width, row_height - 1);
    p.fillRect(cell, row == row_now ? d.lit : d.paper);
    p.setFont(Look::get().text(12.5));
    p.setPen(d.quiet);
    p.drawText(QRect(0, cell.top(), 36, row_height), Qt::AlignRight | Qt::AlignVCenter,
               operations ? QString() : QString::number(cutter.number));
    p.setPen(d.ink);
    p.drawText(cell.adjusted(operations ? 14 : 46, 0, -4, 0), Qt::AlignLeft | Qt::AlignVCenter,
               p.fontMetrics().elidedText(
                   operations ? label_text(label_of(grid_.operation_at(row))) : QString::fromStdString(cutter.name),
                   Qt::ElideRight, name_width - (operations ? 18 : 52)));
  }
  // Heads.
  p.setClipping(false);
  p.fillRect(QRect(0, 0, w, head_height), d.paper);
  if (column_now >= 0)
    p.fillRect(QRect(std::max(name_width, x_of(column_now)), 0, cell_width - std::max(0, name_width - x_of(column_now)),
                     head_height),
               d.lit);
  p.setClipRect(name_width, 0, w - name_width, head_height);
  for (int column = first_column; column <= last_column; ++column) {
    const WorkMaterial& m = grid_.material_at(column);
    const int x = x_of(column);
    p.setFont(Look::get().text(12.5, column == column_now));
    p.setPen(d.ink);
    const QString name = QString::fromStdString(m.name);
    p.drawText(QRect(x + 14, 4, cell_width - 40, 20), Qt::AlignLeft | Qt::AlignVCenter, name);
    const double tag_x = x + 14 + p.fontMetrics().horizontalAdvance(name) + 6;
    const QFontMetrics small(Look::get().text(11, true));
    draw_group_tag(p, QRectF(tag_x, 6, small.horizontalAdvance(group_letter(m.group)) + 9, 16), m.group);
    p.setFont(Look::get().text(11.5));
    p.setPen(d.quiet);
    p.drawText(QRect(x, 25, speed_right, 20), Qt::AlignRight | Qt::AlignVCenter, tr("S rpm"));
    p.drawText(QRect(x, 25, feed_right, 20), Qt::AlignRight | Qt::AlignVCenter,
               tr("F %1").arg(text_of(unit_text(Quantity::table_feed, units))));
  }
  p.setClipping(false);
  p.setFont(Look::get().text(11.5));
  p.setPen(d.quiet);
  p.drawText(QRect(wish_.rows == ChartRows::cutters ? 46 : 14, 25, 120, 20), Qt::AlignLeft | Qt::AlignVCenter,
             wish_.rows == ChartRows::cutters ? tr("Cutter") : tr("Operation"));
  p.setPen(d.line);
  p.drawLine(0, head_height - 1, w, head_height - 1);
  // Cut-off text is marked.
  if (dx < horizontalScrollBar()->maximum()) {
    QLinearGradient fade(w - 26, 0, w, 0);
    QColor clear = d.paper;
    clear.setAlpha(0);
    fade.setColorAt(0, clear);
    fade.setColorAt(1, d.paper);
    p.fillRect(QRect(w - 26, 0, 26, h), fade);
    p.setPen(d.accent);
    p.setFont(Look::get().text(15, true));
    p.drawText(QRect(w - 16, 2, 14, 22), Qt::AlignCenter, QStringLiteral("›"));
  }
}

void ChartView::choose(int row, int column) {
  if (row < 0 || row >= row_count()) return;
  Context context = workspace_.context();
  if (wish_.rows == ChartRows::operations) {
    context.operation = grid_.operation_at(row);
    context.usual_work = false;
  }
  const Id cutter = grid_.cutter_at(row).id;
  if (column >= 0 && column < column_count()) {
    context.material = grid_.material_at(column).id;
    const int x = column * cell_width;
    QScrollBar* bar = horizontalScrollBar();
    if (x < bar->value()) bar->setValue(x);
    if (x + cell_width + name_width > bar->value() + viewport()->width())
      bar->setValue(x + cell_width + name_width - viewport()->width());
  }
  workspace_.set_context(context);
  workspace_.select_cutter(cutter);
  const int y = row * row_height;
  QScrollBar* bar = verticalScrollBar();
  if (y < bar->value()) bar->setValue(y);
  if (y + row_height + head_height > bar->value() + viewport()->height())
    bar->setValue(y + row_height + head_height - viewport()->height());
  viewport()->update();
  emit cell_chosen();
}

std::pair<int, int> ChartView::cell_at(QPoint at) const {
  const int row = at.y() < head_height ? row_now() : (at.y() - head_height + verticalScrollBar()->value()) / row_height;
  const int column = at.x() < name_width ? -1 : (at.x() - name_width + horizontalScrollBar()->value()) / cell_width;
  return {row, column};
}

void ChartView::mousePressEvent(QMouseEvent* event) {
  const auto [row, column] = cell_at(event->pos());
  choose(row, column);
}

void ChartView::mouseDoubleClickEvent(QMouseEvent* event) {
  const auto [row, column] = cell_at(event->pos());
  if (row >= 0 && row < row_count() && column >= 0 && column < column_count()) emit cell_opened();
}

bool ChartView::viewportEvent(QEvent* event) {
  if (event->type() == QEvent::ToolTip) {
    const auto* help = static_cast<QHelpEvent*>(event);
    const auto [row, column] = cell_at(help->pos());
    QString text;
    if (help->y() >= head_height && row >= 0 && row < row_count() && column >= 0 && column < column_count()) {
      const ChartCell& cell = grid_.cell(row, column);
      text = cell_text(row, column);
      if (cell.found()) {
        text += QStringLiteral(" · ") + label_text(label_of(cell.source));
        if (cell.q_cm3_min > 0)
          text += QStringLiteral(" · ") + quantity_text(cell.q_cm3_min, Quantity::removal_rate, workspace_.units());
        if (cell.held) text += tr(" · limited by machine or cutter");
        if (const double used = grid_.worst_used(row, column); used > 0)
          text += tr(" · tightest limit at %1 %").arg(std::lround(used * 100));
      }
    }
    QToolTip::showText(help->globalPos(), text, viewport());
    return true;
  }
  return QAbstractScrollArea::viewportEvent(event);
}

void ChartView::keyPressEvent(QKeyEvent* event) {
  const int row = std::max(0, row_now()), column = std::max(0, grid_.column_of(workspace_.context().material));
  const int page = std::max(1, (viewport()->height() - head_height) / row_height - 1);
  switch (event->key()) {
    case Qt::Key_Up: return choose(std::max(0, row - 1), column);
    case Qt::Key_Down: return choose(std::min(row_count() - 1, row + 1), column);
    case Qt::Key_Left: return choose(row, std::max(0, column - 1));
    case Qt::Key_Right: return choose(row, std::min(column_count() - 1, column + 1));
    case Qt::Key_PageUp: return choose(std::max(0, row - page), column);
    case Qt::Key_PageDown: return choose(std::min(row_count() - 1, row + page), column);
    case Qt::Key_Home: return choose(0, column);
    case Qt::Key_End: return choose(row_count() - 1, column);
    case Qt::Key_Return:
    case Qt::Key_Enter: return row_now() >= 0 ? emit cell_opened() : void();
    default: QAbstractScrollArea::keyPressEvent(event);
  }
}

}  // namespace pecorra

#include "moc_chart_view.cpp"
