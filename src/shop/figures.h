// The named figures of a message or a trail step, as text.
#pragma once

#include <QString>

#include "core/base/message.h"
#include "core/quantity/units.h"

namespace pecorra {

class Figures {
 public:
  Figures(const Details& details, UnitSystem units) : details_(details), units_(units) {}
  UnitSystem units() const { return units_; }
  double number(std::string_view key) const;          // NaN where it is not given
  std::string_view text(std::string_view key) const;  // empty where it is not given
  bool has(std::string_view key) const;               // a number
  bool is_set(std::string_view key) const { return number(key) > 0; }
  bool says(std::string_view key, std::string_view what) const { return text(key) == what; }
  bool differ(std::string_view a, std::string_view b) const { return number(a) != number(b); }

  // Puts the figures into a text: "{part_mm}" is a length with its unit; "{n_rpm}", "{vc_m_min}" and "{plunge_mm_min}"
  // print by their endings; any other name is text. A form can follow a colon: a number of decimals, "mm", "power",
  // "torque", "force", "stress", "removal", "feed" (per tooth or revolution), "rpm", "table_feed", "bare_table_feed"
  // (without unit), "fine_table_feed" (one decimal), "feed_kind", "within" (inside a sentence) or "capital" (at its
  // start).
  QString put_into(const QString& text) const;
  // Names in a text that are not among the figures; empty if all are.
  QStringList missing_from(const QString& text) const;

 private:
  QString figure(std::string_view key, std::string_view form) const;
  QString words(std::string_view key) const;
  const Details& details_;
  UnitSystem units_;
};

}  // namespace pecorra
