#include "app/look/look.h"

#include <QApplication>
#include <QFontDatabase>
#include <QImage>
#include <QPainterPath>
#include <QPalette>
#include <QStyleFactory>
#include <QWidget>

namespace pecorra {
namespace {

QString load_font(const QString& file) {
  const int id = QFontDatabase::addApplicationFont(QStringLiteral(":/pecorra/fonts/") + file);
  const QStringList families = QFontDatabase::applicationFontFamilies(id);
  return families.isEmpty() ? QString() : families.front();
}

QString sheet(const Colours& d) {
  return QStringLiteral(
             "QToolTip{background:%2;color:%4;border:1px solid %3;padding:4px}"
             "QLineEdit,QComboBox,QPlainTextEdit{background:%2;border:1px solid %3;border-radius:4px;padding:2px "
             "6px;selection-background-color:%5;selection-color:%2}"
             "QLineEdit:focus,QComboBox:focus{border:2px solid %5;padding:1px 5px}"
             "QLineEdit[fault=\"true\"]{border:2px solid %6;padding:1px 5px}"
             "QComboBox::drop-down{border:0;width:14px}QComboBox QAbstractItemView{background:%2;border:1px solid "
             "%3;outline:0}"
             "QScrollBar:vertical{background:transparent;width:9px;margin:0}QScrollBar::handle:vertical{background:%3;"
             "border-radius:4px;min-height:28px}"
             "QScrollBar:horizontal{background:transparent;height:9px;margin:0}QScrollBar::handle:horizontal{"
             "background:%3;border-radius:4px;min-width:28px}"
             "QScrollBar::add-line,QScrollBar::sub-line,QScrollBar::add-page,QScrollBar::sub-page{background:none;"
             "border:0;height:0;width:0}"
             "QHeaderView::section{background:%1;color:%7;border:0;border-bottom:1px solid %3;padding:3px 6px}"
             "QTableCornerButton::section{background:%1;border:0}"
             "QTableView,QListView{background:%1;border:0;outline:0;gridline-color:%3;selection-background-color:%8;"
             "selection-color:%4}"
             "QMenu{background:%2;border:1px solid %3;padding:4px}QMenu::item{padding:5px "
             "18px;border-radius:3px}QMenu::item:selected{background:%8;color:%4}"
             "QSplitter::handle{background:transparent}QSplitter[rule=\"true\"]::handle{background:%3}"
             "QPushButton{background:%2;border:1px solid %3;border-radius:12px;padding:4px 12px;color:%4}"
             "QPushButton:hover{border-color:%5}QPushButton:focus{border:2px solid %5;padding:3px 11px}"
             "QPushButton:checked{background:%5;color:%2;border-color:%5}QPushButton:disabled{color:%7}"
             "QPushButton[flat=\"true\"]{border:0;background:transparent;color:%5;padding:2px "
             "4px}QPushButton[flat=\"true\"]:disabled{color:%7}QPushButton[flat=\"true\"]:focus{border:1px dotted "
             "%5;padding:1px 3px}"
             "QCheckBox{spacing:6px}")
      .arg(d.paper.name(), d.raised.name(), d.line.name(), d.ink.name(), d.accent.name(), d.error.name(),
           d.quiet.name(), d.lit.name());
}

}  // namespace

Look::Look() {
  day_colours_ = {QColor(0xF6F2E9), QColor(0xFFFDF8), QColor(0xF0ECE1), QColor(0xDDD5C5),
                  QColor(0x26302F), QColor(0x58605C), QColor(0x2A5A7A), QColor(0xAD3B2C),
                  QColor(0xB98A12), QColor(0x6A4E36), QColor(0x6F8259), QColor(0x8A6508),
                  QColor(0x52653D), QColor(0xE6EDF2), QColor(0xE9DFC8), QColor(0xFBF1D9)};
  night_colours_ = {QColor(0x1E2423), QColor(0x262D2C), QColor(0x232A29), QColor(0x3C4644),
                    QColor(0xE6E2D8), QColor(0xA7AEA8), QColor(0x7DB4D6), QColor(0xEC8E7B),
                    QColor(0xD9AE45), QColor(0xC9A98A), QColor(0x9DB384), QColor(0xE0BC62),
                    QColor(0xB0C498), QColor(0x2C3B44), QColor(0x4A4433), QColor(0x3A3422)};
}

Look& Look::get() {
  static Look look;
  return look;
}

void Look::dress(QApplication& application) {
  fonts_.clear();
  text_family_ = load_font(QStringLiteral("PecorraText-Regular.otf"));
  load_font(QStringLiteral("PecorraText-Bold.otf"));
  mono_family_ = load_font(QStringLiteral("PecorraMono-Regular.ttf"));
  load_font(QStringLiteral("PecorraMono-Bold.ttf"));
  application.setStyle(QStyleFactory::create(QStringLiteral("Fusion")));
  application.setFont(text(12.5));
  apply();
}

void Look::wear(QWidget& window) {
  windows_.emplace_back(&window);
  window.setStyleSheet(sheet(colours()));
}

void Look::warm_up(const std::function<bool()>& enough) const {
  QImage paper(400, 40, QImage::Format_RGB32);
  QPainter painter(&paper);
  for (const char* letters : {"0123456789.,-×·", "abcdefghijklm", "nopqrstuvwxyz", "ABCDEFGHIJKLM", "NOPQRSTUVWXYZ"})
    for (const QFont& font : {text(12), text(13, true), text(11)}) {
      if (enough()) return;
      painter.setFont(font);
      painter.drawText(QPointF(0, 20), QString::fromUtf8(letters));
    }
}

void Look::set_night(bool night) {
  if (night_ == night) return;
  night_ = night;
  apply();
  emit changed();
}

void Look::apply() {
  const Colours& d = colours();
  QPalette p;
  p.setColor(QPalette::Window, d.paper);
  p.setColor(QPalette::Base, d.raised);
  p.setColor(QPalette::AlternateBase, d.paper);
  p.setColor(QPalette::Text, d.ink);
  p.setColor(QPalette::WindowText, d.ink);
  p.setColor(QPalette::Button, d.raised);
  p.setColor(QPalette::ButtonText, d.ink);
  p.setColor(QPalette::Highlight, d.lit);
  p.setColor(QPalette::HighlightedText, d.ink);
  p.setColor(QPalette::ToolTipBase, d.raised);
  p.setColor(QPalette::ToolTipText, d.ink);
  p.setColor(QPalette::Link, d.accent);
  p.setColor(QPalette::PlaceholderText, d.quiet);
  p.setColor(QPalette::BrightText, d.error);
  p.setColor(QPalette::LinkVisited, d.heading);
  p.setColor(QPalette::Shadow, d.warning_text);
  p.setColor(QPalette::Disabled, QPalette::Text, d.quiet);
  p.setColor(QPalette::Disabled, QPalette::WindowText, d.quiet);
  p.setColor(QPalette::Disabled, QPalette::ButtonText, d.quiet);
  std::erase_if(windows_, [](const QPointer<QWidget>& window) { return !window; });
  // The palette alone does not restyle everything: the sheet is removed and set again.
  for (const auto& window : windows_) window->setStyleSheet(QString());
  qApp->setPalette(p);
  for (const auto& window : windows_) window->setStyleSheet(sheet(d));
}

QFont Look::text(double pixels, bool bold) const {
  // Whole pixels: few sizes look more even, and glyphs are rendered once per size. Copies of a font share their
  // lookups.
  const int size = static_cast<int>(pixels);
  const auto [at, added] = fonts_.try_emplace({size, bold});
  if (added) at->second = new_font(size, bold);
  return at->second;
}

QFont Look::new_font(double pixels, bool bold) const {
  QFont font(text_family_);
  font.setPointSizeF(pixels * 0.75);  // at 96 dpi; grows with the desktop's setting
  font.setBold(bold);
  return font;
}

QFont Look::mono(double pixels) const {
  QFont font(mono_family_);
  font.setPointSizeF(pixels * 0.75);
  font.setStyleHint(QFont::Monospace);
  return font;
}

void set_tone(QWidget* widget, Tone tone) {
  switch (tone) {
    case Tone::ink: return widget->setForegroundRole(QPalette::WindowText);
    case Tone::quiet: return widget->setForegroundRole(QPalette::PlaceholderText);
    case Tone::accent: return widget->setForegroundRole(QPalette::Link);
    case Tone::error: return widget->setForegroundRole(QPalette::BrightText);
    case Tone::heading: return widget->setForegroundRole(QPalette::LinkVisited);
    case Tone::warning: return widget->setForegroundRole(QPalette::Shadow);
  }
}

QColor tone_colour(Tone tone) {
  const Colours& d = colours();
  switch (tone) {
    case Tone::ink: return d.ink;
    case Tone::quiet: return d.quiet;
    case Tone::accent: return d.accent;
    case Tone::error: return d.error;
    case Tone::heading: return d.heading;
    case Tone::warning: return d.warning_text;
  }
  return d.ink;
}

void draw_mark(QPainter& p, QRectF box, Mark mark, const Colours& d) {
  if (mark == Mark::none) return;
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  const double size = std::min({box.width(), box.height(), 10.0});
  const QRectF r(box.center().x() - size / 2, box.center().y() - size / 2, size, size);
  switch (mark) {
    case Mark::proven:
      p.setPen(Qt::NoPen);
      p.setBrush(d.good);
      p.drawEllipse(r);
      break;
    case Mark::table:
      p.setPen(QPen(d.accent, 1.3));
      p.setBrush(Qt::NoBrush);
      p.drawEllipse(r.adjusted(0.6, 0.6, -0.6, -0.6));
      p.setBrush(d.accent);
      p.drawPie(r.adjusted(0.6, 0.6, -0.6, -0.6), 90 * 16, 180 * 16);
      break;
    case Mark::guess:
      p.setPen(QPen(d.warning, 1.6));
      p.setBrush(Qt::NoBrush);
      p.drawEllipse(r.adjusted(0.8, 0.8, -0.8, -0.8));
      break;
    case Mark::typed: {
      QPainterPath pen;  // a pen point
      pen.moveTo(r.left(), r.bottom());
      pen.lineTo(r.left() + size * 0.2, r.bottom() - size * 0.42);
      pen.lineTo(r.right() - size * 0.22, r.top());
      pen.lineTo(r.right(), r.top() + size * 0.22);
      pen.lineTo(r.left() + size * 0.42, r.bottom() - size * 0.2);
      pen.closeSubpath();
      p.setPen(Qt::NoPen);
      p.setBrush(d.ink);
      p.drawPath(pen);
      break;
    }
    case Mark::beyond: {
      const QPointF points[] = {{r.center().x(), r.top()}, {r.right(), r.bottom()}, {r.left(), r.bottom()}};
      p.setPen(Qt::NoPen);
      p.setBrush(d.error);
      p.drawConvexPolygon(points, 3);
      break;
    }
    case Mark::changed: {
      const QPointF points[] = {
          {r.center().x(), r.top() + 1}, {r.right() - 0.5, r.bottom() - 1}, {r.left() + 0.5, r.bottom() - 1}};
      p.setPen(QPen(d.warning, 1.6));
      p.setBrush(Qt::NoBrush);
      p.drawConvexPolygon(points, 3);
      break;
    }
    case Mark::none: break;
  }
  p.restore();
}

QString mark_name(Mark mark) {
  switch (mark) {
    case Mark::proven: return QObject::tr("proven");
    case Mark::table: return QObject::tr("from a table");
    case Mark::guess: return QObject::tr("guess");
    case Mark::typed: return QObject::tr("typed here");
    case Mark::beyond: return QObject::tr("beyond a limit");
    case Mark::changed: return QObject::tr("changed at source");
    case Mark::none: break;
  }
  return {};
}

void draw_line(QPainter& p, const QRectF& box, Qt::Alignment alignment, const QString& text) {
  const QFontMetricsF metrics(p.font());
  double width = metrics.horizontalAdvance(text);
  const bool fits = width <= box.width() + 0.5;
  const QString line = fits ? text : metrics.elidedText(text, Qt::ElideRight, box.width());
  if (!fits) width = metrics.horizontalAdvance(line);
  const double x = alignment & Qt::AlignRight     ? box.right() - width
                   : alignment & Qt::AlignHCenter ? box.center().x() - width / 2
                                                  : box.left();
  p.drawText(QPointF(x, box.top() + (box.height() + metrics.ascent() - metrics.descent()) / 2), line);
}

void draw_icon(QPainter& p, QRectF box, Icon icon, const QColor& colour) {
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  p.translate(box.topLeft());
  p.scale(box.width() / 20, box.height() / 20);
  p.setPen(QPen(colour, 1.4, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
  p.setBrush(Qt::NoBrush);
  auto lines = [&](std::initializer_list<QPointF> points) {
    p.drawPolyline(points.begin(), static_cast<int>(points.size()));
  };
  switch (icon) {
    case Icon::cutters:
      p.drawRect(QRectF(6, 1, 8, 18));
      lines({{6, 7.5}, {14, 7.5}});
      lines({{6, 12}, {10, 7.5}});
      lines({{6, 17}, {14, 8}});
      lines({{8.5, 19}, {14, 12.8}});
      break;
    case Icon::holders:
      lines({{4, 1},
             {16, 1},
             {16, 4.5},
             {14, 4.5},
             {13, 9.5},
             {14.5, 9.5},
             {14.5, 14},
             {5.5, 14},
             {5.5, 9.5},
             {7, 9.5},
             {6, 4.5},
             {4, 4.5},
             {4, 1}});
      lines({{8, 14}, {8, 19}});
      lines({{12, 14}, {12, 19}});
      break;
    case Icon::tables:
      p.drawRect(QRectF(2, 3, 16, 14));
      lines({{2, 7.5}, {18, 7.5}});
      lines({{2, 12}, {18, 12}});
      lines({{7.5, 3}, {7.5, 17}});
      lines({{12.8, 7.5}, {12.8, 17}});
      break;
    case Icon::jobs:
      p.drawRoundedRect(QRectF(2, 3, 16, 14), 3, 3);
      p.drawRoundedRect(QRectF(5.5, 6.5, 9, 7), 1.5, 1.5);
      p.drawEllipse(QPointF(14.5, 13.5), 2.2, 2.2);
      break;
    case Icon::materials:  // a bar and its cut end
      p.drawEllipse(QRectF(2.5, 6, 6, 8));
      lines({{5.5, 6}, {15, 6}});
      lines({{5.5, 14}, {15, 14}});
      p.drawArc(QRectF(12, 6, 6, 8), -90 * 16, 180 * 16);
      p.drawEllipse(QPointF(5.5, 10), 0.8, 1.2);
      break;
    case Icon::machines:  // a column with its spindle over the table
      lines({{4, 17.5}, {4, 3}, {14, 3}, {14, 8}});
      lines({{11, 8}, {17, 8}});
      lines({{14, 8}, {14, 11.5}});
      lines({{8, 14.5}, {18, 14.5}});
      lines({{2, 17.5}, {18, 17.5}});
      break;
    case Icon::shop:  // a chest of drawers
      p.drawRoundedRect(QRectF(2.5, 2.5, 15, 15), 1.5, 1.5);
      for (const double y : {7.5, 12.5}) lines({{2.5, y}, {17.5, y}});
      for (const double y : {5.0, 10.0, 15.0}) lines({{8.5, y}, {11.5, y}});
      break;
    case Icon::undo: {
      QPainterPath path(QPointF(5, 9));
      path.cubicTo(8, 5, 15, 6, 15.5, 13);
      p.drawPath(path);
      lines({{5, 4.5}, {4.8, 9.3}, {9.6, 9}});
      break;
    }
    case Icon::redo: {
      QPainterPath path(QPointF(15, 9));
      path.cubicTo(12, 5, 5, 6, 4.5, 13);
      p.drawPath(path);
      lines({{15, 4.5}, {15.2, 9.3}, {10.4, 9}});
      break;
    }
    case Icon::add:
      lines({{10, 4}, {10, 16}});
      lines({{4, 10}, {16, 10}});
      break;
    case Icon::copy:
      p.drawRect(QRectF(3, 6, 10, 11));
      lines({{7, 6}, {7, 3}, {17, 3}, {17, 14}, {13, 14}});
      break;
    case Icon::remove:
      lines({{5, 5}, {15, 15}});
      lines({{15, 5}, {5, 15}});
      break;
    case Icon::night: {
      QPainterPath moon;
      moon.addEllipse(QPointF(10, 10), 7, 7);
      QPainterPath bite;
      bite.addEllipse(QPointF(13.5, 7.5), 6, 6);
      p.drawPath(moon.subtracted(bite));
      break;
    }
  }
  p.restore();
}

}  // namespace pecorra

#include "moc_look.cpp"
