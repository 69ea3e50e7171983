#include "shop/merge_change.h"

#include <QObject>

#include "formats/json/objects.h"
#include "shop/words.h"

namespace pecorra {
namespace {

std::string body_now(const ShopState& state, ObjectKind kind, const Id& id) {
  std::string body;
  state.visit(kind, [&](const auto& collection) {
    if (const auto* object = collection.find(id)) body = body_of(*object);
  });
  return body;
}

std::optional<Cutter> cutter_of(const std::string& body) {
  FormatFaults faults;
  return object_from_body<Cutter>(body, faults);
}

template <class T>
QString label_in(std::string_view key) {
  for (const Property<T>& p : properties<T>())
    if (p.key == key) return label_text(p.label);
  return {};
}

// "rows/ID/vc_m_min": cutting speed.
QString property_label(ObjectKind kind, std::string_view path) {
  const std::string_view key = path.substr(path.rfind('/') + 1);
  QString label;
  if (path != key) label = kind == ObjectKind::table ? label_in<ConditionRow>(key) : label_in<Operation>(key);
  if (label.isEmpty()) {
    const ShopState none;
    none.visit(kind, [&](const auto& collection) {
      label = label_in<std::remove_cvref_t<decltype(collection.all()[0])>>(key);
    });
  }
  return label.isEmpty() ? text_of(key) : label;
}

QString value_in_words(const std::string& json) {
  constexpr qsizetype longest = 60;
  if (json.empty() || json == "null" || json == "\"\"") return QObject::tr("nothing");
  const Json value = Json::parse(json, nullptr, false);
  const QString text = value.is_string() ? text_of(value.get<std::string>()) : text_of(json);
  return text.size() > longest ? text.left(longest) + QStringLiteral("…") : text;
}

QString name_in(const std::string& body) {
  const Json json = Json::parse(body, nullptr, false);
  return json.is_object() ? text_of(json.value("name", std::string())) : QString();
}

QString object_name(const ShopState& state, ObjectKind kind, const Id& id) {
  const QString name = name_in(body_now(state, kind, id)), label = label_text(label_of(kind));
  return name.isEmpty() ? label : QStringLiteral("%1 “%2”").arg(label, name);
}

// A body written by an earlier version, as this one writes it; unchanged if it cannot be read.
std::string as_written_now(ObjectKind kind, const std::string& body) {
  std::string now = body;
  ShopState none;
  none.visit(kind, [&](const auto& collection) {
    using T = std::remove_cvref_t<decltype(collection.all()[0])>;
    FormatFaults faults;
    if (const auto object = object_from_body<T>(body, faults); object && faults.empty()) now = body_of(*object);
  });
  return now;
}

}  // namespace

tl::expected<std::string, Clash> merged_object_body(ObjectKind kind, const std::string& before,
                                                    const std::string& after, const std::string& stored,
                                                    std::string_view name_pattern) {
  const std::string theirs = as_written_now(kind, stored);
  auto plain = merged_body(before, after, theirs);
  if (plain || kind != ObjectKind::cutter || plain.error().property != "name") return plain;
  // Both sides changed sizes, and the name followed on both.
  const auto from = cutter_of(before), other = cutter_of(theirs);
  auto ours = cutter_of(after);
  if (!from || !ours || !other || suggested_name(*ours, name_pattern) != ours->name ||
      suggested_name(*other, name_pattern) != other->name)
    return plain;
  ours->name = from->name;
  auto both = merged_body(before, body_of(*ours), theirs);
  auto cutter = both ? cutter_of(*both) : std::nullopt;
  if (!cutter) return plain;
  cutter->name = suggested_name(*cutter, name_pattern);
  return body_of(*cutter);
}

void follow_names(Store& store) {
  store.set_merge([&store](ObjectKind kind, const auto& before, const auto& after, const auto& theirs) {
    const auto found = kind == ObjectKind::cutter ? store.objects_of(ObjectKind::settings)
                                                  : tl::expected<std::vector<StoredObject>, StoreFault>();
    FormatFaults faults;
    const auto settings =
        found && !found->empty() ? object_from_body<ShopSettings>(found->front().body, faults) : std::nullopt;
    return merged_object_body(kind, before, after, theirs, settings.value_or(ShopSettings{}).name_pattern);
  });
}

tl::expected<Change, QString> brought_up_to_date(const ShopState& state, Change change,
                                                 const std::unordered_set<Id>& changed_by_others) {
  for (ObjectChange& o : change.objects) {
    if (!changed_by_others.contains(o.id)) continue;
    std::string now = body_now(state, o.kind, o.id);
    if (now == o.before) continue;
    StoreFault fault;
    fault.kind = o.kind;
    fault.object = o.id;
    if (o.before.empty() || o.after.empty() || now.empty()) {
      if (now == o.after) continue;
      fault.clash = {"", o.after, now};
      return tl::unexpected(refusal_text(state, fault));
    }
    auto merged = merged_object_body(o.kind, o.before, o.after, now, state.shop_settings().name_pattern);
    if (!merged) {
      fault.clash = merged.error();
      return tl::unexpected(refusal_text(state, fault));
    }
    o.before = std::move(now);
    o.after = std::move(*merged);
  }
  return change;
}

QString refusal_text(const ShopState& state, const StoreFault& fault) {
  constexpr std::size_t id_size = 36;  // an id instead of a body: what our change refers to
  const QString object = object_name(state, fault.kind, fault.object);
  if (fault.trouble == StoreTrouble::taken)
    return fault.kind == ObjectKind::library
               ? QObject::tr("another program has added a library named “%1”; choose another name")
                     .arg(value_in_words(fault.clash.ours))
               : QObject::tr("another program has given number %1 to “%2”; choose another number")
                     .arg(value_in_words(fault.clash.ours), name_in(fault.clash.theirs));
  if (!fault.clash.property.empty())
    return QObject::tr("another program has changed %1 of %2 to %3")
        .arg(property_label(fault.kind, fault.clash.property), object, value_in_words(fault.clash.theirs));
  if (fault.clash.theirs.empty())
    return fault.clash.ours.size() == id_size
               ? QObject::tr("%1 refers to something another program has deleted").arg(object)
               : QObject::tr("another program has deleted %1").arg(object);
  return QObject::tr("another program has changed or used %1").arg(object);
}

}  // namespace pecorra
