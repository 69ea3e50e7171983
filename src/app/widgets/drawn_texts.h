// Texts of a list, shaped once and painted many times: shaping is half of what painting a text takes.
#pragma once

#include <QFontMetrics>
#include <QHash>
#include <QPainter>
#include <QStaticText>
#include <cmath>

namespace pecorra {

class DrawnTexts {
 public:
  // In one line, in the painter's font and pen, in the middle of the height; too long a text ends in “…”. Returns how
  // wide it is.
  double draw(QPainter& p, const QRect& in, Qt::Alignment align, const QString& text) {
    if (text.isEmpty()) return 0;
    const QFont font = p.font();
    if (kept_.size() > most_kept) kept_.clear();
    Key key{text, font.pointSizeF(), font.bold(), 0};
    auto found = kept_.find(key);
    if (found == kept_.end()) found = kept_.insert(key, shaped(text, font));
    if (found->size().width() > in.width()) {
      key.width = std::max(1, in.width());
      found = kept_.find(key);
      if (found == kept_.end())
        found = kept_.insert(key, shaped(p.fontMetrics().elidedText(text, Qt::ElideRight, in.width()), font));
    }
    const QSizeF size = found->size();
    const double x = align & Qt::AlignRight ? in.left() + in.width() - size.width() : in.left();
    p.drawStaticText(QPointF(x, in.top() + std::floor((in.height() - size.height()) / 2)), *found);
    return size.width();
  }

 private:
  struct Key {
    QString text;
    double size;
    bool bold;
    int width;  // 0: whole
    bool operator==(const Key&) const = default;
    friend size_t qHash(const Key& k, size_t seed) { return qHashMulti(seed, k.text, k.size, k.bold, k.width); }
  };
  static QStaticText shaped(const QString& text, const QFont& font) {
    QStaticText out(text);
    out.setTextFormat(Qt::PlainText);
    out.prepare(QTransform(), font);
    return out;
  }

  static constexpr qsizetype most_kept = 4000;
  QHash<Key, QStaticText> kept_;
};

}  // namespace pecorra
