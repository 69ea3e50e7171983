#include "app/jobs/program_view.h"

#include <QClipboard>
#include <QGuiApplication>
#include <QKeyEvent>
#include <QPainter>
#include <QStyledItemDelegate>
#include <algorithm>

#include "app/look/look.h"

namespace pecorra {
namespace {

class LinePainter : public QStyledItemDelegate {
 public:
  LinePainter(ProgramView* view, ProgramLines* lines) : QStyledItemDelegate(view), view_(*view), lines_(*lines) {}
  void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
    const Colours& d = colours();
    if (index.row() == view_.lit_row() || (option.state & QStyle::State_Selected)) p->fillRect(option.rect, d.lit);
    const QString text = index.data().toString();
    const QFont plain = Look::get().mono(12);
    QFont bold = plain;
    bold.setBold(true);
    double x = option.rect.left() + 8;
    const auto put = [&](const QString& piece, const QColor& colour, const QFont& font) {
      p->setFont(font);
      p->setPen(colour);
      draw_line(*p, QRectF(x, option.rect.top(), option.rect.right() - x, option.rect.height()),
                Qt::AlignLeft | Qt::AlignVCenter, piece);
      x += p->fontMetrics().horizontalAdvance(piece);
    };
    if (text.startsWith(QLatin1Char('('))) return put(text, d.quiet, plain);
    // S and F words stand out.
    qsizetype from = 0;
    for (qsizetype i = 0; i < text.size(); ++i) {
      const bool word = text[i] == QLatin1Char('S') || text[i] == QLatin1Char('F');
      qsizetype end = i + 1;
      while (end < text.size() && (text[end].isDigit() || text[end] == QLatin1Char('.'))) ++end;
      if (!word || end == i + 1) continue;
      if (i > from) put(text.mid(from, i - from), d.ink, plain);
      put(text.mid(i, end - i), d.accent, bold);
      from = end;
      i = end - 1;
    }
    if (from < text.size()) put(text.mid(from), d.ink, plain);
  }
  // All lines are as wide as the longest.
  QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override {
    const QFontMetrics letters(Look::get().mono(12));
    return {letters.horizontalAdvance(QLatin1Char('0')) * lines_.longest() + 16, letters.height() + 1};
  }

 private:
  ProgramView& view_;
  ProgramLines& lines_;
};

}  // namespace

bool ProgramLines::show_text(const QString& text) {
  if (text == text_) return false;
  beginResetModel();
  text_ = text;
  lines_.clear();
  operations_.clear();
  longest_ = 0;
  const QStringView whole(text_);
  for (qsizetype at = 0; at < whole.size();) {
    qsizetype end = whole.indexOf(QLatin1Char('\n'), at);
    if (end < 0) end = whole.size();
    const QStringView line = whole.mid(at, end - at);
    if (line.startsWith(QLatin1String("(OP ")))
      operations_.emplace(line.mid(4, line.indexOf(QLatin1Char(' '), 4) - 4).toInt(), static_cast<int>(lines_.size()));
    longest_ = std::max(longest_, static_cast<int>(line.size()));
    lines_.push_back(line);
    at = end + 1;
  }
  endResetModel();
  return true;
}

QVariant ProgramLines::data(const QModelIndex& index, int role) const {
  if (!index.isValid() || role != Qt::DisplayRole) return {};
  return lines_[static_cast<std::size_t>(index.row())].toString();
}

int ProgramLines::row_of_operation(int number) const {
  const auto found = operations_.find(number);
  return found == operations_.end() ? -1 : found->second;
}

ProgramView::ProgramView(QWidget* parent) : QListView(parent), lines_(new ProgramLines(this)) {
  setModel(lines_);
  setItemDelegate(new LinePainter(this, lines_));
  setUniformItemSizes(true);
  setSelectionMode(ExtendedSelection);
  setHorizontalScrollMode(ScrollPerPixel);
  setVerticalScrollMode(ScrollPerItem);
  setEditTriggers(NoEditTriggers);
  setObjectName(QStringLiteral("program"));
  setMinimumWidth(160);
  connect(&Look::get(), &Look::changed, viewport(), qOverload<>(&QWidget::update));
}

void ProgramView::show_program(const QString& program) {
  if (!lines_->show_text(program)) return;
  const int operation = operation_;
  operation_ = 0;
  show_operation(operation);
}

void ProgramView::show_operation(int number) {
  if (number == operation_) return;
  operation_ = number;
  lit_ = lines_->row_of_operation(number);
  if (lit_ >= 0) scrollTo(lines_->index(lit_), PositionAtTop);
  viewport()->update();
}

// On the same ground as the picture beside it.
void ProgramView::paintEvent(QPaintEvent* event) {
  {
    QPainter p(viewport());
    p.fillRect(viewport()->rect(), colours().raised);
    p.setPen(colours().line);
    p.drawRect(viewport()->rect().adjusted(0, 0, -1, -1));
  }
  QListView::paintEvent(event);
}

void ProgramView::keyPressEvent(QKeyEvent* event) {
  if (!event->matches(QKeySequence::Copy)) return QListView::keyPressEvent(event);
  QModelIndexList rows = selectionModel()->selectedIndexes();
  std::sort(rows.begin(), rows.end());
  QStringList text;
  for (const QModelIndex& row : rows) text << row.data().toString();
  if (!text.isEmpty()) QGuiApplication::clipboard()->setText(text.join(QLatin1Char('\n')) + QLatin1Char('\n'));
}

}  // namespace pecorra

#include "moc_program_view.cpp"
