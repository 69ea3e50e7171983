// Recipes: kept from what is seen, put on others, made rows and back; merging takes them along. And the chart as data.
#include <catch2/catch.hpp>

#include "demo_copy.h"
#include "shop/chart_grid.h"
#include "shop/cutter_edit.h"
#include "shop/recipe_edit.h"
#include "shop/table_sheet.h"

using namespace pecorra;

namespace {

void apply(ShopState& state, const Change& change) {
  for (const ObjectChange& o : change.objects) CHECK(put_stored(state, {o.kind, o.id, 2, o.after}).empty());
}

const Cutter& numbered(const ShopState& s, int number) {
  return *s.cutter_numbered(s.libraries.named("Iron and steels")->id, number);
}

}  // namespace

TEST_CASE("a recipe kept from what a cutter runs at gives the same numbers; a row made of it too") {
  ShopState s = the_demo();
  const WorkMaterial& steel = *s.materials.named("42CrMo4 +QT");
  const Machine& machine = *s.machines.named("Fettler 6");
  for (const int number : {210, 219, 301, 316}) {
    const Cutter& cutter = numbered(s, number);
    const OperationKind operation = declaration(cutter.kind).usual_operation;
    Query q;
    q.operation = operation;
    const auto ask = [&](const Query& query) {
      const Resolver r(s.tables.shared(), s.resolver_options());
      return r.resolve(key_as_used(s, r, *s.cutters.find(cutter.id)), r.key_of(steel), r.key_of(machine), query);
    };
    const Resolution before = ask(q);
    REQUIRE(before.found());
    const Resolver r(s.tables.shared(), s.resolver_options());
    const Evaluation seen = evaluate(s, r, cutter, steel, machine, q, s.assembly_of(cutter.id));
    RecipeChange kept = keep_as_recipe(s, cutter, steel, operation, seen);
    apply(s, kept.change);
    const Resolution after = ask(q);
    CHECK(after.source == SourceKind::recipe);
    CHECK(after.conditions.n_rpm == Approx(before.conditions.n_rpm).epsilon(0.01));
    CHECK(after.conditions.vf_mm_min == Approx(before.conditions.vf_mm_min).epsilon(0.03));
    // Into the table of its series; without the recipe the row answers.
    RowChange row = recipe_into_table(s, *s.recipes.find(kept.recipe));
    apply(s, row.change);
    const ConditionTable& table = *s.tables.find(row.target.table);
    CHECK((cutter.series.empty() || table.series == cutter.series));
    CHECK_FALSE(table.rows.back().proven);
    s.recipes.remove(kept.recipe);
    CHECK(ask(q).conditions.n_rpm == Approx(before.conditions.n_rpm).epsilon(0.01));
  }
}

TEST_CASE("a second recipe gets a name of its own; put on others once, never proven there") {
  ShopState s = the_demo();
  const Cutter& cutter = numbered(s, 249);
  CHECK(free_recipe_name(s, cutter.id, "heavy") == "heavy 2");
  CHECK(free_recipe_name(s, cutter.id, "new") == "new");
  const Recipe heavy = *s.recipe_named(cutter.id, "heavy");
  int odd = 0;
  const std::vector<Id> others{numbered(s, 252).id, numbered(s, 219).id, numbered(s, 301).id, cutter.id};
  apply(s, put_on_cutters(s, heavy, others, odd));
  CHECK(odd == 3);  // another size, another kind, a drill
  const Recipe* there = s.recipe_named(numbered(s, 252).id, "heavy");
  REQUIRE(there);
  CHECK_FALSE(there->proven);
  CHECK(put_on_cutters(s, heavy, others, odd).empty());  // they have it
}

TEST_CASE("merged cutters keep both their recipes; of two usual ones for the same the one that stays was there first") {
  ShopState s = the_demo();
  Cutter twin = numbered(s, 249);
  twin.id = Id::from_name("twin");
  twin.number = 9001;
  s.cutters.put(twin);
  Recipe other = *s.recipe_named(numbered(s, 249).id, "heavy");
  other.id = Id::from_name("twin's recipe");
  other.cutter = twin.id;
  other.name = "heavier";
  s.recipes.put(other);
  apply(s, merge_cutters(s, numbered(s, 249), twin));
  CHECK(s.recipes.of_cutter(twin.id).empty());
  CHECK(s.recipes.of_cutter(numbered(s, 249).id).size() == 3);
  CHECK_FALSE(s.recipe_named(numbered(s, 249).id, "heavier")->usual);
  CHECK(s.recipe_named(numbered(s, 249).id, "heavy")->usual);
}

TEST_CASE("every cell of the chart is what the resolver says, asked one by one or worked out bit by bit") {
  const ShopState& s = the_demo();
  const Resolver resolver(s.tables.shared(), s.resolver_options());
  Context context;
  context.machine = s.machines.named("Fettler 6")->id;
  context.material = s.materials.named("42CrMo4 +QT")->id;
  for (const OperationKind operation : {OperationKind::side_rough, OperationKind::drill, OperationKind::tap}) {
    context.operation = operation;
    ChartGrid grid;
    grid.set(s, resolver, context, {});
    int slices = 0;
    while (!grid.work(100)) ++slices;
    CHECK(grid.is_complete());
    for (int r = 0; r < grid.row_count(); ++r)
      for (int c = 0; c < grid.column_count(); ++c) {
        const Resolution expected =
            resolver.resolve(key_as_used(s, resolver, grid.cutter_at(r)), resolver.key_of(grid.material_at(c)),
                             resolver.key_of(*s.machines.find(context.machine)), query_for(s, context));
        const ChartCell& cell = grid.cell(r, c);
        REQUIRE(cell.found() == expected.found());
        CHECK(cell.reason == expected.reason);
        if (!cell.found()) continue;
        CHECK(cell.n_rpm == Approx(expected.conditions.n_rpm).epsilon(1e-6));
        CHECK(cell.vf_mm_min == Approx(expected.conditions.vf_mm_min).epsilon(1e-6));
        CHECK(cell.guess == expected.guess);
      }
    const Sheet sheet = grid.sheet(UnitSystem::metric);
    CHECK(static_cast<int>(sheet.lines.size()) == grid.row_count() + 1);
    for (const auto& line : sheet.lines) CHECK(line.size() == sheet.lines[0].size());
  }
}

TEST_CASE("every table of the demo goes out as a sheet and comes back the same") {
  const ShopState& s = the_demo();
  for (const ConditionTable& table : s.tables) {
    const auto lines = preview_rows(table, read_row_sheet(sheet_of(s, table, UnitSystem::metric), {},
                                                          UnitSystem::metric, material_lookup(s.materials.all())));
    INFO(table.name);
    REQUIRE(lines.size() == table.rows.size());
    for (const auto& l : lines) {
      INFO((l.faults.empty() ? l.changes.empty() ? l.why : std::string(l.changes[0]->key)
                             : l.faults[0].column + " " + l.faults[0].text));
      CHECK(l.state == MergeState::same);
    }
  }
}
