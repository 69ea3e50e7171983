// Sentences for people, made from codes and values: messages, steps of the trail, reasons. Translatable.
#pragma once

#include <QString>

#include "core/base/message.h"
#include "core/conditions/resolver.h"
#include "core/mechanics/cut.h"
#include "core/mechanics/suggest.h"
#include "core/quantity/units.h"
#include "formats/dxf/dxf_reader.h"
#include "formats/format_fault.h"

namespace pecorra {

QString sentence(const Message& message, UnitSystem units);
// One sentence for one step.
QString sentence(const TrailStep& step, UnitSystem units);
// "6.1 (4.9–7.3) of 9.0 kW" with its band; or "6.1–8.2 of 9.0 kW" if the path has a tighter place; for a lower limit
// "0.012, at least 0.005 mm".
QString headroom_text(const Headroom& headroom, UnitSystem units, bool with_band = false);
// Why a cutter has no numbers here: "for facing", "draft", "no row for this material".
QString reason_text(NoAnswer reason, CutterKind kind);
QString sentence(const DxfFault& fault);

// "ae 3.4 mm"
QString change_text(const Suggestion& change, UnitSystem units);

QString text_of(std::string_view view);
// The label of a property, a choice or a kind of object, translated.
QString label_text(std::string_view label);
QString label_text(const QString& label);
// A message of a reader of files or typed values, translated; the core and the command line say it in English.
QString reader_text(std::string_view english);
QString reader_text(const FormatFault& fault);  // with its place
// A label inside a sentence: words lose their capital; abbreviations and letters that stand for a shape keep it:
// "cobalt HSS", "T-slot cutter".
QString within_sentence(const QString& label);
// "Flute length 26 → 30 mm", "Made of HSS → Carbide", "Name: …"
QString property_change_text(const QString& label, const Value& before, const Value& after, Quantity quantity,
                             std::span<const Choice> choices, UnitSystem units);
QString quantity_text(double stored, Quantity quantity, UnitSystem units);  // with unit
// "deflection 93 %": short, so that what is beside it is seen.
QString tightest_text(const Headroom& headroom);
// "600 → 400"; one of them where the other is empty or the same.
QString change_text(const QString& before, const QString& after);
// "speed 23 → 39 %"; where another limit becomes the tightest, "41 % → speed 100 %".
QString tightest_change_text(const std::optional<Headroom>& before, const std::optional<Headroom>& after);
// "2:05" from minutes, "1:10:30" over an hour.
QString duration_text(double minutes);

}  // namespace pecorra
