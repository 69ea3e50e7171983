#include "app/tables/chart_view.h"

#include <QKeyEvent>
#include <QPainter>
#include <QScrollBar>

#include "app/look/look.h"
#include "app/window/context_line.h"
#include "core/quantity/print.h"
#include "shop/words.h"

namespace pecorra {
namespace {
constexpr int name_width = 212, cell_width = 150, row_height = 27, head_height = 48;
constexpr int speed_right = 58, feed_right = 124;
}

ChartView::ChartView(Workspace& workspace, QWidget* parent) : QAbstractScrollArea(parent), workspace_(workspace) {
  setFrameShape(QFrame::NoFrame);
  setFocusPolicy(Qt::StrongFocus);
  setObjectName(QStringLiteral("chart"));
  const auto again = [this] {
    stale_ = true;
    if (!isVisible()) return;
    recompute();
    update_range();
    viewport()->update();
  };
  connect(&workspace_, &Workspace::context_changed, this, again);
  connect(&workspace_, &Workspace::data_changed, this, again);
  connect(&workspace_, &Workspace::selection_changed, viewport(), qOverload<>(&QWidget::update));
  connect(&Look::get(), &Look::changed, viewport(), qOverload<>(&QWidget::update));
}

void ChartView::showEvent(QShowEvent* event) {
  QAbstractScrollArea::showEvent(event);
  if (!stale_) return;
  recompute();
  update_range();
}

void ChartView::recompute() {
  stale_ = false;
  columns_ = materials_in_order(workspace_.state(), true);
  cells_.assign(static_cast<std::size_t>(row_count() * column_count()), {});
  if (!workspace_.machine()) return;
  const Resolver& resolver = workspace_.shop().resolver();
  const MachineKey machine = resolver.key_of(*workspace_.machine());
  const Query query = query_for(workspace_.state(), workspace_.context());
  std::vector<MaterialKey> materials;
  for (const std::size_t i : columns_) materials.push_back(resolver.key_of(workspace_.state().materials[i]));
  std::size_t at = 0;
  for (const Cutter& cutter : workspace_.state().cutters) {
    const CutterKey key = key_as_used(workspace_.state(), resolver, cutter);
    for (const MaterialKey& material : materials) cells_[at++] = resolver.resolve(key, material, machine, query);
  }
}

void ChartView::update_range() {
  horizontalScrollBar()->setRange(0, std::max(0, name_width + column_count() * cell_width - viewport()->width()));
  horizontalScrollBar()->setPageStep(viewport()->width());
  horizontalScrollBar()->setSingleStep(cell_width / 2);
  verticalScrollBar()->setRange(0, std::max(0, head_height + row_count() * row_height - viewport()->height()));
  verticalScrollBar()->setPageStep(viewport()->height());
  verticalScrollBar()->setSingleStep(row_height);
}

int ChartView::row_of(const Id& cutter) const {
  for (int i = 0; i < row_count(); ++i)
    if (workspace_.state().cutters[static_cast<std::size_t>(i)].id == cutter) return i;
  return -1;
}

int ChartView::column_of(const Id& material) const {
  for (int i = 0; i < column_count(); ++i)
    if (material_at(i).id == material) return i;
  return -1;
}

QString ChartView::cell_text(int row, int column) const {
  const Resolution& r = cells_[static_cast<std::size_t>(row * column_count() + column)];
  const Cutter& cutter = workspace_.state().cutters[static_cast<std::size_t>(row)];
  if (!r.found()) return reason_text(r.reason, cutter.kind);
  return QString::fromStdString("S " + shown(r.conditions.n_rpm, Quantity::spindle_speed, workspace_.units()) + " F " + shown(r.conditions.vf_mm_min, Quantity::table_feed, workspace_.units()));
}

void ChartView::paintEvent(QPaintEvent*) {
  QPainter p(viewport());
  const Dyes& d = dyes();
  const int dx = horizontalScrollBar()->value(), dy = verticalScrollBar()->value();
  const int w = viewport()->width(), h = viewport()->height();
  p.fillRect(viewport()->rect(), d.fleece);
  if (row_count() == 0) {
    p.setPen(d.quiet);
    p.drawText(viewport()->rect(), Qt::AlignCenter, tr("No cutters yet: the chart fills as they are made"));
    return;
  }
  const int row_now = row_of(workspace_.cutter_id()), column_now = column_of(workspace_.context().material);
  const UnitSystem units = workspace_.units();
  const int first_row = std::max(0, dy / row_height), last_row = std::min(row_count() - 1, (dy + h - head_height) / row_height);
  const int first_column = std::max(0, dx / cell_width), last_column = std::min(column_count() - 1, (dx + w - name_width) / cell_width);
  auto x_of = [&](int column) { return name_width + column * cell_width - dx; };
  auto y_of = [&](int row) { return head_height + row * row_height - dy; };
  // The column and the row of the context are lit.
  if (column_now >= 0) p.fillRect(QRect(x_of(column_now), 0, cell_width, y_of(row_count())), d.lit);
  if (row_now >= 0) p.fillRect(QRect(0, y_of(row_now), w, row_height), d.lit);

  p.setClipRect(name_width, head_height, w - name_width, h - head_height);
  for (int row = first_row; row <= last_row; ++row) {
    const Cutter& cutter = workspace_.state().cutters[static_cast<std::size_t>(row)];
    for (int column = first_column; column <= last_column; ++column) {
      const Resolution& r = cells_[static_cast<std::size_t>(row * column_count() + column)];
      const QRect cell(x_of(column), y_of(row), cell_width, row_height);
      if (row == row_now && column == column_now) {
        p.setPen(QPen(d.woad, 2));
        p.setBrush(Qt::NoBrush);
        p.drawRect(cell.adjusted(1, 1, -2, -2));
      }
      if (!r.found()) {
        p.setFont(Look::get().text(12));
        p.setPen(r.reason == NoAnswer::draft ? d.madder : d.quiet);
        p.drawText(cell.adjusted(14, 0, 0, 0), Qt::AlignLeft | Qt::AlignVCenter, reason_text(r.reason, cutter.kind));
        continue;
      }
      p.setFont(Look::get().text(13));
      p.setPen(d.ink);
      p.drawText(QRect(cell.left(), cell.top(), speed_right, row_height), Qt::AlignRight | Qt::AlignVCenter, QString::fromStdString(shown(r.conditions.n_rpm, Quantity::spindle_speed, units)));
      p.drawText(QRect(cell.left(), cell.top(), feed_right, row_height), Qt::AlignRight | Qt::AlignVCenter, QString::fromStdString(shown(r.conditions.vf_mm_min, Quantity::table_feed, units)));
      draw_mark(p, QRectF(cell.left() + feed_right + 5, cell.top(), 12, row_height), mark_of(r));
    }
  }
  p.setClipRect(0, head_height, w, h - head_height);
  for (int row = first_row; row <= last_row; ++row) {
    p.setPen(d.line);
    p.drawLine(0, y_of(row) + row_height - 1, std::min(w, x_of(column_count())), y_of(row) + row_height - 1);
  }
  // First column, over what scrolled beneath it.
  for (int row = first_row; row <= last_row; ++row) {
    const Cutter& cutter = workspace_.state().cutters[static_cast<std::size_t>(row)];
    const QRect cell(0, y_of(row), name_width, row_height - 1);
    p.fillRect(cell, row == row_now ? d.lit : d.fleece);
    p.setFont(Look::get().text(12.5));
    p.setPen(d.quiet);
    p.drawText(QRect(0, cell.top(), 36, row_height), Qt::AlignRight | Qt::AlignVCenter, QString::number(cutter.number));
    p.setPen(d.ink);
    p.drawText(cell.adjusted(46, 0, -4, 0), Qt::AlignLeft | Qt::AlignVCenter, p.fontMetrics().elidedText(QString::fromStdString(cutter.name), Qt::ElideRight, name_width - 52));
  }
  // Heads.
  p.setClipping(false);
  p.fillRect(QRect(0, 0, w, head_height), d.fleece);
  if (column_now >= 0) p.fillRect(QRect(std::max(name_width, x_of(column_now)), 0, cell_width - std::max(0, name_width - x_of(column_now)), head_height), d.lit);
  p.setClipRect(name_width, 0, w - name_width, head_height);
  for (int column = first_column; column <= last_column; ++column) {
    const WorkMaterial& m = material_at(column);
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
    p.drawText(QRect(x, 25, feed_right, 20), Qt::AlignRight | Qt::AlignVCenter, units == UnitSystem::inch ? tr("F in/min") : tr("F mm/min"));
  }
  p.setClipping(false);
  p.setFont(Look::get().text(11.5));
  p.setPen(d.quiet);
  p.drawText(QRect(46, 25, 120, 20), Qt::AlignLeft | Qt::AlignVCenter, tr("Cutter"));
  p.setPen(d.line);
  p.drawLine(0, head_height - 1, w, head_height - 1);
  // What is cut off says so.
  if (dx < horizontalScrollBar()->maximum()) {
    QLinearGradient fade(w - 26, 0, w, 0);
    QColor clear = d.fleece;
    clear.setAlpha(0);
    fade.setColorAt(0, clear);
    fade.setColorAt(1, d.fleece);
    p.fillRect(QRect(w - 26, 0, 26, h), fade);
    p.setPen(d.woad);
    p.setFont(Look::get().text(15, true));
    p.drawText(QRect(w - 16, 2, 14, 22), Qt::AlignCenter, QStringLiteral("›"));
  }
}

void ChartView::choose(int row, int column) {
  if (row < 0 || row >= row_count()) return;
  if (column >= 0 && column < column_count()) {
    Context context = workspace_.context();
    context.material = material_at(column).id;
    workspace_.set_context(context);
    const int x = column * cell_width;
    QScrollBar* bar = horizontalScrollBar();
    if (x < bar->value()) bar->setValue(x);
    if (x + cell_width + name_width > bar->value() + viewport()->width()) bar->setValue(x + cell_width + name_width - viewport()->width());
  }
  workspace_.select_cutter(workspace_.state().cutters[static_cast<std::size_t>(row)].id);
  const int y = row * row_height;
  QScrollBar* bar = verticalScrollBar();
  if (y < bar->value()) bar->setValue(y);
  if (y + row_height + head_height > bar->value() + viewport()->height()) bar->setValue(y + row_height + head_height - viewport()->height());
  viewport()->update();
  emit cell_chosen();
}

void ChartView::mousePressEvent(QMouseEvent* event) {
  const QPoint at = event->pos();
  const int row = at.y() < head_height ? row_of(workspace_.cutter_id()) : (at.y() - head_height + verticalScrollBar()->value()) / row_height;
  const int column = at.x() < name_width ? -1 : (at.x() - name_width + horizontalScrollBar()->value()) / cell_width;
  choose(row, column);
}

void ChartView::keyPressEvent(QKeyEvent* event) {
  const int row = std::max(0, row_of(workspace_.cutter_id())), column = std::max(0, column_of(workspace_.context().material));
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
    default: QAbstractScrollArea::keyPressEvent(event);
  }
}

}  // namespace pecorra
