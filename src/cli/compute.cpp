#include <algorithm>
#include <cmath>
#include <iostream>
#include <iterator>

#include "cli/commands.h"
#include "core/cutter/kinds/shaft.h"
#include "core/quantity/value_text.h"
#include "shop/words.h"

namespace pecorra::cli {
namespace {

// Keys for which 0 is a fault, not “not given”.
constexpr std::string_view never_zero[] = {"diameter_mm", "flutes", "kc11_n_mm2", "efficiency", "vc_m_min",
                                           "n_rpm",       "fz_mm",  "fn_mm",      "vf_mm_min",  "hex_mm"};

template <class T>
std::vector<std::string_view> keys_of(std::span<const Property<T>> list) {
  std::vector<std::string_view> keys;
  for (const Property<T>& property : list) keys.push_back(property.key);
  return keys;
}

// One section of the request, read by the declarations of what it describes.
template <class T>
void read_section(T& object, std::span<const Property<T>> list, const Json& request, const char* name,
                  std::vector<std::string_view> extra_keys, FormatFaults& faults) {
  const auto section = request.find(name);
  if (section == request.end()) return;
  if (!section->is_object()) {
    faults.push_back({name, "is not an object; expected {…}"});
    return;
  }
  std::vector<std::string_view> keys = keys_of(list);
  keys.insert(keys.end(), extra_keys.begin(), extra_keys.end());
  refuse_unknown(*section, name, keys, faults);
  ReadRules rules;
  rules.strict_range = true;
  rules.zero_is_absent = true;
  rules.zero_is_fault = never_zero;
  read_properties(object, list, *section, name, rules, faults);
}

// Contradictions of cutter and stick-out that would make any result wrong.
void add_length_messages(const Cutter& cutter, const Assembly& assembly, std::vector<Message>& messages) {
  std::vector<Message> found;
  check_shaft(cutter, found);
  std::erase_if(found, [](const Message& m) { return !m.code.ends_with("_longer_than_overall"); });
  if (assembly.stickout_mm && cutter.overall_length_mm && *assembly.stickout_mm > *cutter.overall_length_mm)
    found.push_back({Severity::error,
                     "stickout_over_overall",
                     "stickout_mm",
                     {{"stickout_mm", *assembly.stickout_mm}, {"overall_mm", *cutter.overall_length_mm}}});
  messages.insert(messages.end(), found.begin(), found.end());
}

}  // namespace

int say(const FormatFaults& faults) {
  for (const FormatFault& fault : faults) std::cerr << fault.line() << "\n";
  return wrong_input;
}

void write_headroom(JsonText& out, const std::vector<Headroom>& headroom) {
  out.begin_array();
  for (const Headroom& h : headroom) {
    out.begin_object();
    out.put("limit", key_of(h.limit));
    // What is not finite is not said.
    out.put_known("value", h.value);
    out.put_known("limit_value", h.limit_value);
    out.put_known("used", h.used);
    // The tightest place of the path, if it differs.
    if (h.worst_value && std::isfinite(h.worst_used)) {
      out.put_known("worst_value", *h.worst_value);
      out.put_known("worst_used", h.worst_used);
    }
    if (h.band) {
      out.put_known("low_used", h.used * h.band->low);
      out.put_known("high_used", h.used * h.band->high);
    }
    out.end_object();
  }
  out.end_array();
}

void write_message(JsonText& out, Severity severity, std::string_view code, std::string_view text) {
  static constexpr const char* severities[] = {"note", "warning", "error"};
  out.begin_object();
  out.put("severity", severities[static_cast<int>(severity)]);
  out.put("code", code);
  out.put("text", text);
  out.end_object();
}
void write_message(JsonText& out, const Message& m) {
  write_message(out, m.severity, m.code, sentence(m, UnitSystem::metric).toStdString());
}

Json headroom_json(const std::vector<Headroom>& headroom) {
  JsonText out;
  write_headroom(out, headroom);
  return Json::parse(out.text());
}
Json messages_json(const std::vector<Message>& messages) {
  JsonText out;
  out.begin_array();
  for (const Message& m : messages) write_message(out, m);
  out.end_array();
  return Json::parse(out.text());
}

int value(const ValueOptions& options) {
  const auto as = length_unit_from(options.as);
  const auto from = length_unit_from(options.from);
  FormatFaults faults;
  for (const auto& [unit, key, text] : {std::tuple{as, "as", options.as}, std::tuple{from, "from", options.from}})
    if (!unit) faults.push_back({key, "“" + text + "” is not a known unit; use mm, cm, m, um, in, ft or thou"});
  if (!faults.empty()) return say(faults);
  const auto written = parse_length(options.text, *from);
  if (!written) {
    const ValueFault& fault = written.error();
    // Counted in characters, not in bytes.
    const auto before =
        std::count_if(options.text.begin(), options.text.begin() + static_cast<std::ptrdiff_t>(fault.place),
                      [](char c) { return (static_cast<unsigned char>(c) & 0xC0) != 0x80; });
    faults.push_back({"TEXT", "at character " + std::to_string(before + 1) + ": " + sentence(fault)});
    return say(faults);
  }
  std::cout << rounded_text(*written, *as, 6) << "\n";
  return answered;
}

int compute() {
  std::string text(std::istreambuf_iterator<char>(std::cin), {});
  if (text.size() > longest_request) return say({{"request", "is longer than 4 MB"}});
  const auto request = parse_json(text);
  if (!request) return say({request.error()});
  if (!request->is_object()) return say({{"request", "is not an object; expected {…}"}});

  FormatFaults faults;
  refuse_unknown(*request, "", {"cutter", "stickout_mm", "material", "machine", "cut"}, faults);
  Cutter cutter;
  Assembly assembly;
  WorkMaterial material;
  Machine machine;
  Cut cut;
  for (const char* needed : {"cutter", "cut"})
    if (!request->contains(needed)) faults.push_back({needed, "is missing; it is required"});
  read_section(cutter, body_properties(), *request, "cutter", {}, faults);
  read_section(material, force_properties(), *request, "material", {}, faults);
  read_section(machine, limit_properties(), *request, "machine", {"power_curve_rpm_kw"}, faults);
  read_section(cut, properties<Cut>(), *request, "cut", {}, faults);
  const Property<Assembly>& stickout = *find_property<Assembly>("stickout_mm");
  ReadRules rules;
  rules.strict_range = rules.zero_is_absent = true;
  read_properties(assembly, std::span(&stickout, 1), *request, "", rules, faults);

  auto has = [&](const char* section, const char* key) {
    return request->contains(section) && (*request)[section].is_object() && (*request)[section].contains(key);
  };
  for (const char* needed : {"kind", "diameter_mm"})
    if (request->contains("cutter") && (*request)["cutter"].is_object() && !has("cutter", needed))
      faults.push_back({std::string("cutter.") + needed, "is missing; it is required"});
  if (has("machine", "power_curve_rpm_kw"))
    read_power_curve(machine.power_curve, (*request)["machine"]["power_curve_rpm_kw"], "machine.power_curve_rpm_kw",
                     faults);
  if (machine.min_rpm && machine.max_rpm && *machine.min_rpm > *machine.max_rpm)
    faults.push_back({"machine.min_rpm", "is above max_rpm; expected at most max_rpm"});
  if (faults.empty())
    for (const Message& m : check_cut(cutter, cut))
      faults.push_back({m.property, sentence(m, UnitSystem::metric).toStdString()});
  if (!faults.empty()) return say(faults);

  CutReport report = compute_cut(cutter, assembly, material, machine, cut);
  add_length_messages(cutter, assembly, report.messages);
  const Json answer{{"results", write_properties(report.results, properties<CutResults>())},
                    {"headroom", headroom_json(report.headroom)},
                    {"messages", messages_json(report.messages)}};
  std::cout << answer.dump(2) << "\n";
  return answered;
}

}  // namespace pecorra::cli
