#include "shop/figures.h"

#include <QCoreApplication>
#include <QStringList>
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

// Replaces each figure of a text by what take(name, form) returns.
template <class Take>
QString each_figure(const QString& text, Take&& take) {
  QString out;
  qsizetype from = 0;
  for (qsizetype open = text.indexOf(QLatin1Char('{')); open >= 0; open = text.indexOf(QLatin1Char('{'), from)) {
    const qsizetype close = text.indexOf(QLatin1Char('}'), open);
    if (close < 0) break;
    const QStringView inside = QStringView(text).mid(open + 1, close - open - 1);
    const qsizetype colon = inside.indexOf(QLatin1Char(':'));
    out += QStringView(text).mid(from, open - from);
    out += take(colon < 0 ? inside : inside.left(colon), colon < 0 ? QStringView() : inside.mid(colon + 1));
    from = close + 1;
  }
  out += QStringView(text).mid(from);
  return out;
}

QString feed_word(const QString& kind) {
  if (kind == QLatin1String("per_revolution")) return QCoreApplication::translate("Words", "per revolution");
  return kind == QLatin1String("chip_thickness") ? QCoreApplication::translate("Words", "chip thickness")
                                                 : QCoreApplication::translate("Words", "per tooth");
}

// Forms that print a quantity with its unit.
constexpr std::pair<const char*, Quantity> quantity_forms[] = {{"power", Quantity::power},
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

QString Figures::text(std::string_view key) const {
  const Detail* detail = find(details_, key);
  const std::string* text = detail ? std::get_if<std::string>(detail) : nullptr;
  return text ? QString::fromStdString(*text) : QString();
}

bool Figures::has(std::string_view key) const { return !std::isnan(number(key)); }

// A reader's message is a sentence of its own, everything else a name or a label.
QString Figures::words(const std::string& key) const {
  const QString said = text(key);
  return key == "why" ? reader_text(said.toStdString()) : label_text(said);
}

QString Figures::figure(QStringView name, QStringView form) const {
  const std::string key = name.toString().toStdString();
  const auto ends = [&](const char* with) { return name.endsWith(QLatin1String(with)); };
  const auto of = [&](Quantity quantity) { return quantity_text(number(key), quantity, units_); };
  if (form == QLatin1String("feed")) return of(Quantity::feed_per_tooth);
  if (form == QLatin1String("table_feed")) return of(Quantity::table_feed);
  if (form == QLatin1String("mm")) return of(Quantity::length);
  for (const auto& [word, quantity] : quantity_forms)
    if (form == QLatin1String(word)) return of(quantity);
  if (form == QLatin1String("bare_table_feed")) return text_of(shown(number(key), Quantity::table_feed, units_));
  if (form == QLatin1String("fine_table_feed"))
    return text_of(plain(number(key) / stored_per_shown(Quantity::table_feed, units_), 1));
  if (form == QLatin1String("rpm")) return text_of(plain(number(key), 0));
  if (form == QLatin1String("feed_kind")) return feed_word(text(key));
  if (form == QLatin1String("within")) return within_sentence(words(key));
  if (form == QLatin1String("capital")) {
    QString out = words(key);
    if (!out.isEmpty()) out[0] = out[0].toUpper();
    return out;
  }
  if (!form.isEmpty()) return text_of(plain(number(key), form.toInt()));
  if (ends("m_min") && !ends("mm_min")) return of(Quantity::cutting_speed);
  if (ends("_mm_min")) return of(Quantity::table_feed);
  if (ends("_mm")) return of(Quantity::length);
  if (ends("rpm")) return text_of(plain(number(key), 0));
  return words(key);
}

QString Figures::put_into(const QString& text) const {
  return each_figure(text, [this](QStringView name, QStringView form) { return figure(name, form); });
}

QStringList Figures::missing_from(const QString& text) const {
  QStringList missing;
  each_figure(text, [&](QStringView name, QStringView) {
    if (!find(details_, name.toString().toStdString())) missing << name.toString();
    return QString();
  });
  return missing;
}

}  // namespace pecorra
