// Shops as nobody should send them, in the window: every page is walked and painted, and what is wrong is said.
#include <QFile>
#include <QPushButton>
#include <limits>

#include "demo_copy.h"
#include "shop/job_objects.h"
#include "window_fixture.h"

using namespace pecorra;

namespace {

// These pages, with their first entries in front one after the other.
void walk(test::Window& w, std::initializer_list<MainWindow::Page> pages) {
  for (const auto page : pages) {
    w.window->show_page(page);
    for (int i = 0; i < 3; ++i) {
      w.key(Qt::Key_Down);
      w.window->grab();
    }
  }
}

template <class T>
void change_all(Collection<T>& all, const std::function<void(T&)>& change) {
  for (const T& one : std::vector<T>(all.begin(), all.end())) {
    T after = one;
    change(after);
    all.put(std::move(after));
  }
}

}  // namespace

TEST_CASE("holders whose outline begins far up, or says nonsense, are drawn as far as they can be") {
  for (const std::vector<Station>& stations :
       {std::vector<Station>{{50, 40}, {60, 50}}, std::vector<Station>{}, std::vector<Station>{{0, 0}},
        std::vector<Station>{{0, 1e300}, {1e300, 1}}, std::vector<Station>{{-5, 10}, {5, 10}}}) {
    ShopState state = the_demo();
    change_all<Holder>(state.holders, [&](Holder& h) { h.stations = stations; });
    change_all<Assembly>(state.assemblies, [](Assembly& a) { a.stickout_mm = 20; });
    test::Window w(state);
    walk(w, {MainWindow::cutters, MainWindow::holders});
    CHECK(w.window->isVisible());
  }
}

TEST_CASE("jobs with values that nobody can type are in error, and their programs have none of them") {
  const auto lines = [](Job& j, const std::vector<Vertex>& vertices) {
    if (!j.part) {
      for (Feature& f : j.features) {
        f.at.clear();
        for (const Vertex& v : vertices) f.at.push_back({v.x, v.y});
      }
      return;
    }
    Part part = *j.part;
    for (DrawnLine& line : part.drawing.lines) line.contour = {true, vertices}, line.diameter_mm = 0;
    j.part = std::make_shared<const Part>(part);
    for (Operation& o : j.operations)
      for (FeatureUse& use : o.features) use = use_of(j, use.key);
  };
  const std::vector<std::function<void(Job&)>> wrongs = {[](Job& j) { j.setups[0].clearance_mm = -500; },
                                                         [](Job& j) { j.operations[0].taken.n_rpm = -5; },
                                                         [](Job& j) { j.operations[0].taken.ap_mm = 1e-5; },
                                                         [](Job& j) { j.operations[0].taken.ap_mm = 0; },
                                                         [](Job& j) { j.operations[0].peck_mm = 1e300; },
                                                         [](Job& j) { j.operations[0].depth_mm = 1e300; },
                                                         [&](Job& j) {
                                                           lines(j, {{1, 1, 0}, {1, 1, 0}});
                                                         },
                                                         [&](Job& j) {
                                                           lines(j, {{0, 0, 0}, {1e300, 0, 0}, {0, 1e300, 0}});
                                                         }};
  for (std::size_t i = 0; i < wrongs.size(); ++i) {
    INFO(i);
    ShopState state = the_demo();
    for (Job job : state.whole_jobs()) {
      wrongs[i](job);
      put_job(state, job);
    }
    test::Window w(state);
    walk(w, {MainWindow::jobs});
    w.wait_planned();
    CHECK(w.window->isVisible());
    for (const Job& job : w.state().whole_jobs()) {
      const PlanRequest request = plan_request(w.state(), job);
      const JobPlan plan = plan_job(request);
      const std::string program = program_of(request, plan).text;
      // Two holes at one place are only doubtful.
      if (job.part || i != 6) CHECK(plan.has_faults());
      CHECK(program.find("Z-500") == std::string::npos);
      CHECK(program.find("S-") == std::string::npos);
    }
  }
}

TEST_CASE("when the shop's file is taken away the window says so, keeps all and saves it as a new shop") {
  test::Window w;
  CHECK_FALSE(w.shows("strip_save_as"));
  REQUIRE(QFile::rename(w.file, w.file + ".away"));
  w.wait_until([&] { return w.shows("strip_save_as"); });
  CHECK(w.find<QLabel>("strip_saved")->text().contains("save it as a new shop"));
  // What is done now is kept.
  Cutter after = w.state().cutters[0];
  after.notes = "typed after the file went";
  w.window->shop().edit(w.state().cutters[0], after, "Notes");
  CHECK(w.state().cutters[0].notes == "typed after the file went");
  const QString elsewhere = w.dir.filePath("elsewhere.pecorra");
  w.window->save_as_new_shop(elsewhere);
  w.wait_until([&] { return QFile::exists(elsewhere) && !w.window->isVisible(); });
  const auto saved = load_shop(elsewhere);
  REQUIRE(saved.has_value());
  CHECK(saved->state.cutters[0].notes == "typed after the file went");
  CHECK_FALSE(QFile::exists(w.file));
  for (QWidget* other : QApplication::topLevelWidgets())
    if (other != w.window.get() && qobject_cast<MainWindow*>(other)) other->close();
  QApplication::processEvents();
}
