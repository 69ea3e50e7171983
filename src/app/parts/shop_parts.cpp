// The shop page: inserts, collets, tool materials, coatings, items to buy, names.
#include "app/parts/names_section.h"
#include "app/parts/part_section.h"
#include "app/parts/parts_page.h"
#include "app/widgets/pick_list.h"
#include "shop/cutter_edit.h"
#include "shop/demo.h"
#include "shop/generic_collets.h"
#include "shop/never_check.h"
#include "shop/number_plan.h"

namespace pecorra {
namespace {

// Cutters that a thing stands on.
template <class Uses>
QStringList cutters_with(const ShopState& state, Uses&& uses) {
  QStringList names;
  for (const Cutter& c : state.cutters)
    if (uses(c)) names << QStringLiteral("%1 %2").arg(c.number).arg(text_of(c.name));
  return names;
}

QString used_text(const QStringList& names) {
  return names.isEmpty() ? QObject::tr("On no cutter")
         : names.size() == 1
             ? QObject::tr("On %1").arg(names.front())
             : QObject::tr("On %1 cutters: %2").arg(names.size()).arg(names.mid(0, 4).join(QStringLiteral(", ")));
}

PartSpec<Insert> insert_spec(Workspace& workspace) {
  PartSpec<Insert> spec;
  spec.title = QObject::tr("Inserts");
  spec.new_text = QObject::tr("New insert");
  spec.empty_text = QObject::tr(
      "No inserts yet. “New insert” makes one: type its designation, as APKT 160408, and its sizes fill in.");
  spec.all = &ShopState::inserts;
  spec.columns = {"name", "grade", "corner_radius_mm", "edges", "tool_material", "in_stock", "order_code"};
  spec.fields = {"name",           "grade",        "corner_radius_mm", "edges",   "inscribed_mm",
                 "edge_length_mm", "thickness_mm", "tool_material",    "coating", "edge_radius_mm",
                 "max_chip_mm",    "maker",        "order_code",       "link",    "price",
                 "in_stock",       "wanted",       "on_order",         "retired", "notes"};
  spec.fresh = [] {
    Insert i;
    i.name = QObject::tr("New insert").toStdString();
    i.tool_material = ToolMaterial::carbide_insert;
    return i;
  };
  spec.check = [](const Insert& i) {
    auto messages = check_insert(i);
    if (const auto read = read_designation(i.name); !read)
      messages.push_back({Severity::note, "no_designation", "name", {{"why", read.error()}}});
    return messages;
  };
  spec.follow = [](Insert& i, std::string_view key) {
    if (key == "name") i = with_designation(std::move(i), true);
  };
  spec.change = [&workspace](const Insert& before, const Insert& after, const QString& label) {
    return change_insert(workspace.state(), before, after, label);
  };
  spec.users = [&workspace](const Insert& i) {
    return cutters_with(workspace.state(), [&](const Cutter& c) { return c.insert == i.id; });
  };
  spec.subtitle = [users = spec.users](const Insert& i) {
    const auto read = read_designation(i.name);
    QString text = used_text(users(i));
    if (read) {
      const QString shape = read->corner_angle_deg > 0
                                ? QObject::tr("%1° corner").arg(text_of(plain(read->corner_angle_deg, 0)))
                                : QObject::tr("round");
      text = (read->clearance_known
                  ? QObject::tr("%1, %2° clearance").arg(shape, text_of(plain(read->clearance_angle_deg, 0)))
                  : shape) +
             QStringLiteral(" · ") + text;
    }
    return text;
  };
  return spec;
}

PartSpec<Collet> collet_spec(Workspace& workspace) {
  PartSpec<Collet> spec;
  spec.title = QObject::tr("Collets");
  spec.new_text = QObject::tr("New collet");
  spec.empty_text = QObject::tr("No collets yet. “New collet” starts from an ISO 15488 size or from scratch.");
  spec.all = &ShopState::collets;
  spec.columns = {"name", "holder_size_mm", "clamp_from_mm", "clamp_to_mm", "in_stock", "order_code"};
  spec.fields = {"name",     "holder_size_mm", "clamp_from_mm", "clamp_to_mm", "maker",  "order_code",
                 "in_stock", "wanted",         "on_order",      "retired",     "source", "notes"};
  spec.check = check_collet;
  spec.users = [&workspace](const Collet& o) {
    const ShopState& state = workspace.state();
    return cutters_with(state, [&](const Cutter& c) {
      for (const std::size_t i : state.assemblies.of_cutter(c.id))
        if (state.assemblies[i].collet == o.id) return true;
      return false;
    });
  };
  spec.subtitle = [users = spec.users](const Collet& o) { return used_text(users(o)); };
  spec.choose = [kinds = static_cast<PickList*>(nullptr)](QWidget* under, std::function<void(Collet)> add) mutable {
    if (!kinds) kinds = new PickList(under->window());
    std::vector<PickItem> items;
    items.push_back({QObject::tr("Empty: type its range"), QObject::tr("own"), [add] {
                       Collet own;
                       own.name = QObject::tr("New collet").toStdString();
                       own.source = QObject::tr("Entered by the shop").toStdString();
                       add(own);
                     }});
    for (const Collet& o : generic_collets())
      items.push_back({text_of(o.name), QObject::tr("ISO 15488"), [add, o] { add(o); }});
    kinds->open(under->mapToGlobal(QPoint(under->width() - 340, under->height() + 2)), 340, std::move(items), 0,
                QObject::tr("Custom, or a standard size: type to filter"));
  };
  return spec;
}

PartSpec<EdgeMaterial> edge_spec(Workspace& workspace, EdgePart part) {
  PartSpec<EdgeMaterial> spec;
  const bool coating = part == EdgePart::coating;
  spec.title = coating ? QObject::tr("Coatings") : QObject::tr("Tool materials");
  spec.new_text = coating ? QObject::tr("New coating") : QObject::tr("New tool material");
  spec.empty_text =
      coating ? QObject::tr("No coatings yet. Coatings made here are suggested when you type a cutter's coating.")
              : QObject::tr(
                    "No custom tool materials. The nine standard ones are always available; those made here are added "
                    "to them.");
  spec.all = &ShopState::edge_materials;
  spec.belongs = [part](const EdgeMaterial& m) { return m.part == part; };
  spec.columns = coating ? std::vector<std::string_view>{"name", "speed_factor", "feed_factor", "source"}
                         : std::vector<std::string_view>{"name", "like", "speed_factor", "feed_factor", "source"};
  spec.fields = coating
                    ? std::vector<std::string_view>{"name", "speed_factor", "feed_factor", "source", "notes"}
                    : std::vector<std::string_view>{"name", "like", "speed_factor", "feed_factor", "source", "notes"};
  spec.fresh = [part] {
    EdgeMaterial m;
    m.part = part;
    m.name = (part == EdgePart::coating ? QObject::tr("New coating") : QObject::tr("New tool material")).toStdString();
    if (part == EdgePart::tool_material) m.like = ToolMaterial::carbide;
    return m;
  };
  spec.check = check_edge_material;
  // Cutters refer to it by name: they are updated.
  spec.change = [&workspace, coating](const EdgeMaterial& before, const EdgeMaterial& after, const QString& label) {
    Change change;
    change.label = label;
    change.edit(before, after);
    for (const Cutter& c : workspace.state().cutters) {
      Cutter fresh = c;
      std::string& named = coating ? fresh.coating : fresh.own_material;
      if (named != before.name) continue;
      named = after.name;
      if (!coating && after.like) fresh.tool_material = after.like;
      change.edit(c, fresh);
    }
    return change;
  };
  spec.users = [&workspace, coating](const EdgeMaterial& m) {
    return cutters_with(workspace.state(),
                        [&](const Cutter& c) { return (coating ? c.coating : c.own_material) == m.name; });
  };
  spec.subtitle = [users = spec.users](const EdgeMaterial& m) {
    return used_text(users(m)) + QStringLiteral(". ") + QObject::tr("The factors apply to starter rows only.");
  };
  return spec;
}

PartSpec<NumberBlock> block_spec(Workspace& workspace) {
  PartSpec<NumberBlock> spec;
  spec.title = QObject::tr("Number blocks");
  spec.new_text = QObject::tr("New block");
  spec.empty_text = QObject::tr(
      "No number blocks yet. A block states which numbers a group of cutters may have, such as 1 to 24 for the "
      "magazine or every tenth for probes; cutters outside are flagged.");
  spec.all = &ShopState::number_blocks;
  spec.sorted = false;
  spec.columns = {"name", "from", "to", "every", "library", "kind", "word"};
  spec.fields = {"name", "from", "to", "every", "# For which cutters", "library", "kind", "word"};
  spec.fresh = [] {
    NumberBlock b;
    b.name = QObject::tr("New block").toStdString();
    return b;
  };
  spec.check = check_block;
  spec.choices = [&workspace](const NumberBlock&, std::string_view key) {
    std::vector<FieldChoice> choices;
    if (key != "library") return choices;
    choices.push_back({text_of(Id{}.text()), QObject::tr("any")});
    for (const Library& l : workspace.state().libraries) choices.push_back({text_of(l.id.text()), text_of(l.name)});
    return choices;
  };
  spec.cell = [&workspace](const NumberBlock& b, const Property<NumberBlock>& p) -> std::optional<QString> {
    if (p.key != "library") return std::nullopt;
    const Library* l = workspace.state().libraries.find(b.library);
    return l ? text_of(l->name) : QObject::tr("any");
  };
  // How many are inside, and how many should be but are not.
  spec.subtitle = [&workspace](const NumberBlock& b) {
    const ShopState& state = workspace.state();
    const FurtherWords further = materials_of_recipes(state);
    int inside = 0, outside = 0;
    for (const Cutter& c : state.cutters) {
      if (!belongs_to(b, c, further)) continue;
      if (b.holds(c.number)) ++inside;
      else if (const auto breach = breach_of(state, c); breach && breach->kind == BreachKind::outside) ++outside;
    }
    return !b.has_condition() ? QObject::tr("%1: reserved, no cutter uses it").arg(block_text(b))
           : outside
               ? QObject::tr("%1. %2 cutters in range, %3 out of range").arg(block_text(b)).arg(inside).arg(outside)
               : QObject::tr("%1. %2 cutters, all in range").arg(block_text(b)).arg(inside);
  };
  return spec;
}

PartSpec<NeverRule> never_spec(Workspace& workspace) {
  PartSpec<NeverRule> spec;
  spec.title = QObject::tr("Never");
  spec.new_text = QObject::tr("New rule");
  spec.empty_text = QObject::tr("Only the shipped rules apply. A rule made here forbids a cutter in some work.");
  spec.all = &ShopState::never_rules;
  spec.unstated = QObject::tr("any");
  spec.columns = {"name", "verdict", "kind", "tool_material", "group", "subgroup", "hardness_from_hb", "operation"};
  spec.fields = {
      "name",          "verdict",  "why",      "instead",          "source",        "# Which cutters", "kind",
      "tool_material", "coating",  "tap_form", "made_for",         "not_to_centre", "# In which work", "operation",
      "group",         "subgroup", "alloy",    "hardness_from_hb", "hardness_to_hb"};
  spec.fresh = [] {
    NeverRule r;
    r.name = QObject::tr("New rule").toStdString();
    r.source = QObject::tr("Entered by the shop").toStdString();
    return r;
  };
  spec.check = [&workspace](const NeverRule& rule) { return check_never(workspace.state(), rule); };
  const auto shipped_as = [](const NeverRule& r) {
    const auto& shipped = shipped_never_rules();
    const auto at = std::find_if(shipped.begin(), shipped.end(), [&](const NeverRule& s) { return s.id == r.id; });
    return at == shipped.end() ? nullptr : &*at;
  };
  spec.subtitle = [shipped_as](const NeverRule& r) {
    const NeverRule* shipped = shipped_as(r);
    if (!shipped) return QObject::tr("A rule of this shop");
    NeverRule same = *shipped;
    same.revision = r.revision;
    return same == r ? QObject::tr("Shipped") : QObject::tr("Shipped, changed by this shop");
  };
  // It would still apply, unseen.
  spec.keep = [shipped_as](const NeverRule& r) {
    return shipped_as(r)
               ? QObject::tr("Shipped rules cannot be deleted. Set the verdict to warning to soften this one.")
               : QString();
  };
  return spec;
}

}  // namespace

PartsPage* make_shop_page(Workspace& workspace) {
  return new PartsPage(
      QObject::tr("Shop"), QObject::tr("Filter: name, grade, maker, code"),
      {new PartSection<Insert>(workspace, insert_spec(workspace), QStringLiteral("insert"), nullptr),
       new PartSection<Collet>(workspace, collet_spec(workspace), QStringLiteral("collet"), nullptr),
       new PartSection<EdgeMaterial>(workspace, edge_spec(workspace, EdgePart::tool_material),
                                     QStringLiteral("tool_material"), nullptr),
       new PartSection<EdgeMaterial>(workspace, edge_spec(workspace, EdgePart::coating), QStringLiteral("coating"),
                                     nullptr),
       new ToBuySection(workspace, nullptr), new NamesSection(workspace, nullptr),
       new PartSection<NumberBlock>(workspace, block_spec(workspace), QStringLiteral("number_block"), nullptr),
       new PartSection<NeverRule>(workspace, never_spec(workspace), QStringLiteral("never_rule"), nullptr)});
}

}  // namespace pecorra
