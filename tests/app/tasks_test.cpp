// Five everyday tasks, done in the real window by keys and clicks and counted with the keystroke-level model (Card,
// Moran and Newell, Communications of the ACM 23, 1980; from memory): a key 0.28 s, pointing and clicking 1.38 s, a
// hand from mouse to keyboard or back 0.4 s, thinking before each step of the task 1.35 s. bench/tasks prints the
// lines.
#include <cstdio>

#include <QTableView>
#include <algorithm>

#include "core/cutter/name_pattern.h"
#include "demo_copy.h"
#include "window_fixture.h"

using namespace pecorra;

namespace {

// What a user's hands do, and how long it takes by the model. The right hand rests on the mouse at first.
class Hands {
 public:
  explicit Hands(test::Window& window) : window_(window) {}
  void think() { ++thoughts_; }
  void press(Qt::Key key, Qt::KeyboardModifiers modifiers = Qt::NoModifier) {
    move_to(true);
    keys_ += 1 + modifiers.testFlag(Qt::ControlModifier) + modifiers.testFlag(Qt::ShiftModifier) +
             modifiers.testFlag(Qt::AltModifier);
    window_.key(key, modifiers);
  }
  void enter() { press(Qt::Key_Return); }
  // Capitals and what stands above the digits cost the Shift key too.
  void type(const QString& text) {
    move_to(true);
    for (const QChar c : text) {
      keys_ += 1 + (c.isUpper() || QStringLiteral("\"()*").contains(c));
      window_.keys(c);  // the first may open an editor that gets the next
    }
    QApplication::processEvents();
  }
  void click(QWidget* target) {
    move_to(false);
    ++clicks_;
    INFO(target->objectName().toStdString());
    REQUIRE_FALSE(target->visibleRegion().isEmpty());
    window_.click(target);
  }
  double seconds() const { return keys_ * 0.28 + clicks_ * 1.38 + moves_ * 0.4 + thoughts_ * 1.35; }
  // One line for bench/tasks; the limit is the issue of the day, not of the machine: nothing is timed.
  void done(const char* task, double limit) const {
    std::printf("%-62s %5.1f s (at most %2.0f): %3d keys, %d clicks, %d moves of a hand, %d thoughts\n", task,
                seconds(), limit, keys_, clicks_, moves_, thoughts_);
    std::fflush(stdout);
    CHECK(seconds() <= limit);
  }

 private:
  void move_to(bool keyboard) {
    moves_ += keyboard != at_keyboard_;
    at_keyboard_ = keyboard;
  }
  test::Window& window_;
  bool at_keyboard_ = false;
  int keys_ = 0, clicks_ = 0, moves_ = 0, thoughts_ = 0;
};

// The demo with so many copies of one of its cutters, as a shop that holds a size in several makes.
ShopState with_copies(int number, int count, const std::function<void(Cutter&)>& change) {
  ShopState state = the_demo();
  const Cutter pattern = *state.cutter_numbered(state.libraries[0].id, number);
  for (int i = 0; i < count; ++i) {
    Cutter copy = pattern;
    copy.id = new_id();
    copy.number = 800 + i;
    change(copy);
    copy.name = suggested_name(copy);
    state.cutters.put(copy);
  }
  return state;
}

}  // namespace

TEST_CASE("an end mill from its data sheet, its conditions kept for its series", "[tasks]") {
  test::Window w;
  Hands hands(w);
  hands.think();
  hands.press(Qt::Key_N, Qt::ControlModifier);
  hands.type("end");
  hands.enter();
  hands.think();
  for (const char* text : {"12", "4", "26", "83", "12", "36", "", "", "Osprey", "Dart", "OD-1204"}) {
    hands.type(text);
    hands.enter();
  }
  const Cutter cutter = w.cutter();
  CHECK(*cutter.diameter_mm == 12);
  CHECK(cutter.flutes == 4);
  CHECK(*cutter.overall_length_mm == 83);
  CHECK(*cutter.reach_mm == 36);
  CHECK(cutter.maker == "Osprey");
  CHECK(cutter.order_code == "OD-1204");
  hands.think();
  hands.press(Qt::Key_T, Qt::ControlModifier | Qt::ShiftModifier);
  hands.think();
  hands.type("3180");
  hands.press(Qt::Key_Tab);
  hands.press(Qt::Key_Tab);
  hands.type("640");
  hands.press(Qt::Key_Tab);
  hands.type("12");
  hands.press(Qt::Key_Tab);
  hands.type("3.6");
  hands.enter();
  const ConditionTable* series = w.state().tables.named("Osprey Dart");
  REQUIRE(series);
  REQUIRE(series->rows.size() == 1);
  const ConditionRow& row = series->rows[0];
  CHECK(series->level == TableLevel::maker);
  CHECK(*row.vc_m_min == Approx(3.14159265 * 12 * 3.180).epsilon(1e-4));  // formula 1
  CHECK(*row.feed_mm == Approx(640.0 / 3180 / 4).epsilon(1e-4));
  CHECK(*row.ap_mm == 12);
  CHECK(*row.ae_mm == 3.6);
  hands.done("end mill from its data sheet, conditions for its series", 40);
}

TEST_CASE("a holder of two sections and a cutter in it with its conditions", "[tasks]") {
  test::Window w;
  Hands hands(w);
  hands.think();
  hands.press(Qt::Key_K, Qt::ControlModifier);
  hands.type("new hol");
  hands.enter();
  w.wait_until([] { return QApplication::activePopupWidget() != nullptr; });
  hands.enter();  // the empty one
  hands.think();
  hands.type("32");
  hands.enter();
  hands.type("40");
  hands.enter();
  hands.type("32");
  hands.press(Qt::Key_Return, Qt::ControlModifier);
  hands.type("40");
  hands.enter();
  hands.type("50");
  hands.press(Qt::Key_Return, Qt::ControlModifier);
  hands.type("65");
  hands.enter();
  hands.type("50");
  hands.enter();
  hands.type("ER20 long");
  hands.enter();
  const Holder holder = *w.state().holders.find(w.window->holders_page().selected());
  CHECK(holder.name == "ER20 long");
  CHECK(holder.stations == std::vector<Station>{{0, 32}, {40, 32}, {40, 50}, {65, 50}});
  hands.think();
  hands.press(Qt::Key_N, Qt::ControlModifier);
  hands.type("end");
  hands.enter();
  hands.type("12");
  hands.press(Qt::Key_Return, Qt::ControlModifier);
  hands.think();
  hands.press(Qt::Key_H, Qt::ControlModifier | Qt::ShiftModifier);
  hands.type("er20 l");
  hands.enter();
  CHECK(w.state().assembly_of(w.cutter().id)->holder == holder.id);
  hands.think();
  hands.press(Qt::Key_T, Qt::ControlModifier | Qt::ShiftModifier);
  hands.type("3180");
  hands.press(Qt::Key_Tab);
  hands.press(Qt::Key_Tab);
  hands.type("640");
  hands.press(Qt::Key_Tab);
  hands.type("12");
  hands.enter();
  hands.think();
  hands.click(w.find<QLineEdit>("field_plunge_factor"));
  hands.type("0.5");
  hands.enter();
  hands.click(w.find<QWidget>("field_coolant"));
  hands.type("dry");
  hands.enter();
  const int at = w.window->tables_page().grid().currentIndex().row();
  const auto* rows = static_cast<const RowModel*>(w.window->tables_page().grid().model());
  const ConditionRow* row = rows->row_at(at);
  REQUIRE(row);
  CHECK(*row->vc_m_min == Approx(3.14159265 * 12 * 3.180).epsilon(1e-4));
  CHECK(*row->ap_mm == 12);
  CHECK(*row->plunge_factor == 0.5);
  CHECK(row->coolant == Coolant::off);
  hands.done("holder of two sections, a cutter in it with its conditions", 42);
}

TEST_CASE("speed and feed per tooth of all 1-inch end mills", "[tasks]") {
  test::Window w(with_copies(219, 4, [](Cutter& c) {
    c.diameter_mm = 25.4;
    c.shank_diameter_mm = 25.4;
    c.flute_length_mm = 50.8;
    c.overall_length_mm = 114.3;
    c.reach_mm = 60;
    c.unit = UnitSystem::inch;
  }));
  w.key(Qt::Key_U, Qt::ControlModifier);  // somebody who works in inches
  Hands hands(w);
  hands.think();
  hands.press(Qt::Key_F, Qt::ControlModifier);
  hands.type("1\" end");
  hands.enter();
  hands.think();
  hands.press(Qt::Key_B, Qt::ControlModifier);
  for (int i = 0; i < 4; ++i) hands.press(Qt::Key_Tab);
  hands.type("100");
  hands.press(Qt::Key_Tab);
  hands.press(Qt::Key_Tab);
  hands.type(".01");
  hands.think();
  hands.press(Qt::Key_K, Qt::ControlModifier | Qt::ShiftModifier);
  hands.think();
  hands.click(w.find<QPushButton>("recipe_put_on"));
  hands.enter();  // all of this kind, size and tool material
  int set = 0, inch_wide = 0;
  for (const Cutter& c : w.state().cutters) {
    if (c.kind != CutterKind::end_mill || c.diameter_mm != 25.4 || c.tool_material != w.cutter().tool_material)
      continue;
    ++inch_wide;
    for (const std::size_t i : w.state().recipes.of_cutter(c.id))
      set += std::abs(w.state().recipes[i].vc_m_min.value_or(0) - 30.48) < 0.01 &&
             std::abs(w.state().recipes[i].feed_mm.value_or(0) - 0.254) < 1e-6;
  }
  CHECK(inch_wide >= 4);
  CHECK(set == inch_wide);
  hands.done("100 ft/min and 0.010\" a tooth on all 1\" end mills", 21);
}

TEST_CASE("three recipes of a new cutter with what each removes", "[tasks]") {
  test::Window w;
  Hands hands(w);
  hands.think();
  hands.press(Qt::Key_N, Qt::ControlModifier);
  hands.type("end");
  hands.enter();
  hands.type("12");
  hands.press(Qt::Key_Return, Qt::ControlModifier);
  const Id cutter = w.cutter().id;
  const std::pair<const char*, const char*> cuts[] = {{"12", "3.6"}, {"6", "6"}, {"20", "1.2"}};
  for (const auto& [ap, ae] : cuts) {
    hands.think();
    hands.press(Qt::Key_B, Qt::ControlModifier);
    hands.type(ap);
    hands.press(Qt::Key_Tab);
    hands.press(Qt::Key_Tab);
    hands.type(ae);
    hands.think();
    hands.press(Qt::Key_K, Qt::ControlModifier | Qt::ShiftModifier);
  }
  const auto places = w.state().recipes.of_cutter(cutter);
  REQUIRE(places.size() == 3);
  for (std::size_t i = 0; i < 3; ++i) {
    const Recipe& recipe = w.state().recipes[places[i]];
    CHECK(*recipe.ap_mm == QString(cuts[i].first).toDouble());
    CHECK(*recipe.ae_mm == QString(cuts[i].second).toDouble());
    REQUIRE(recipe.removal_cm3_min);
    const auto e = w.workspace().evaluation_of(*w.state().cutters.find(cutter));
    CHECK(*recipe.removal_cm3_min > 0);
    CHECK(text_of(recipe.name).contains(QStringLiteral("cm³/min")));
  }
  hands.done("three recipes of a new cutter with their removal rates", 42);
}

TEST_CASE("five cutters get another tool material, three are deleted", "[tasks]") {
  test::Window w(with_copies(219, 8, [](Cutter& c) { c.series = "Shrike"; }));
  Hands hands(w);
  hands.think();
  hands.press(Qt::Key_F, Qt::ControlModifier);
  hands.type("shrike");
  hands.enter();
  QTableView& table = w.window->cutters_page().table();
  REQUIRE(table.model()->rowCount() == 8);
  for (int i = 0; i < 4; ++i) hands.press(Qt::Key_Down, Qt::ShiftModifier);
  hands.think();
  hands.press(Qt::Key_R, Qt::ControlModifier);
  hands.think();
  hands.press(Qt::Key_Tab, Qt::ShiftModifier);
  hands.press(Qt::Key_Space);
  hands.type("tool m");
  hands.enter();
  hands.type("powder");
  hands.enter();
  hands.think();
  hands.enter();
  const auto count = [&](ToolMaterial m) {
    return std::count_if(w.state().cutters.begin(), w.state().cutters.end(),
                         [&](const Cutter& c) { return c.series == "Shrike" && c.tool_material == m; });
  };
  CHECK(count(ToolMaterial::hss_pm) == 5);
  hands.think();
  hands.press(Qt::Key_Down);
  for (int i = 0; i < 2; ++i) hands.press(Qt::Key_Down, Qt::ShiftModifier);
  hands.press(Qt::Key_Delete);
  CHECK(count(ToolMaterial::hss_pm) == 5);
  CHECK(count(ToolMaterial::carbide) == 0);
  hands.done("five cutters' tool material changed, three deleted", 30);
}
