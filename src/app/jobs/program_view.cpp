#include "app/jobs/program_view.h"

#include <QClipboard>
#include <QGuiApplication>
#include <QHelpEvent>
#include <QKeyEvent>
#include <QPainter>
#include <QScrollBar>
#include <QStyledItemDelegate>
#include <QToolTip>
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
    if (const QString& found = view_.found_text(); !found.isEmpty()) {
      QColor lit_found = d.warning;
      lit_found.setAlpha(70);
      const int letter = QFontMetrics(Look::get().mono(12)).horizontalAdvance(QLatin1Char('0'));
      for (qsizetype at = text.indexOf(found, 0, Qt::CaseInsensitive); at >= 0;
           at = text.indexOf(found, at + found.size(), Qt::CaseInsensitive))
        p->fillRect(QRectF(option.rect.left() + 8 + static_cast<double>(at * letter), option.rect.top(),
                           static_cast<double>(found.size() * letter), option.rect.height()),
                    lit_found);
    }
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
    // S and F words stand out, comments step back.
    const qsizetype comment = text.indexOf(QLatin1Char('(')), words = comment < 0 ? text.size() : comment;
    qsizetype from = 0;
    for (qsizetype i = 0; i < words; ++i) {
      const bool word = text[i] == QLatin1Char('S') || text[i] == QLatin1Char('F');
      qsizetype end = i + 1;
      while (end < text.size() && (text[end].isDigit() || text[end] == QLatin1Char('.'))) ++end;
      if (!word || end == i + 1) continue;
      if (i > from) put(text.mid(from, i - from), d.ink, plain);
      put(text.mid(i, end - i), d.accent, bold);
      from = end;
      i = end - 1;
    }
    if (from < words) put(text.mid(from, words - from), d.ink, plain);
    if (words < text.size()) put(text.mid(words), d.quiet, plain);
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

bool ProgramLines::show_program(std::shared_ptr<const WrittenProgram> program) {
  const auto text_in = [](const auto& p) { return p ? std::string_view(p->text) : std::string_view(); };
  if (text_in(program) == text_in(program_)) {
    program_ = std::move(program);  // the same text; its moves may be others
    return false;
  }
  beginResetModel();
  program_ = std::move(program);
  starts_.clear();
  operations_.clear();
  longest_ = 0;
  const std::string_view whole = text_in(program_);
  for (std::size_t at = 0; at < whole.size();) {
    const std::size_t end = std::min(whole.find('\n', at), whole.size());
    longest_ = std::max(longest_, static_cast<int>(end - at));
    starts_.push_back(static_cast<std::uint32_t>(at));
    at = end + 1;
  }
  if (program_)
    for (std::size_t row = 0; row < program_->blocks.size(); ++row)
      if (const int number = origin(static_cast<int>(row)).first; number > 0)
        operations_.try_emplace(number, static_cast<int>(row));
  endResetModel();
  return true;
}

QString ProgramLines::line(int row) const {
  const auto i = static_cast<std::size_t>(row);
  const std::size_t end = i + 1 < starts_.size() ? starts_[i + 1] : program_->text.size();
  std::string_view text = std::string_view(program_->text).substr(starts_[i], end - starts_[i]);
  while (!text.empty() && (text.back() == '\n' || text.back() == '\r')) text.remove_suffix(1);
  return QString::fromLatin1(text.data(), static_cast<qsizetype>(text.size()));
}

QVariant ProgramLines::data(const QModelIndex& index, int role) const {
  if (!index.isValid() || role != Qt::DisplayRole) return {};
  return line(index.row());
}

int ProgramLines::row_of_operation(int number) const {
  const auto found = operations_.find(number);
  return found == operations_.end() ? -1 : found->second;
}

int ProgramLines::row_of_move(int number, int move) const {
  const int first = row_of_operation(number);
  if (first < 0) return -1;
  const auto next = operations_.upper_bound(number);
  const int end = next == operations_.end() ? rowCount() : std::max(next->second, first);
  // Moves rise within an operation; blocks of none stand before the first and behind the last.
  int low = first, high = end;
  while (low < high) {
    const int middle = (low + high) / 2;
    const auto [of, at] = origin(middle);
    if (of == number && at <= move) low = middle + 1;
    else high = middle;
  }
  return std::max(first, low - 1);
}

std::pair<int, int> ProgramLines::origin(int row) const {
  if (!program_ || row < 0 || static_cast<std::size_t>(row) >= program_->blocks.size()) return {0, -1};
  const BlockOrigin& o = program_->blocks[static_cast<std::size_t>(row)];
  return {o.operation < 0 ? 0 : program_->numbers[static_cast<std::size_t>(o.operation)], o.move};
}

int ProgramLines::find(const QString& text, int from, bool backwards) const {
  const int rows = rowCount(), step = backwards ? -1 : 1;
  for (int i = 0; i < rows; ++i) {
    const int row = ((from + i * step) % rows + rows) % rows;
    if (line(row).contains(text, Qt::CaseInsensitive)) return row;
  }
  return -1;
}

ProgramView::ProgramView(QWidget* parent) : QListView(parent), lines_(new ProgramLines(this)) {
  setModel(lines_);
  setItemDelegate(new LinePainter(this, lines_));
  setUniformItemSizes(true);
  setSelectionMode(ExtendedSelection);
  setHorizontalScrollMode(ScrollPerPixel);
  setVerticalScrollMode(ScrollPerItem);
  setEditTriggers(NoEditTriggers);
  setMouseTracking(true);
  setObjectName(QStringLiteral("program"));
  setMinimumWidth(160);
  connect(&Look::get(), &Look::changed, viewport(), qOverload<>(&QWidget::update));
}

void ProgramView::show_program(std::shared_ptr<const WrittenProgram> program) {
  following_ = true;
  const bool anew = lines_->show_program(std::move(program));
  following_ = false;
  if (!anew) return;
  const int operation = operation_;
  operation_ = 0;
  show_operation(operation);
}

void ProgramView::light(int row) {
  if (row == lit_) return;
  lit_ = row;
  viewport()->update();
}

void ProgramView::show_operation(int number) {
  if (number == operation_) return;
  operation_ = number;
  light(lines_->row_of_operation(number));
  if (lit_ >= 0) scrollTo(lines_->index(lit_), PositionAtTop);
  viewport()->update();
}

void ProgramView::show_move(int number, int move) {
  operation_ = number;
  light(lines_->row_of_move(number, move));
  if (lit_ >= 0) scrollTo(lines_->index(lit_), EnsureVisible);
}

bool ProgramView::find(const QString& text, bool backwards) {
  found_ = text;
  viewport()->update();
  if (text.isEmpty() || lines_->rowCount() == 0) return true;
  const int now = currentIndex().isValid() ? currentIndex().row() : lit_;
  const int row = lines_->find(text, backwards ? now - 1 : now + 1, backwards);
  if (row < 0) return false;
  setCurrentIndex(lines_->index(row));
  scrollTo(lines_->index(row), PositionAtCenter);
  return true;
}

void ProgramView::currentChanged(const QModelIndex& now, const QModelIndex& before) {
  QListView::currentChanged(now, before);
  if (following_ || !now.isValid()) return;
  const auto [number, move] = lines_->origin(now.row());
  if (number == 0) return;
  operation_ = number;
  light(now.row());
  emit block_chosen(number, move);
}

// S and F say where they are from.
bool ProgramView::viewportEvent(QEvent* event) {
  if (event->type() != QEvent::ToolTip || !explain_) return QListView::viewportEvent(event);
  const auto* help = static_cast<QHelpEvent*>(event);
  const QModelIndex index = indexAt(help->pos());
  const auto [number, move] = index.isValid() ? lines_->origin(index.row()) : std::pair(0, -1);
  QString said;
  if (number > 0) {
    const QString text = lines_->line(index.row());
    const int letter = QFontMetrics(Look::get().mono(12)).horizontalAdvance(QLatin1Char('0'));
    qsizetype at = std::clamp<qsizetype>((help->pos().x() + horizontalScrollBar()->value() - 8) / std::max(1, letter),
                                         0, std::max<qsizetype>(0, text.size() - 1));
    const qsizetype comment = text.indexOf(QLatin1Char('('));
    while (at > 0 && at < text.size() && !text[at].isLetter()) --at;
    if (at < text.size() && (comment < 0 || at < comment)) said = explain_(number, move, text[at]);
  }
  if (said.isEmpty()) QToolTip::hideText();
  else QToolTip::showText(help->globalPos(), said, viewport());
  return true;
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
  if (event->matches(QKeySequence::Find)) return emit find_wanted();
  if (event->matches(QKeySequence::FindNext)) return void(find(found_, false));
  if (event->matches(QKeySequence::FindPrevious)) return void(find(found_, true));
  if (!event->matches(QKeySequence::Copy)) return QListView::keyPressEvent(event);
  QModelIndexList rows = selectionModel()->selectedIndexes();
  std::sort(rows.begin(), rows.end());
  QStringList text;
  for (const QModelIndex& row : rows) text << row.data().toString();
  if (!text.isEmpty()) QGuiApplication::clipboard()->setText(text.join(QLatin1Char('\n')) + QLatin1Char('\n'));
}

}  // namespace pecorra

#include "moc_program_view.cpp"
