#include "shop/words.h"

#include <QCoreApplication>
#include <algorithm>
#include <cmath>
#include <utility>

#include "core/quantity/print.h"
#include "shop/sentences.h"

namespace pecorra {
namespace {

QString tr(const char* source) { return QCoreApplication::translate("Words", source); }

const Sentence* find(std::span<const Sentence> table, std::string_view code) {
  const auto found = std::find_if(table.begin(), table.end(), [&](const Sentence& s) { return s.code == code; });
  return found == table.end() ? nullptr : &*found;
}

// A code that is not in the table is shown as it is.
QString said(std::span<const Sentence> table, std::string_view code, const Figures& figures) {
  const Sentence* sentence = find(table, code);
  if (!sentence) return text_of(code);
  QString out;
  bool list_begun = false;
  for (const SentencePart& part : sentence->parts) {
    if (!part.text) break;
    if (part.when && !part.when(figures)) continue;
    if (part.listed && std::exchange(list_begun, true)) out += QStringLiteral(", ");
    out += figures.put_into(tr(part.text));
  }
  return out;
}

}  // namespace

QString text_of(std::string_view view) { return QString::fromUtf8(view.data(), static_cast<qsizetype>(view.size())); }

QString label_text(std::string_view label) { return label_text(text_of(label)); }
QString label_text(const QString& label) {
  return label.isEmpty() ? label : QCoreApplication::translate("Labels", label.toUtf8().constData());
}

QString quantity_text(double stored, Quantity quantity, UnitSystem units) {
  if (std::isnan(stored)) return QStringLiteral("—");
  return QString::fromStdString(shown_with_unit(stored, quantity, units));
}

QString property_change_text(const QString& label, const Value& before, const Value& after, Quantity quantity,
                             std::span<const Choice> choices, UnitSystem units) {
  auto said = [&](const Value& value) -> QString {
    if (const double* number = std::get_if<double>(&value)) return text_of(shown(*number, quantity, units));
    if (const bool* flag = std::get_if<bool>(&value)) return *flag ? tr("yes") : tr("no");
    if (const std::string* text = std::get_if<std::string>(&value)) {
      for (const Choice& c : choices)
        if (c.key == *text) return label_text(c.label);
      return text->empty() ? tr("not given") : text_of(*text);
    }
    return tr("not given");
  };
  QString unit;
  if (std::holds_alternative<double>(after)) unit = text_of(unit_text(quantity, units));
  if (!unit.isEmpty() && quantity != Quantity::angle) unit.prepend(QLatin1Char(' '));
  return QStringLiteral("%1 %2 → %3%4").arg(label, said(before), said(after), unit);
}

QString within_sentence(const QString& label) {
  QString out = label;
  for (qsizetype i = 0; i < out.size(); ++i) {
    const bool starts = i == 0 || out[i - 1] == QLatin1Char(' ');
    if (starts && i + 1 < out.size() && out[i + 1].isLower()) out[i] = out[i].toLower();
  }
  return out;
}

QString sentence(const Message& m, UnitSystem units) {
  return said(message_sentences(), m.code, Figures(m.values, units));
}

QString sentence(const TrailStep& step, UnitSystem units) {
  return said(trail_sentences(), step.step, Figures(step.values, units));
}

QString headroom_text(const Headroom& h, UnitSystem units, bool with_band) {
  const bool small = h.quantity == Quantity::feed_per_tooth || h.limit == Limit::deflection;
  const auto figure = [&](double value) {
    return text_of(small ? shown_thousandths(value, units) : shown(value, h.quantity, units));
  };
  QString value = figure(h.value);
  const QString limit = small ? text_of(shown_thousandths(h.limit_value, units) + " " + thousandths_unit(units))
                              : text_of(shown_with_unit(h.limit_value, h.quantity, units));
  if (h.limit == Limit::spindle_speed && std::abs(h.used - 1) < 0.002) return tr("held at %1").arg(value);
  // Beside a straight wall, and at the worst place of the path; else from a sharp to a worn edge.
  if (h.worst_value && figure(*h.worst_value) != value) value += QStringLiteral("–") + figure(*h.worst_value);
  else if (h.band && with_band)
    value += QStringLiteral(" (%1–%2)").arg(figure(h.value * h.band->low), figure(h.value * h.band->high));
  return h.lower ? tr("%1, at least %2").arg(value, limit) : tr("%1 of %2").arg(value, limit);
}

QString change_text(const Suggestion& s, UnitSystem units) {
  const Property<Cut>* property = find_property<Cut>(s.property);
  return s.property == "stickout_mm"
             ? tr("stick-out %1").arg(quantity_text(s.value, s.quantity, units))
             : QStringLiteral("%1 %2").arg(label_text(property->symbol), quantity_text(s.value, s.quantity, units));
}

QString reason_text(NoAnswer reason, CutterKind kind) {
  switch (reason) {
    case NoAnswer::cannot_do:
      if (declaration(kind).operations == 0) return reason_text(NoAnswer::no_speed, kind);
      return tr("for %1").arg(label_text(label_of(declaration(kind).usual_operation)));
    case NoAnswer::draft: return tr("draft");
    case NoAnswer::no_row: return tr("no row fits");
    case NoAnswer::below_least_speed: return tr("below minimum speed");
    case NoAnswer::no_speed: return tr("does not rotate");
    case NoAnswer::never: return tr("never");
    case NoAnswer::none: break;
  }
  return {};
}

QString sentence(const DxfFault& fault) {
  QStringList found;
  for (const auto& [name, count] : fault.entities)
    found << QStringLiteral("%1 × %2").arg(count).arg(QString::fromStdString(name));
  if (fault.code == "too_large") return tr("The file is larger than 64 MB; export only the outline.");
  if (fault.code == "no_entities")
    return tr("The DXF file has no entities. Lines, arcs, circles, polylines, ellipses and splines are used.");
  if (fault.code == "no_outline")
    return tr("No usable outline: found %1. Only lines, arcs, circles, flat polylines, ellipses and splines with "
              "control points make one.")
        .arg(found.join(QStringLiteral(", ")));
  return tr("This is not a text DXF file.");
}

QString duration_text(double minutes) {
  const long seconds = std::lround(minutes * 60);
  if (seconds >= 3600)
    return QStringLiteral("%1:%2:%3")
        .arg(seconds / 3600)
        .arg(seconds / 60 % 60, 2, 10, QLatin1Char('0'))
        .arg(seconds % 60, 2, 10, QLatin1Char('0'));
  return QStringLiteral("%1:%2").arg(seconds / 60).arg(seconds % 60, 2, 10, QLatin1Char('0'));
}

namespace {

QString limit_name(const Headroom& h) {
  return h.limit == Limit::spindle_speed    ? QObject::tr("speed")
         : h.limit == Limit::spindle_power  ? QObject::tr("power")
         : h.limit == Limit::spindle_torque ? QObject::tr("torque")
                                            : label_text(label_of(h.limit)).toLower();
}

long tightest_percent(const Headroom& h) { return std::lround(h.tightest() * 100); }

}  // namespace

QString tightest_text(const Headroom& h) {
  return QStringLiteral("%1 %2 %").arg(limit_name(h), QString::number(tightest_percent(h)));
}

QString change_text(const QString& before, const QString& after) {
  if (before == after || after.isEmpty()) return before;
  return before.isEmpty() ? after : before + QStringLiteral(" → ") + after;
}

QString tightest_change_text(const std::optional<Headroom>& before, const std::optional<Headroom>& after) {
  if (!before || !after) return before ? tightest_text(*before) : after ? tightest_text(*after) : QString();
  if (before->limit != after->limit)
    return QStringLiteral("%1 % → %2").arg(tightest_percent(*before)).arg(tightest_text(*after));
  return QStringLiteral("%1 %2 %").arg(limit_name(*after), change_text(QString::number(tightest_percent(*before)),
                                                                       QString::number(tightest_percent(*after))));
}

}  // namespace pecorra
