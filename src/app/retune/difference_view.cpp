#include "app/retune/difference_view.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QPainter>
#include <QScrollBar>
#include <QToolTip>
#include <algorithm>

#include "app/look/look.h"

namespace pecorra {
namespace {

constexpr int heading_height = 24;

QString text_line(std::string_view text) {
  constexpr std::size_t longest_shown = 2000;
  text = text.substr(0, longest_shown);
  return QString::fromLatin1(text.data(), static_cast<qsizetype>(text.size()));
}

struct Word {
  qsizetype begin = 0, length = 0;
};
// Speeds and feeds of a line, without those in comments.
std::vector<Word> words_of(const QString& line) {
  std::vector<Word> out;
  int bracket = 0;
  for (qsizetype i = 0; i < line.size(); ++i) {
    const QChar c = line[i].toUpper();
    if (c == QLatin1Char('(')) ++bracket;
    if (c == QLatin1Char(')')) --bracket;
    if (c == QLatin1Char(';')) break;
    if (bracket > 0 || (c != QLatin1Char('S') && c != QLatin1Char('F'))) continue;
    qsizetype end = i + 1;
    while (end < line.size() && (line[end].isDigit() || line[end] == QLatin1Char('.') || line[end].isSpace())) ++end;
    while (end > i + 1 && line[end - 1].isSpace()) --end;
    if (end > i + 1) out.push_back({i, end - i});
    i = end - 1;
  }
  return out;
}

}  // namespace

DifferenceView::DifferenceView(QWidget* parent) : QAbstractScrollArea(parent) {
  setObjectName(QStringLiteral("difference"));
  setAccessibleName(tr("The program before and after"));
  setFocusPolicy(Qt::StrongFocus);
  setMinimumWidth(260);
  setFrameShape(QFrame::NoFrame);
  viewport()->setMouseTracking(true);
  connect(&Look::get(), &Look::changed, viewport(), qOverload<>(&QWidget::update));
  connect(verticalScrollBar(), &QScrollBar::valueChanged, viewport(), qOverload<>(&QWidget::update));
}

int DifferenceView::line_height() const { return QFontMetrics(Look::get().mono(12)).height() + 1; }

int DifferenceView::margin() const {
  const auto lines = program_ ? program_->read.text->size() : 0;
  return QFontMetrics(Look::get().mono(11)).horizontalAdvance(QString::number(std::max<std::size_t>(lines, 999))) + 26;
}

void DifferenceView::measure() {
  const int lines = program_ ? static_cast<int>(program_->read.text->size()) : 0;
  const int shown = std::max(1, (viewport()->height() - heading_height) / line_height());
  verticalScrollBar()->setRange(0, std::max(0, lines - shown));
  verticalScrollBar()->setPageStep(shown);
}

void DifferenceView::show_program(std::shared_ptr<const RetunedFile> program) {
  const bool other = !program || !program_ || program->read.file != program_->read.file;
  program_ = std::move(program);
  if (other) {
    front_ = 0;
    section_ = -1;
  }
  measure();
  if (other) verticalScrollBar()->setValue(0);
  viewport()->update();
}

void DifferenceView::show_section(int section, bool scroll) {
  section_ = section;
  if (scroll && program_ && section >= 0 && section < static_cast<int>(program_->reading->sections.size())) {
    front_ = program_->reading->sections[static_cast<std::size_t>(section)].first;
    verticalScrollBar()->setValue(std::max(0, static_cast<int>(front_) - 2));
  }
  viewport()->update();
}

void DifferenceView::keep_in_sight(std::size_t block) {
  QScrollBar* bar = verticalScrollBar();
  const int line = static_cast<int>(block);
  if (line < bar->value()) bar->setValue(line);
  else if (line >= bar->value() + bar->pageStep()) bar->setValue(line - bar->pageStep() + 1);
}

void DifferenceView::show_block(std::size_t block) {
  front_ = block;
  keep_in_sight(block);
  viewport()->update();
}

bool DifferenceView::next_change(bool backwards) {
  if (!program_ || program_->changed_lines.empty()) return false;
  const auto& all = program_->changed_lines;
  std::size_t to = 0;
  if (backwards) {
    const auto found = std::lower_bound(all.begin(), all.end(), front_);
    to = found == all.begin() ? all.back() : *(found - 1);
  } else {
    const auto found = std::upper_bound(all.begin(), all.end(), front_);
    to = found == all.end() ? all.front() : *found;
  }
  show_block(to);
  emit block_chosen(to);
  return true;
}

void DifferenceView::resizeEvent(QResizeEvent* event) {
  QAbstractScrollArea::resizeEvent(event);
  measure();
}

void DifferenceView::paintEvent(QPaintEvent*) {
  QPainter p(viewport());
  const Colours& d = colours();
  const QRect all = viewport()->rect();
  p.fillRect(all, d.raised);
  const QFont plain = Look::get().mono(12), small = Look::get().mono(11);
  QFont bold = plain;
  bold.setBold(true);
  const int high = line_height(), left = margin(), half = (all.width() - left) / 2;
  const QRectF columns[2] = {QRectF(left, 0, half - 8, all.height()),
                             QRectF(left + half, 0, all.width() - left - half - 4, all.height())};
  p.setFont(Look::get().text(12));
  p.setPen(d.quiet);
  p.drawText(QRectF(columns[0].left(), 0, columns[0].width(), heading_height), Qt::AlignLeft | Qt::AlignVCenter,
             tr("Before"));
  p.drawText(QRectF(columns[1].left(), 0, columns[1].width(), heading_height), Qt::AlignLeft | Qt::AlignVCenter,
             tr("After"));
  p.setPen(d.line);
  p.drawRect(all.adjusted(0, 0, -1, -1));
  p.drawLine(0, heading_height, all.width(), heading_height);
  p.drawLine(left + half - 6, 0, left + half - 6, all.height());
  if (!program_) return;
  const ProgramText& text = *program_->read.text;
  const ProgramSection* lit = section_ >= 0 && section_ < static_cast<int>(program_->reading->sections.size())
                                  ? &program_->reading->sections[static_cast<std::size_t>(section_)]
                                  : nullptr;
  const auto first = static_cast<std::size_t>(verticalScrollBar()->value());
  for (std::size_t block = first; block < text.size(); ++block) {
    const double y = heading_height + 1 + static_cast<double>(block - first) * high;
    if (y > all.height()) break;
    const bool changed = std::binary_search(program_->changed_lines.begin(), program_->changed_lines.end(), block);
    if (block == front_) p.fillRect(QRectF(1, y, all.width() - 2, high), d.lit);
    if (lit && block >= lit->first && block <= lit->last) p.fillRect(QRectF(1, y, 3, high), d.accent);
    p.setFont(small);
    p.setPen(d.quiet);
    draw_line(p, QRectF(4, y, left - 22, high), Qt::AlignRight | Qt::AlignVCenter, QString::number(block + 1));
    if (changed) {
      p.setPen(d.accent);
      p.setFont(bold);
      draw_line(p, QRectF(left - 15, y, 12, high), Qt::AlignLeft | Qt::AlignVCenter, QStringLiteral("→"));
    }
    const QString lines[2] = {text_line(text.line(block)), text_line(program_->line(block))};
    std::vector<Word> words[2];
    if (changed)
      for (int side = 0; side < 2; ++side) words[side] = words_of(lines[side]);
    for (int side = 0; side < 2; ++side) {
      const QString& line = lines[side];
      bool hidden = false;
      p.save();
      p.setClipRect(columns[side]);
      // What changes is always seen: a line that is too long is shown from further on.
      double x = columns[side].left();
      if (!words[side].empty()) {
        const QFontMetrics letters(bold);
        const qsizetype end = words[side].back().begin + words[side].back().length;
        const double over =
            letters.horizontalAdvance(QLatin1Char('0')) * static_cast<double>(end) + 6 - columns[side].width();
        if (over > 0) {
          x -= over + letters.horizontalAdvance(QLatin1Char('0'));
          hidden = true;
        }
      }
      const auto put = [&](qsizetype begin, qsizetype length, const QColor& colour, const QFont& font) {
        if (length <= 0) return;
        p.setFont(font);
        p.setPen(colour);
        const QString piece = line.mid(begin, length);
        draw_line(p, QRectF(x, y, std::max(0.0, columns[side].right() - x), high), Qt::AlignLeft | Qt::AlignVCenter,
                  piece);
        x += p.fontMetrics().horizontalAdvance(piece);
      };
      qsizetype at = 0;
      for (const Word& w : words[side]) {
        const QString word = line.mid(w.begin, w.length);
        const bool same = std::any_of(words[1 - side].begin(), words[1 - side].end(), [&](const Word& other) {
          return lines[1 - side].mid(other.begin, other.length) == word;
        });
        if (same) continue;
        put(at, w.begin - at, d.quiet, plain);
        put(w.begin, w.length, side == 0 ? d.ink : d.accent, bold);
        at = w.begin + w.length;
      }
      put(at, line.size() - at, d.quiet, plain);
      if (hidden) {
        const QRectF start(columns[side].left(), y, p.fontMetrics().horizontalAdvance(QLatin1Char('0')) + 3, high);
        p.fillRect(start, block == front_ ? d.lit : d.raised);
        p.setFont(plain);
        p.setPen(d.quiet);
        p.drawText(start, Qt::AlignLeft | Qt::AlignVCenter, QStringLiteral("…"));
      }
      p.restore();
    }
  }
  if (hasFocus()) {
    p.setPen(QPen(d.accent, 1));
    p.drawRect(all.adjusted(0, 0, -1, -1));
  }
}

std::optional<std::size_t> DifferenceView::block_at(int y) const {
  if (!program_ || y < heading_height) return std::nullopt;
  const auto block =
      static_cast<std::size_t>(verticalScrollBar()->value() + (y - heading_height - 1) / std::max(1, line_height()));
  return block < program_->read.text->size() ? std::optional(block) : std::nullopt;
}

void DifferenceView::mousePressEvent(QMouseEvent* event) {
  const auto block = block_at(static_cast<int>(event->position().y()));
  if (!block) return;
  front_ = *block;
  viewport()->update();
  emit block_chosen(*block);
}

void DifferenceView::keyPressEvent(QKeyEvent* event) {
  if (!program_) return QAbstractScrollArea::keyPressEvent(event);
  const std::size_t last = program_->read.text->size() - 1;
  const auto page = static_cast<std::size_t>(verticalScrollBar()->pageStep());
  std::size_t to = front_;
  switch (event->key()) {
    case Qt::Key_Up: to = front_ > 0 ? front_ - 1 : 0; break;
    case Qt::Key_Down: to = std::min(last, front_ + 1); break;
    case Qt::Key_PageUp: to = front_ > page ? front_ - page : 0; break;
    case Qt::Key_PageDown: to = std::min(last, front_ + page); break;
    case Qt::Key_Home: to = 0; break;
    case Qt::Key_End: to = last; break;
    case Qt::Key_N: next_change(false); return;
    case Qt::Key_P: next_change(true); return;
    default: return QAbstractScrollArea::keyPressEvent(event);
  }
  show_block(to);
  emit block_chosen(to);
}

// What does not fit is told whole.
bool DifferenceView::viewportEvent(QEvent* event) {
  if (event->type() != QEvent::ToolTip) return QAbstractScrollArea::viewportEvent(event);
  const auto* help = static_cast<QHelpEvent*>(event);
  const auto block = block_at(help->pos().y());
  if (!block) {
    QToolTip::hideText();
    return true;
  }
  const QString was = text_line(program_->read.text->line(*block)), now = text_line(program_->line(*block));
  QToolTip::showText(help->globalPos(), was == now ? was : was + QStringLiteral("\n") + now, viewport());
  return true;
}

}  // namespace pecorra

#include "moc_difference_view.cpp"
