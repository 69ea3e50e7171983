#include "shop/operation_copies.h"

#include <QObject>
#include <algorithm>
#include <map>

#include "core/quantity/print.h"
#include "formats/json/objects.h"
#include "shop/job_objects.h"
#include "shop/shop.h"
#include "shop/words.h"

namespace pecorra {
namespace {

// Typed features that these operations are made of, and what those are made of.
std::vector<const Feature*> features_of(const Job& job, const Places& at) {
  std::vector<const Feature*> out;
  const auto take = [&](const std::string& key) {
    const Feature* f = find_feature(job, key);
    if (!f || std::find(out.begin(), out.end(), f) != out.end()) return;
    out.push_back(f);
  };
  for (const int i : at)
    for (const FeatureUse& use : job.operations[static_cast<std::size_t>(i)].features) take(use.key);
  for (std::size_t i = 0; i < out.size(); ++i) {
    take(out[i]->outline.key);
    for (const FeatureUse& use : std::vector(out[i]->islands)) take(use.key);
  }
  return out;
}

bool same_geometry(Feature a, Feature b) {
  a.id = b.id = {};
  a.job = b.job = {};
  a.rank = b.rank = 0;
  a.revision = b.revision = 0;
  return a == b;
}

}  // namespace

QString operations_mime_type() { return QStringLiteral("application/x-pecorra-operations"); }

std::string copied_text(const Job& job, const Places& at) {
  Json json{{"operations", Json::array()}, {"features", Json::array()}};
  for (const int i : at) json["operations"].push_back(to_json(job.operations[static_cast<std::size_t>(i)]));
  for (const Feature* f : features_of(job, at)) json["features"].push_back(to_json(*f));
  return json.dump();
}

QString plain_text(const Job& job, const Places& at, UnitSystem units) {
  QStringList lines;
  for (const int i : at) {
    const Operation& o = job.operations[static_cast<std::size_t>(i)];
    const auto number = [&](const std::optional<double>& v, Quantity q) {
      return v ? text_of(shown(*v, q, units)) : QString();
    };
    lines << QStringList{text_of(o.name),
                         text_of(o.cutter.name),
                         number(o.taken.n_rpm, Quantity::spindle_speed),
                         number(o.taken.vf_mm_min, Quantity::table_feed),
                         number(o.taken.ap_mm, Quantity::length),
                         number(o.taken.ae_mm, Quantity::length)}
                 .join(QLatin1Char('\t'));
  }
  return lines.join(QLatin1Char('\n'));
}

tl::expected<Pasted, QString> pasted_operations(const ShopState& state, const Resolver& resolver, const Job& job,
                                                int behind, std::string_view text) {
  const auto json = parse_json(text);
  const auto none = [] { return tl::unexpected(QObject::tr("No operations on the clipboard.")); };
  if (!json || !json->is_object() || !json->contains("operations") || !(*json)["operations"].is_array()) return none();
  Job changed = job;
  FormatFaults unused;
  std::map<std::string, std::string> renamed;
  if (json->contains("features") && (*json)["features"].is_array())
    for (const Json& entry : (*json)["features"]) {
      Feature f;
      from_json(f, entry, unused);
      const Feature* here = find_feature(changed, f.key);
      if (here && same_geometry(*here, f)) continue;
      const std::vector<std::string> keys = feature_keys(changed);
      const auto taken = [&](const std::string& key) {
        return find_feature(changed, key) || std::find(keys.begin(), keys.end(), key) != keys.end();
      };
      const std::string before = f.key;
      for (int i = 2; taken(f.key); ++i) f.key = before + " " + std::to_string(i);
      renamed[before] = f.key;
      f.id = new_id();
      f.rank = 0;
      changed.features.push_back(std::move(f));
    }
  const auto rename = [&](FeatureUse& use) {
    if (const auto now = renamed.find(use.key); now != renamed.end()) use.key = now->second;
  };
  for (std::size_t i = job.features.size(); i < changed.features.size(); ++i) {
    rename(changed.features[i].outline);
    for (FeatureUse& use : changed.features[i].islands) rename(use);
  }
  Pasted out;
  int at = std::clamp(behind + 1, 0, static_cast<int>(job.operations.size()));
  for (const Json& entry : (*json)["operations"]) {
    Operation o;
    from_json(o, entry, unused);
    o.id = new_id();
    if (std::none_of(job.operations.begin(), job.operations.end(),
                     [&](const Operation& other) { return other.id == o.behind; }))
      o.behind = {};
    o.rank = 0;
    o.revision = 0;
    o.job = {};
    if (std::none_of(job.setups.begin(), job.setups.end(), [&](const Setup& s) { return s.id == o.setup; }))
      o.setup = {};
    for (FeatureUse& use : o.features) rename(use);
    retake(state, resolver, changed, o);
    changed.operations.insert(changed.operations.begin() + at, std::move(o));
    out.at.push_back(at++);
  }
  if (out.at.empty()) return none();
  out.change = job_change(
      out.at.size() == 1
          ? QObject::tr("Pasted %1").arg(text_of(changed.operations[static_cast<std::size_t>(out.at.front())].name))
          : QObject::tr("Pasted %1 operations").arg(static_cast<int>(out.at.size())),
      job, changed);
  return out;
}

}  // namespace pecorra
