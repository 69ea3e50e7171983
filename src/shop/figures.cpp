#include "shop/figures.h"

#include <QCoreApplication>
#include <QStringList>
#include <array>
#include <charconv>
#include <cmath>

#include "core/conditions/conditions.h"
#include "core/quantity/print.h"
#include "shop/words.h"

namespace pecorra {
namespace {

const Detail* find(const Details& details, std::string_view key) {
  for (const auto& [name, value] : details)
    if (name == key) return &value;
  return nullptr;
}

// A name or a form, which are plain letters.
class Word {
 public:
  explicit Word(QStringView text) {
    for (const QChar c : text.left(static_cast<qsizetype>(letters_.size()))) letters_[size_++] = c.toLatin1();
  }
  operator std::string_view() const { return {letters_.data(), size_}; }

 private:
  std::array<char, 48> letters_;
  std::size_t size_ = 0;
};

// Replaces each figure of a text by what take(name, form) returns.
template <class Take>
QString each_figure(const QString& text, Take&& take) {
  QString out;
  out.reserve(2 * text.size());
  qsizetype from = 0;
  for (qsizetype open = text.indexOf(QLatin1Char('{')); open >= 0; open = text.indexOf(QLatin1Char('{'), from)) {
    const qsizetype close = text.indexOf(QLatin1Char('}'), open);
    if (close < 0) break;
    const QStringView inside = QStringView(text).mid(open + 1, close - open - 1);
    const qsizetype colon = inside.indexOf(QLatin1Char(':'));
    out += QStringView(text).mid(from, open - from);
    out += take(Word(colon < 0 ? inside : inside.left(colon)), Word(colon < 0 ? QStringView() : inside.mid(colon + 1)));
    from = close + 1;
  }
  out += QStringView(text).mid(from);
  return out;
}

QString feed_word(std::string_view kind) {
  if (kind == "per_revolution") return QCoreApplication::translate("Words", "per revolution");
  return kind == "chip_thickness" ? QCoreApplication::translate("Words", "chip thickness")
                                  : QCoreApplication::translate("Words", "per tooth");
}

// Forms that print a quantity with its unit.
constexpr std::pair<std::string_view, Quantity> quantity_forms[] = {{"power", Quantity::power},
                                                                    {"torque", Quantity::torque},
                                                                    {"force", Quantity::force},
                                                                    {"stress", Quantity::stress},
                                                                    {"removal", Quantity::removal_rate}};

}  // namespace

double Figures::number(std::string_view key) const {
  const Detail* detail = find(details_, key);
  const double* number = detail ? std::get_if<double>(detail) : nullptr;
  return number ? *number : not_given;
}

std::string_view Figures::text(std::string_view key) const {
  const Detail* detail = find(details_, key);
  const std::string* text = detail ? std::get_if<std::string>(detail) : nullptr;
  return text ? std::string_view(*text) : std::string_view();
}

bool Figures::has(std::string_view key) const { return !std::isnan(number(key)); }

// A reader's message is a sentence of its own, everything else a name or a label.
QString Figures::words(std::string_view key) const {
  return key == "why" ? reader_text(std::string(text(key))) : label_text(text(key));
}

QString Figures::figure(std::string_view key, std::string_view form) const {
  const auto of = [&](Quantity quantity) { return quantity_text(number(key), quantity, units_); };
  if (form.empty()) {
    if (key.ends_with("mm_min")) return of(Quantity::table_feed);
    if (key.ends_with("m_min")) return of(Quantity::cutting_speed);
    if (key.ends_with("_mm")) return of(Quantity::length);
    if (key.ends_with("rpm")) return text_of(plain(number(key), 0));
    return words(key);
  }
  if (form == "feed") return of(Quantity::feed_per_tooth);
  if (form == "table_feed") return of(Quantity::table_feed);
  if (form == "mm") return of(Quantity::length);
  for (const auto& [word, quantity] : quantity_forms)
    if (form == word) return of(quantity);
  if (form == "bare_table_feed") return text_of(shown(number(key), Quantity::table_feed, units_));
  if (form == "fine_table_feed") return text_of(plain(number(key) / stored_per_shown(Quantity::table_feed, units_), 1));
  if (form == "rpm") return text_of(plain(number(key), 0));
  if (form == "feed_kind") return feed_word(text(key));
  if (form == "within") return within_sentence(words(key));
  if (form == "capital") {
    QString out = words(key);
    if (!out.isEmpty()) out[0] = out[0].toUpper();
    return out;
  }
  int decimals = 0;
  std::from_chars(form.data(), form.data() + form.size(), decimals);
  return text_of(plain(number(key), decimals));
}

QString Figures::put_into(const QString& text) const {
  return each_figure(text, [this](std::string_view name, std::string_view form) { return figure(name, form); });
}

QStringList Figures::missing_from(const QString& text) const {
  QStringList missing;
  each_figure(text, [&](std::string_view name, std::string_view) {
    if (!find(details_, name)) missing << text_of(name);
    return QString();
  });
  return missing;
}

}  // namespace pecorra
