// Changes that reach further than one cutter: merging keeps jobs and assemblies, inserts and the pattern of names
// carry.
#include <catch2/catch.hpp>

#include "core/cutter/duplicates.h"
#include "core/cutter/kinds.h"
#include "demo_copy.h"
#include "shop/cutter_edit.h"
#include "shop/evaluation.h"
#include "shop/job_edit.h"

using namespace pecorra;

namespace {

void apply_to(ShopState& state, const Change& change) {
  for (const ObjectChange& o : change.objects) CHECK(put_stored(state, {o.kind, o.id, 2, o.after}).empty());
}

template <class T>
std::string everything(const Collection<T>& all) {
  std::string text;
  for (const T& t : all) text += body_of(t) + "\n";
  return text;
}

}  // namespace

TEST_CASE(
    "merged cutters: jobs run as before, assemblies move, counts add up, what one knows is not lost; one step back") {
  ShopState s = the_demo();
  const Job job = *s.job(s.jobs[0].id);
  const Cutter used = *s.cutters.find(job.operations[0].cutter.id);
  Cutter twin = used;
  twin.id = Id::from_name("twin");
  twin.number = 9001;
  twin.name = "The same again";
  twin.notes = "from the other catalogue";
  twin.maker.clear();
  twin.in_stock = 4;
  twin.guesses = {"reach_mm"};
  s.cutters.put(twin);
  Assembly first = *s.assembly_of(used.id), same = first, another = first;
  same.id = Id::from_name("same");
  another.id = Id::from_name("another");
  same.cutter = another.cutter = twin.id;
  another.stickout_mm = *first.stickout_mm + 5;
  another.usual = true;
  s.assemblies.put(same);
  s.assemblies.put(another);
  REQUIRE(like_cutters(s, used).size() == 1);
  REQUIRE(like_cutters(s, used)[0].cutter->id == twin.id);

  const std::string jobs = everything(s.operations), cutters = everything(s.cutters),
                    assemblies = everything(s.assemblies);
  const std::size_t count = s.cutters.size();
  std::vector<std::string> taken;
  for (const Operation& o : job.operations)
    taken.push_back(fingerprint(o.taken) + size_text(o.cutter, UnitSystem::metric));
  // Into the twin, though it is the one that the job does not use.
  const Change change = merge_cutters(s, twin, used);
  apply_to(s, change);
  CHECK(s.cutters.size() == count - 1);
  CHECK(s.cutters.find(used.id) == nullptr);
  const Cutter& kept = *s.cutters.find(twin.id);
  CHECK(kept.name == "The same again");
  CHECK(kept.notes == "from the other catalogue");
  CHECK(kept.maker == used.maker);
  CHECK(kept.in_stock == 4 + used.in_stock.value_or(0));
  const Job after = *s.job(job.id);
  for (std::size_t i = 0; i < after.operations.size(); ++i) {
    const Operation& o = after.operations[i];
    CHECK(fingerprint(o.taken) + size_text(o.cutter, UnitSystem::metric) == taken[i]);
    CHECK(o.cutter.id != used.id);
    CHECK(s.cutters.find(o.cutter.id) != nullptr);
  }
  CHECK(after.operations[0].cutter.id == twin.id);
  CHECK(after.operations[0].cutter.number == 9001);
  CHECK(s.assemblies.of_cutter(used.id).empty());
  CHECK(s.assemblies.of_cutter(twin.id).size() == 2);  // what both had stands once
  for (const Assembly& a : s.assemblies) CHECK(s.cutters.find(a.cutter) != nullptr);

  apply_to(s, change.reversed());
  CHECK(everything(s.operations) == jobs);
  // The order may differ; nothing else.
  CHECK(s.cutters.size() == count);
  CHECK(body_of(*s.cutters.find(used.id)) == body_of(used));
  CHECK(body_of(*s.cutters.find(twin.id)) == body_of(twin));
  CHECK(s.assemblies.of_cutter(twin.id).size() == 2);
  CHECK(body_of(*s.assemblies.find(another.id)) == body_of(another));
}

TEST_CASE("told apart: not pointed out any more, and a third one stays told apart after a merge") {
  ShopState s = the_demo();
  const Cutter a = *s.cutter_numbered(s.libraries[0].id, 219);
  Cutter b = a, c = a;
  b.id = Id::from_name("b");
  c.id = Id::from_name("c");
  b.number = 9001;
  c.number = 9002;
  s.cutters.put(b);
  s.cutters.put(c);
  CHECK(like_cutters(s, a).size() == 2);
  apply_to(s, tell_apart(*s.cutters.find(c.id), a, "reground"));
  CHECK(like_cutters(s, a).size() == 1);
  apply_to(s, merge_cutters(s, b, a));
  CHECK(like_cutters(s, *s.cutters.find(b.id)).empty());
  CHECK(s.cutters.find(c.id)->accepted.at(told_apart_key(b.id)) == "reground");
}

TEST_CASE("another insert changes every cutter that carries it, in one step; names that were suggested follow") {
  ShopState s = the_demo();
  Insert insert;
  insert.id = Id::from_name("insert");
  insert.name = "RPMT 1204M0";
  insert.corner_radius_mm = 0.8;
  insert.tool_material = ToolMaterial::carbide_insert;
  s.inserts.put(insert);
  const Cutter mill = *s.cutter_numbered(s.libraries.named("Standing set")->id, 2);
  Cutter body = fitted(mill, insert);
  body.name = s.name_for(body);
  s.cutters.put(body);
  Insert other = insert;
  other.corner_radius_mm = 1.6;
  other.coating = "AlTiN";
  const Change change = change_insert(s, insert, other, "Corner 1.6");
  CHECK(change.label.contains("1 cutters"));
  CHECK(change.objects.size() == 2);
  apply_to(s, change);
  CHECK(s.cutters.find(body.id)->corner_radius_mm == 1.6);
  CHECK(s.cutters.find(body.id)->coating == "AlTiN");
  CHECK(s.cutters.find(body.id)->name.find("R1.6") != std::string::npos);
  // What does not concern the cutter leaves it alone.
  Insert counted = other;
  counted.in_stock = 10;
  CHECK(change_insert(s, other, counted, "10 in stock").objects.size() == 1);
}

TEST_CASE("another pattern renames what was called by the old one, and nothing that somebody named") {
  ShopState s = the_demo();
  Cutter own = *s.cutter_numbered(s.libraries[0].id, 219);
  own.name = "Old faithful";
  s.cutters.put(own);
  const std::string pattern = "D{DC} Z{NOF} {kind}";
  const auto list = renames(s, pattern);
  CHECK(list.size() > 30);
  for (const Rename& r : list) CHECK(r.cutter->id != own.id);
  const Change change = change_name_pattern(s, pattern);
  CHECK(change.objects.size() == list.size() + 1);
  apply_to(s, change);
  CHECK(s.cutters.find(own.id)->name == "Old faithful");
  CHECK(s.shop_settings().name_pattern == pattern);
  for (const Rename& r : list) CHECK(s.cutters.find(r.cutter->id)->name == s.name_for(*s.cutters.find(r.cutter->id)));
  CHECK(renames(s, pattern).empty());
}

TEST_CASE("a starter row is scaled by quality, tool material and coating; a row of the shop or of a maker never is") {
  ShopState s = the_demo();
  EdgeMaterial coating;
  coating.id = Id::from_name("coating");
  coating.name = "ZrN, ours";
  coating.speed_factor = 0.8;
  coating.feed_factor = 0.9;
  s.edge_materials.put(coating);
  const Resolver resolver(s.tables.shared(), s.resolver_options());
  const WorkMaterial& steel = *s.materials.named("42CrMo4 +QT");
  const Machine& machine = *s.machines.named("Fettler 6");
  Query query = query_for(s, Context{steel.id, machine.id});
  query.rounding = Rounding(1e-9, 1e-9);
  const auto resolved = [&](const Cutter& c, Trail& trail) {
    return resolver.resolve(resolver.key_of(c), resolver.key_of(steel), resolver.key_of(machine), query, trail);
  };
  Cutter unknown = proposed_cutter(CutterKind::end_mill, 7);  // no maker: a starter row, or the shop's
  query.only = SourceKind::starter_table;
  Trail plain, scaled;
  const Resolution before = resolved(unknown, plain);
  REQUIRE(before.source == SourceKind::starter_table);
  unknown.quality = Quality::plain;
  unknown.coating = "ZrN, ours";
  const Resolution after = resolved(unknown, scaled);
  CHECK(after.conditions.n_rpm == Approx(before.conditions.n_rpm * 0.85 * 0.8));
  CHECK(after.conditions.vf_mm_min == Approx(before.conditions.vf_mm_min * 0.85 * 0.8 * 0.9));
  const auto step = std::find_if(scaled.begin(), scaled.end(), [](const TrailStep& t) { return t.step == "edge"; });
  REQUIRE(step != scaled.end());
  CHECK(std::get<std::string>(step->values[0].second) == "quality “Plain”, coating “ZrN, ours”");
  CHECK(std::none_of(plain.begin(), plain.end(), [](const TrailStep& t) { return t.step == "edge"; }));
  query.only.reset();
  Cutter known = *s.cutter_numbered(s.libraries[0].id, 219);
  Trail first, second;
  const Resolution proven = resolved(known, first);
  REQUIRE(proven.source != SourceKind::starter_table);
  known.quality = Quality::plain;
  CHECK(resolved(known, second).conditions.n_rpm == proven.conditions.n_rpm);
}

TEST_CASE("an adjustable cutter runs at the diameter it is set to, in lists, jobs and on its own") {
  ShopState s = the_demo();
  const Cutter mill = *s.cutter_numbered(s.libraries[0].id, 219);
  const WorkMaterial& steel = *s.materials.named("42CrMo4 +QT");
  const Machine& machine = *s.machines.named("Fettler 6");
  const Context context{steel.id, machine.id};
  const Resolver resolver(s.tables.shared());
  Query query = query_for(s, context);
  query.rounding = Rounding(1e-9, 1e-9);
  const auto speed = [&] {
    return resolver.resolve(key_as_used(s, resolver, mill), resolver.key_of(steel), resolver.key_of(machine), query)
        .conditions.n_rpm;
  };
  const double nominal = speed();
  Assembly reground = *s.assembly_of(mill.id);
  reground.set_diameter_mm = 11.5;
  s.assemblies.put(reground);
  CHECK(speed() > nominal);
  const Evaluation e = evaluate(s, resolver, mill, steel, machine, query, &reground);
  CHECK(e.resolution.conditions.n_rpm == Approx(speed()));
  CHECK(e.trail.front().step == "set_diameter");
  CHECK(*e.cut.results.d_eff_mm == Approx(11.5));
  Job job = *s.job(s.jobs[0].id);
  Operation& o = job.operations[0];
  pick_cutter(s, resolver, job, o, mill);
  CHECK(o.cutter.diameter_mm == 11.5);
  CHECK(s.as_used(mill).diameter_mm == 11.5);
  CHECK(mill.diameter_mm == 12);
}

TEST_CASE("runout loads one edge more than the others, and more runout than chip is said") {
  ShopState s = the_demo();
  Cutter mill = *s.cutter_numbered(s.libraries[0].id, 219);
  mill.max_chip_mm = 0.2;
  const WorkMaterial& steel = *s.materials.named("42CrMo4 +QT");
  const Machine& machine = *s.machines.named("Fettler 6");
  Cut cut;
  cut.operation = OperationKind::side_rough;
  cut.n_rpm = 3000;
  cut.vf_mm_min = 600;
  cut.ap_mm = 10;
  cut.ae_mm = 6;
  const auto chip = [&](const CutReport& r) {
    for (const Headroom& h : r.headroom)
      if (h.limit == Limit::chip_max) return h.value;
    return 0.0;
  };
  const CutReport true_running = compute_cut(mill, {}, steel, machine, cut);
  mill.runout_mm = 0.02;
  const CutReport running_out = compute_cut(mill, {}, steel, machine, cut);
  CHECK(chip(running_out) == Approx(chip(true_running) + 0.02));
  CHECK(running_out.results.h_ex_mm == true_running.results.h_ex_mm);
  const auto said = [](const CutReport& r) {
    return std::any_of(r.messages.begin(), r.messages.end(),
                       [](const Message& m) { return m.code == "runout_over_chip"; });
  };
  CHECK_FALSE(said(running_out));
  mill.runout_mm = 0.08;
  CHECK(said(compute_cut(mill, {}, steel, machine, cut)));
}

TEST_CASE("a job says what the shop lacks for it, with order codes; the shop says what is to be bought") {
  ShopState s = the_demo();
  const Job job = *s.job(s.jobs[0].id);
  CHECK(lacks_of(s, job).empty());
  Cutter used = *s.cutters.find(job.operations[0].cutter.id);
  used.in_stock = 0;
  used.wanted = 3;
  used.on_order = 1;
  Insert insert;
  insert.id = Id::from_name("insert");
  insert.name = "APKT 160408";
  insert.in_stock = 1;
  insert.order_code = "FR-16";
  used.insert = insert.id;
  s.inserts.put(insert);
  s.cutters.put(used);
  Holder holder = *s.holders.find(s.assembly_of(used.id)->holder);
  holder.retired = true;
  s.holders.put(holder);
  const auto lacks = lacks_of(s, job);
  REQUIRE(lacks.size() >= 3);
  CHECK(lacks[0].what.contains(QString::number(used.number)));
  CHECK(lacks[0].why == "none in stock, 3 wanted, 1 on order");
  CHECK(lacks[0].order_code.toStdString() == used.maker + " " + used.order_code);
  CHECK(lacks[1].order_code == "FR-16");
  CHECK(lacks[2].why.contains("retired"));
  const auto buy = to_buy(s);
  REQUIRE(buy.size() == 3);  // two of the demo's inserts beside it
  CHECK(buy[0].what.startsWith("2 × Cutter"));
  CHECK(buy[1].what.startsWith("7 × Insert APKT 160408"));
  // A cutter that went from the library is said as well; the job keeps its copy.
  s.cutters.remove(used.id);
  CHECK(lacks_of(s, *s.job(job.id))[0].why == "no longer in a library");
}
