#include "store/merge.h"

#include <nlohmann/json.hpp>
#include <optional>
#include <unordered_map>
#include <vector>

namespace pecorra {
namespace {

using Json = nlohmann::ordered_json;
constexpr int deepest = 16;

std::string text_of(const Json* value) {
  return value ? value->dump(-1, ' ', false, Json::error_handler_t::replace) : std::string();
}

const Json* member(const Json& object, const std::string& key) {
  const auto found = object.find(key);
  return found == object.end() ? nullptr : &*found;
}

bool same(const Json* a, const Json* b) { return a && b ? *a == *b : a == b; }

// The entries by id, in order. Nothing if this is not a list whose entries all have an id.
using Entries = std::vector<std::pair<std::string, const Json*>>;
std::optional<Entries> entries_of(const Json& list) {
  if (!list.is_array()) return std::nullopt;
  Entries entries;
  std::unordered_map<std::string, int> seen;
  for (const Json& entry : list) {
    const Json* id = entry.is_object() ? member(entry, "id") : nullptr;
    if (!id || !id->is_string() || seen[id->get<std::string>()]++ > 0) return std::nullopt;
    entries.emplace_back(id->get<std::string>(), &entry);
  }
  return entries;
}

using Merged = tl::expected<std::optional<Json>, Clash>;  // nothing: deleted
Merged merged(const Json* before, const Json* after, const Json* theirs, const std::string& path, int depth);

Merged merged_object(const Json& before, const Json& after, const Json& theirs, const std::string& path, int depth) {
  Json out = Json::object();
  const auto take = [&](const std::string& key) -> std::optional<Clash> {
    auto value = merged(member(before, key), member(after, key), member(theirs, key),
                        path.empty() ? key : path + "/" + key, depth + 1);
    if (!value) return value.error();
    if (*value) out[key] = std::move(**value);
    return std::nullopt;
  };
  for (const auto& [key, value] : theirs.items())
    if (const auto clash = take(key)) return tl::unexpected(*clash);
  for (const auto& [key, value] : after.items())
    if (!theirs.contains(key))
      if (const auto clash = take(key)) return tl::unexpected(*clash);
  return std::optional(std::move(out));
}

Merged merged_entries(const Entries& before, const Entries& after, const Entries& theirs, const std::string& path,
                      int depth) {
  const auto index = [](const Entries& entries) {
    std::unordered_map<std::string, const Json*> by_id;
    for (const auto& [id, entry] : entries) by_id.emplace(id, entry);
    return by_id;
  };
  const auto from = index(before), ours = index(after), other = index(theirs);
  const auto find = [](const auto& by_id, const std::string& id) {
    const auto found = by_id.find(id);
    return found == by_id.end() ? nullptr : found->second;
  };
  // The order of the side that changed it. A new entry stays behind the entry it was added after.
  const auto order = [](const Entries& entries, const auto& within) {
    std::vector<std::string> ids;
    for (const auto& [id, entry] : entries)
      if (within.contains(id)) ids.push_back(id);
    return ids;
  };
  const bool we_moved = order(before, ours) != order(after, from);
  const Entries &main = we_moved ? after : theirs, &rest = we_moved ? theirs : after;
  std::vector<std::string> ids;
  std::unordered_map<std::string, std::vector<std::string>> behind;  // by the id it follows; "" is the front
  const auto known = index(main);
  std::string last;
  for (const auto& [id, entry] : rest) {
    if (!known.contains(id)) behind[last].push_back(id);
    last = id;
  }
  const auto put_behind = [&](const auto& self, const std::string& id) -> void {
    if (const auto next = behind.find(id); next != behind.end())
      for (const std::string& follower : next->second) {
        ids.push_back(follower);
        self(self, follower);
      }
  };
  put_behind(put_behind, "");
  for (const auto& [id, entry] : main) {
    ids.push_back(id);
    put_behind(put_behind, id);
  }
  Json out = Json::array();
  for (const std::string& id : ids) {
    const std::string inner = std::string(path).append("/").append(id);
    auto value = merged(find(from, id), find(ours, id), find(other, id), inner, depth + 1);
    if (!value) return tl::unexpected(value.error());
    if (*value) out.push_back(std::move(**value));
  }
  return std::optional(std::move(out));
}

Merged merged(const Json* before, const Json* after, const Json* theirs, const std::string& path, int depth) {
  const auto one = [](const Json* value) { return value ? std::optional(*value) : std::nullopt; };
  if (same(before, after) || same(after, theirs)) return one(theirs);
  if (same(before, theirs)) return one(after);
  if (before && after && theirs && depth < deepest) {
    if (before->is_object() && after->is_object() && theirs->is_object())
      return merged_object(*before, *after, *theirs, path, depth);
    const auto from = entries_of(*before), ours = entries_of(*after), other = entries_of(*theirs);
    if (from && ours && other) return merged_entries(*from, *ours, *other, path, depth);
  }
  return tl::unexpected(Clash{path, text_of(after), text_of(theirs)});
}

}  // namespace

tl::expected<std::string, Clash> merged_body(const std::string& before, const std::string& after,
                                             const std::string& theirs) {
  const Json from = Json::parse(before, nullptr, false), ours = Json::parse(after, nullptr, false),
             other = Json::parse(theirs, nullptr, false);
  if (!from.is_object() || !ours.is_object() || !other.is_object()) return tl::unexpected(Clash{"", after, theirs});
  auto value = merged(&from, &ours, &other, {}, 0);
  if (!value) return tl::unexpected(value.error());
  return text_of(&**value);
}

}  // namespace pecorra
