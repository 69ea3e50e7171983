#include "shop/missing_references.h"

#include <QObject>

#include "shop/words.h"

namespace pecorra {
namespace {

template <class T>
std::string name_of(const ShopState& state, const T& object) {
  if constexpr (requires {
                  object.library;
                  object.number;
                }) {
    const Library* library = state.libraries.find(object.library);
    return (library ? library->name + "/" : std::string()) + std::to_string(object.number);
  } else if constexpr (requires { requires std::same_as<decltype(T::cutter), Id>; }) {
    const Cutter* cutter = state.cutters.find(object.cutter);
    std::string name(label_of(kind_of(object)));
    if (!object.name.empty()) name += " " + object.name;
    return cutter ? name + " of " + name_of(state, *cutter) : name;
  } else if constexpr (requires { object.name; }) {
    return std::string(label_of(kind_of(object))) + " " + object.name;
  } else {
    return std::string(label_of(kind_of(object)));
  }
}

template <class T, class Found>
void check_properties(const ShopState& state, const T& object, Found&& found) {
  for (const Property<T>& property : properties<T>()) {
    if (property.quantity != Quantity::id) continue;
    const auto wanted = object_kind_from(property.key);
    const Value value = property.get(object);
    const std::string* text = std::get_if<std::string>(&value);
    const auto id = wanted && text ? Id::parse(*text) : std::nullopt;
    if (id && !id->is_null() && !state.revision_of(*wanted, *id)) found(std::string(property.key), *wanted);
  }
}

}  // namespace

std::vector<MissingReference> missing_references(const ShopState& state) {
  std::vector<MissingReference> missing;
  state.visit_all([&](const auto& list) {
    for (const auto& object : list) {
      const auto found = [&](const std::string& where) {
        return [&, where](std::string key, ObjectKind wanted) {
          missing.push_back({kind_of(object), object.id, name_of(state, object) + where, std::move(key), wanted});
        };
      };
      check_properties(state, object, found({}));
      if constexpr (requires { object.rows; })
        for (std::size_t i = 0; i < object.rows.size(); ++i)
          check_properties(state, object.rows[i], found(" row " + std::to_string(i + 1)));
    }
  });
  return missing;
}

QString missing_text(const MissingReference& missing) {
  return QObject::tr("Its %1 is not in this shop").arg(within_sentence(label_text(label_of(missing.wanted))));
}

}  // namespace pecorra
