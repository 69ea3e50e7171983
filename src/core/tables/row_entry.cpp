#include "core/tables/row_entry.h"

#include <array>
#include <numbers>

#include "core/cutter/kinds.h"
#include "core/quantity/print.h"

namespace pecorra {
namespace {

using std::numbers::pi;
using Row = ConditionRow;

struct FieldFact {
  RowField field;
  std::string_view key;  // of the text kept as typed
  Quantity quantity;
};
constexpr FieldFact facts[row_field_count] = {{RowField::diameter, "diameter_mm", Quantity::length},
                                              {RowField::vc, "vc_m_min", Quantity::cutting_speed},
                                              {RowField::n, "n_rpm", Quantity::spindle_speed},
                                              {RowField::feed, "feed_mm", Quantity::feed_per_tooth},
                                              {RowField::vf, "vf_mm_min", Quantity::table_feed},
                                              {RowField::ap, "ap_mm", Quantity::length},
                                              {RowField::ae, "ae_mm", Quantity::length}};
const FieldFact& fact(RowField field) { return facts[static_cast<int>(field)]; }

std::optional<double> value_of(const Row& row, RowField field) {
  switch (field) {
    case RowField::diameter: return row.diameter_mm;
    case RowField::vc: return row.vc_m_min;
    case RowField::n: return n_of(row);
    case RowField::feed: return row.feed_mm;
    case RowField::vf: return vf_of(row);
    case RowField::ap: return row.ap_mm;
    case RowField::ae: return row.ae_mm;
  }
  return std::nullopt;
}

// "1.5 × D", "0.3xD", "2 D"; nothing when the text is no multiple of the diameter.
std::optional<std::string_view> without_diameter(std::string_view text) {
  while (!text.empty() && text.back() == ' ') text.remove_suffix(1);
  if (text.empty() || (text.back() != 'D' && text.back() != 'd')) return std::nullopt;
  text.remove_suffix(1);
  while (!text.empty() && text.back() == ' ') text.remove_suffix(1);
  for (const std::string_view times : {"×", "x", "X", "*"})
    if (text.ends_with(times)) {
      text.remove_suffix(times.size());
      break;
    }
  return text;
}

double per_revolution(const Row& row) { return row.feed_kind == FeedKind::per_revolution ? 1 : flutes_of(row); }

EntryFault needs(const char* what) { return {std::string(what) + " is needed first"}; }

}  // namespace

int flutes_of(const Row& row) {
  if (row.flutes) return *row.flutes;
  const ParameterUse* use = parameter_use(row.kind, "flutes");
  return use && use->fixed >= 1 ? static_cast<int>(use->fixed) : 1;
}

std::optional<double> n_of(const Row& row) {
  if (!row.vc_m_min || !row.diameter_mm || *row.diameter_mm <= 0) return std::nullopt;
  return 1000 * *row.vc_m_min / (pi * *row.diameter_mm);
}

std::optional<double> vf_of(const Row& row) {
  const auto n = n_of(row);
  if (!n || !row.feed_mm || row.feed_kind == FeedKind::chip_thickness) return std::nullopt;
  return *n * *row.feed_mm * per_revolution(row);
}

bool was_typed(const Row& row, RowField field) {
  const bool n_typed = row.typed.contains("n_rpm"), vf_typed = row.typed.contains("vf_mm_min");
  switch (field) {
    case RowField::n: return n_typed;
    case RowField::vc: return !n_typed;
    case RowField::vf: return vf_typed;
    case RowField::feed: return !vf_typed;
    default: return true;
  }
}

std::string shown_entry(const Row& row, RowField field, UnitSystem units) {
  const FieldFact& f = fact(field);
  if (const auto typed = row.typed.find(f.key); typed != row.typed.end()) return typed->second;
  if (field == RowField::ap && !row.ap_mm && row.ap_per_d) return plain(*row.ap_per_d) + " × D";
  if (field == RowField::ae && !row.ae_mm && row.ae_per_d) return plain(*row.ae_per_d) + " × D";
  const auto value = value_of(row, field);
  return value ? shown(*value, f.quantity, units) : std::string();
}

namespace {

// "120 – 150 – 180", "120 .. 150 .. 180": low, target and high of a speed or feed; nothing when the text is no such
// three.
std::optional<std::array<std::string_view, 3>> three(std::string_view text) {
  for (const std::string_view mark : {"–", "…", "..", " - "}) {
    const auto first = text.find(mark);
    const auto second = first == std::string_view::npos ? first : text.find(mark, first + mark.size());
    if (second == std::string_view::npos || text.find(mark, second + mark.size()) != std::string_view::npos) continue;
    return std::array{text.substr(0, first), text.substr(first + mark.size(), second - first - mark.size()),
                      text.substr(second + mark.size())};
  }
  return std::nullopt;
}

bool ends_with_any(std::string_view text, std::initializer_list<std::string_view> ends) {
  for (const std::string_view end : ends)
    if (text.ends_with(end)) return true;
  return false;
}

// The field that a text is for by its unit: a cutting speed may be typed as rpm, a feed as a table feed, and the
// reverse.
RowField field_meant(RowField field, std::string_view text) {
  const bool turns = ends_with_any(text, {"rpm", "rev/min", "1/min"});
  if (field == RowField::vc && turns) return RowField::n;
  if (field == RowField::n && !turns && ends_with_any(text, {"m/min", "ft/min"})) return RowField::vc;
  if (field == RowField::feed && ends_with_any(text, {"/min", "mm/s"})) return RowField::vf;
  if (field == RowField::vf && ends_with_any(text, {"/rev", "/tooth"})) return RowField::feed;
  return field;
}

}  // namespace

tl::expected<Row, EntryFault> with_entry(const Row& row, RowField field, std::string_view text, UnitSystem units) {
  while (!text.empty() && text.back() == ' ') text.remove_suffix(1);
  if (const RowField meant = field_meant(field, text); meant != field) return with_entry(row, meant, text, units);
  // A feed per revolution where the row states one per tooth, and the reverse.
  if (field == RowField::feed)
    for (const auto& [end, per_revolution_text] : {std::pair<std::string_view, bool>{"/rev", true}, {"/tooth", false}})
      if (text.ends_with(end)) {
        const auto entry = parse_entry(text.substr(0, text.size() - end.size()), Quantity::feed_per_tooth, units);
        if (!entry) return tl::unexpected(entry.error());
        if (row.feed_kind == FeedKind::chip_thickness)
          return tl::unexpected(EntryFault{"this row states a chip thickness, not a feed"});
        const bool row_per_revolution = row.feed_kind == FeedKind::per_revolution;
        const double flutes = flutes_of(row), value = per_revolution_text == row_per_revolution ? entry->stored
                                                      : per_revolution_text                     ? entry->stored / flutes
                                                                            : entry->stored * flutes;
        auto out = with_entry(row, field, shown(value, Quantity::feed_per_tooth, units), units);
        if (!out) return out;
        out->feed_mm = value;
        out->typed["feed_mm"] = std::string(text);
        return out;
      }
  const FieldFact& f = fact(field);
  if (field == RowField::vc || field == RowField::feed)
    if (const auto parts = three(text)) {
      // A unit behind the last is for all of them.
      std::array<double, 3> values{};
      std::string_view last = (*parts)[2];
      const auto digits_end = last.find_last_of("0123456789");
      const std::string unit(digits_end == std::string_view::npos ? std::string_view() : last.substr(digits_end + 1));
      for (std::size_t i = 0; i < 3; ++i) {
        const auto entry =
            parse_entry(i == 2 ? std::string((*parts)[i]) : std::string((*parts)[i]) + unit, f.quantity, units);
        if (!entry) return tl::unexpected(entry.error());
        values[i] = entry->stored;
      }
      if (!(values[0] > 0) || values[0] > values[1] || values[1] > values[2])
        return tl::unexpected(EntryFault{"low, target and high must rise"});
      auto out = with_entry(row, field, shown(values[1], f.quantity, units), units);
      if (!out) return out;
      (field == RowField::vc ? out->vc_m_min : out->feed_mm) = values[1];
      (field == RowField::vc ? out->vc_low_m_min : out->feed_low_mm) = values[0];
      (field == RowField::vc ? out->vc_high_m_min : out->feed_high_mm) = values[2];
      return out;
    }
  Row out = row;
  while (!text.empty() && text.front() == ' ') text.remove_prefix(1);
  while (!text.empty() && text.back() == ' ') text.remove_suffix(1);
  std::optional<double> value;
  bool per_diameter = false;
  if (!text.empty()) {
    auto digits = field == RowField::ap || field == RowField::ae ? without_diameter(text) : std::nullopt;
    per_diameter = digits.has_value();
    const auto entry = parse_entry(digits.value_or(text), per_diameter ? Quantity::number : f.quantity, units);
    if (!entry) return tl::unexpected(entry.error());
    if (!(entry->stored > 0)) return tl::unexpected(EntryFault{"more than 0 is needed"});
    if (per_diameter && field == RowField::ae && entry->stored > 1)
      return tl::unexpected(EntryFault{"the width of cut cannot exceed 1 × D"});
    value = entry->stored;
  }
  switch (field) {
    case RowField::diameter:
      out.diameter_mm = value;
      // A spindle speed that was typed stays; the cutting speed follows it.
      if (value && row.typed.contains("n_rpm") && n_of(row)) out.vc_m_min = *n_of(row) * pi * *value / 1000;
      break;
    case RowField::vc:
      out.vc_m_min = value;
      out.typed.erase("n_rpm");
      break;
    case RowField::n:
      if (!row.diameter_mm) return tl::unexpected(needs("the diameter"));
      out.vc_m_min = value ? std::optional(*value * pi * *row.diameter_mm / 1000) : std::nullopt;
      out.typed.erase("vc_m_min");
      break;
    case RowField::feed:
      out.feed_mm = value;
      out.typed.erase("vf_mm_min");
      break;
    case RowField::vf: {
      if (row.feed_kind == FeedKind::chip_thickness)
        return tl::unexpected(
            EntryFault{"this row states a chip thickness; the table feed is calculated from it and the width of cut"});
      const auto n = n_of(row);
      if (!n) return tl::unexpected(needs("the speed"));
      out.feed_mm = value ? std::optional(*value / *n / per_revolution(row)) : std::nullopt;
      out.typed.erase("feed_mm");
      break;
    }
    case RowField::ap:
      out.ap_mm = per_diameter ? std::nullopt : value;
      out.ap_per_d = per_diameter ? value : std::nullopt;
      break;
    case RowField::ae:
      out.ae_mm = per_diameter ? std::nullopt : value;
      out.ae_per_d = per_diameter ? value : std::nullopt;
      break;
  }
  // The table feed that was typed was for the speed of then.
  if (field != RowField::vf && field != RowField::ap && field != RowField::ae) out.typed.erase("vf_mm_min");
  const bool derived = field == RowField::n || field == RowField::vf;
  if (value && (derived || std::string(text) != shown(*value, f.quantity, units)))
    out.typed[std::string(f.key)] = std::string(text);
  else out.typed.erase(std::string(f.key));
  return out;
}

}  // namespace pecorra
