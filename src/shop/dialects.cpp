#include "shop/dialects.h"

#include <fmt/format.h>
#include <QFile>
#include <algorithm>

#include "formats/json/objects.h"
#include "formats/json/value_schema.h"
#include "shop/shop.h"
#include "shop/words.h"

namespace pecorra {
namespace {

constexpr std::size_t most_bytes = 1 << 20;

// Of a key in the text of a file; 0: it is not there.
int line_of(const std::string& text, const std::string& key) {
  const std::size_t at = text.find("\"" + key + "\"");
  return at == std::string::npos
             ? 0
             : 1 + static_cast<int>(std::count(text.begin(), text.begin() + static_cast<std::ptrdiff_t>(at), '\n'));
}

}  // namespace

const std::vector<Dialect>& shipped_dialects() {
  static const std::vector<Dialect> dialects = [] {
    std::vector<Dialect> list;
    for (const char* name : {"plain", "block_numbers", "by_hand", "router_mm", "router_inch", "lines_only"}) {
      QFile file(QStringLiteral(":/pecorra/dialects/%1.json").arg(QLatin1String(name)));
      if (!file.open(QIODevice::ReadOnly)) qFatal("shipped dialect is missing: %s", name);
      auto dialect = read_dialect(file.readAll().toStdString());
      if (!dialect) qFatal("shipped dialect is faulty: %s: %s", name, dialect.error().front().line().c_str());
      list.push_back(std::move(*dialect));
    }
    return list;
  }();
  return dialects;
}

std::vector<const Dialect*> dialects_of(const ShopState& state) {
  std::vector<const Dialect*> all;
  for (const Dialect& d : state.dialects) all.push_back(&d);
  const std::size_t own = all.size();
  for (const Dialect& d : shipped_dialects())
    if (std::none_of(all.begin(), all.begin() + static_cast<std::ptrdiff_t>(own),
                     [&](const Dialect* o) { return o->key == d.key; }))
      all.push_back(&d);
  return all;
}

const Dialect* dialect_named(const ShopState& state, const std::string& key) {
  for (const Dialect* d : dialects_of(state))
    if (d->key == key) return d;
  return nullptr;
}

const Dialect& dialect_of(const ShopState& state, const JobHead& job) {
  const Machine* machine = state.machines.find(job.machine);
  const Dialect* named = machine ? dialect_named(state, machine->dialect) : nullptr;
  return named ? *named : shipped_dialects().front();
}

Change with_dialect(const ShopState& state, Dialect dialect) {
  Change change;
  change.label = QObject::tr("Dialect %1 read").arg(text_of(dialect.name));
  for (const Dialect& own : state.dialects)
    if (own.key == dialect.key) {
      dialect.id = own.id;
      dialect.revision = own.revision;
      change.edit(own, dialect);
      return change;
    }
  dialect.id = new_id();
  change.add(dialect);
  return change;
}

tl::expected<Dialect, FormatFaults> read_dialect(const std::string& text) {
  FormatFaults faults;
  if (text.size() > most_bytes) {
    faults.push_back({"", "is larger than a megabyte; a dialect is a few kilobytes"});
    return tl::unexpected(faults);
  }
  const auto json = parse_json(text);
  if (!json) {
    faults.push_back(json.error());
    return tl::unexpected(faults);
  }
  Dialect dialect;
  if (!json->is_object()) faults.push_back({"", "is no dialect; expected an object in {}"});
  else {
    ReadRules rules;
    rules.strict_range = true;
    read_properties(dialect, properties<Dialect>(), *json, "", rules, faults);
    std::vector<std::string_view> known{"format_version"};
    for (const Property<Dialect>& p : properties<Dialect>()) {
      known.push_back(p.key);
      // What a file does not name is as usual; a text that is there and empty says that the control has no such thing.
      if (p.quantity == Quantity::text && !json->contains(std::string(p.key))) p.set(dialect, p.get(Dialect{}));
    }
    refuse_unknown(*json, "", known, faults);
    if (json->value("format_version", Json(1)) != Json(1)) faults.push_back({"format_version", "expected 1"});
  }
  if (faults.empty())
    for (const Message& m : check_dialect(dialect))
      if (m.severity == Severity::error) faults.push_back({m.property, sentence(m, UnitSystem::metric).toStdString()});
  for (FormatFault& fault : faults)
    if (const int line = line_of(text, fault.key); line > 0) fault.text = fmt::format("line {}: {}", line, fault.text);
  if (!faults.empty()) return tl::unexpected(faults);
  return dialect;
}

std::string dialect_text(const Dialect& dialect) {
  Json json{{"format_version", 1}};
  for (const Property<Dialect>& p : properties<Dialect>()) {
    const Value value = p.get(dialect);
    if (value != p.get(Dialect{}))
      json[std::string(p.key)] = std::holds_alternative<std::string>(value)
                                     ? Json(std::get<std::string>(value))
                                     : write_properties(dialect, std::span(&p, 1))[std::string(p.key)];
  }
  json["key"] = dialect.key;
  return json.dump(1) + "\n";
}

std::string dialect_schema_text() {
  Json own{{"format_version", {{"const", 1}}}};
  for (const Property<Dialect>& p : properties<Dialect>()) own[std::string(p.key)] = schema::value_schema(p, true);
  return Json{{"$schema", "https://json-schema.org/draft/2020-12/schema"},
              {"title", "Pecorra dialect"},
              {"description",
               "How a control wants its programs. Texts are lines of the program; what stands in braces "
               "is filled in. What is not given is empty, or as said."},
              {"type", "object"},
              {"required", {"format_version", "key", "name", "tool_change"}},
              {"properties", own},
              {"additionalProperties", false}}
             .dump(1) +
         "\n";
}

}  // namespace pecorra
