// The cutting calculation: closed figures of 100,000 cuts and the forces over one turn against NumPy doing the same in
// the same run, and what the window does for one change on the board of curves. With "count NAME" one piece of work
// runs alone, for counting its instructions.
#include <QApplication>
#include <QElapsedTimer>
#include <QSettings>
#include <QTemporaryDir>
#include <algorithm>
#include <cstdio>
#include <cstring>
#include <functional>
#include <sstream>

#include "app/look/look.h"
#include "app/window/main_window.h"
#include "core/mechanics/curves.h"
#include "core/mechanics/straight_cut.h"
#include "shop/demo.h"

using namespace pecorra;

namespace {

double median(std::vector<double> v) {
  std::nth_element(v.begin(), v.begin() + static_cast<std::ptrdiff_t>(v.size() / 2), v.end());
  return v[v.size() / 2];
}
// The quietest run counts where a ratio is told: what else the machine does takes from both sides alike.
double least(const std::vector<double>& v) { return *std::min_element(v.begin(), v.end()); }
std::vector<double> seconds(int times, const std::function<void()>& work) {
  std::vector<double> out;
  for (int i = 0; i < times; ++i) {
    QElapsedTimer timer;
    timer.start();
    work();
    out.push_back(static_cast<double>(timer.nsecsElapsed()) / 1e9);
  }
  return out;
}

// The cuts of cutting_reference.py.
void fill(StraightCuts& c) {
  const std::size_t count = c.size();
  c.mc = 0.26;
  c.efficiency = 0.85;
  const auto spread = [&](std::size_t i, std::size_t by) {
    return static_cast<double>(i * by % count) / static_cast<double>(count);
  };
  for (std::size_t i = 0; i < count; ++i) {
    c.d_mm[i] = 2 + 38 * spread(i, 7919);
    c.teeth[i] = 2 + static_cast<double>(i % 6);
    c.vc_m_min[i] = 40 + 360 * spread(i, 104729);
    c.fz_mm[i] = 0.01 + 0.29 * spread(i, 1299709);
    c.ap_mm[i] = c.d_mm[i] * (0.1 + 1.4 * spread(i, 15485863));
    c.ae_mm[i] = c.d_mm[i] * (0.02 + 0.98 * spread(i, 32452843));
    c.sin_kappa[i] = 1;
    c.kc11_n_mm2[i] = 400 + 2600 * spread(i, 49979687);
  }
}

struct Sample {
  Cutter cutter = proposed_cutter(CutterKind::end_mill, 12);
  Assembly held;
  WorkMaterial material;
  Machine machine;
  Cut cut;
  Sample() {
    cutter.flutes = 4;
    cutter.helix_deg = 38;
    held.stickout_mm = 42;
    material.kc11_n_mm2 = 2500;
    material.mc = 0.26;
    machine.max_rpm = 12000;
    machine.efficiency = 0.85;
    machine.power_curve = {{1500, 11}, {12000, 11}};
    cut.operation = OperationKind::side_rough;
    cut.n_rpm = 2910;
    cut.fz_mm = 0.055;
    cut.ap_mm = 12;
    cut.ae_mm = 3.6;
    cut.permitted_deflection_mm = 0.12;
  }
};

// All angles of the turn, all teeth, from the edge up.
ForceFigures one_turn(const ForceInput& input) {
  const TurnForces turn = forces_over_turn(input, 360);
  ForceFigures out;
  for (int i = 0; i < 360; ++i) {
    const double across = turn.all(i).across();
    out.mean_n += across / 360;
    out.peak_n = std::max(out.peak_n, across);
  }
  return out;
}

}  // namespace

int main(int argc, char** argv) {
  const Sample s;
  const CutModel model(s.cutter, s.held, s.material, s.machine);
  const CutReport now = model.at(s.cut);
  const ForceInput input = *model.forces_of(s.cut, now.results.fz_mm, now.results.h_m_mm);
  // The same height in 50 slices, as the reference has it.
  ForceInput sliced = input;
  sliced.pieces.clear();
  for (int i = 0; i < 50; ++i) sliced.pieces.push_back({12.0 * i / 50, 12.0 * (i + 1) / 50, 6, 1});
  StraightCuts cuts(100'000);
  fill(cuts);
  // What a chart would keep of each: its power, and how many are over a limit.
  std::vector<double> powers(cuts.size());
  std::size_t over = 0;
  const auto work_all = [&] {
    over = 0;
    straight_figures(cuts, [&](std::size_t first, std::size_t count, const StraightFigures& f) {
      std::copy_n(f.pc_kw.begin(), count, powers.begin() + static_cast<std::ptrdiff_t>(first));
      for (std::size_t i = 0; i < count; ++i)
        over += static_cast<std::size_t>((f.motor_power_kw[i] > 11) | (f.mc_nm[i] > 95) | (f.h_ex_mm[i] < 0.005));
    });
  };
  if (argc == 3 && std::strcmp(argv[1], "count") == 0) {
    const std::string what = argv[2];
    if (what == "closed") work_all(), std::printf("%zu\n", over);
    else if (what == "turn") std::printf("%g\n", one_turn(sliced).peak_n);
    else if (what == "curves") std::printf("%zu\n", curves_of(model, s.cut, model.at(s.cut)).size());
    return 0;
  }

  double closed_reference = 0, turn_reference = 0, closed_check = 0, mean_check = 0, peak_check = 0;
  if (std::FILE* reference = popen(
          "{ python3 -c 'import numpy' 2>/dev/null && python3 " REFERENCE "; } || /usr/bin/python3 " REFERENCE, "r")) {
    char line[256];
    while (std::fgets(line, sizeof line, reference)) {
      std::istringstream words(line);
      std::string what;
      words >> what;
      if (what == "closed") words >> closed_reference >> closed_check;
      if (what == "turn") words >> turn_reference >> mean_check >> peak_check;
    }
    pclose(reference);
  }
  const double closed = least(seconds(100, work_all));
  double power = 0;
  for (const double pc : powers) power += pc;
  ForceFigures turn;
  const double whole = least(seconds(200, [&] { turn = one_turn(input); })),
               in_slices = least(seconds(200, [&] { turn = one_turn(sliced); }));
  std::printf("%-44s %.2f ms, NumPy %.1f ms: %.1f × (at least 5); powers differ by %.1e\n",
              "closed figures of 100,000 cuts", closed * 1e3, closed_reference * 1e3, closed_reference / closed,
              std::abs(power / closed_check - 1));
  std::printf("%-44s %.0f µs in 50 slices, NumPy %.0f µs: %.0f × (at least 10); mean, peak differ by %.1e, %.1e\n",
              "forces over one turn, 360 steps", in_slices * 1e6, turn_reference * 1e6, turn_reference / in_slices,
              std::abs(turn.mean_n / mean_check - 1), std::abs(turn.peak_n / peak_check - 1));
  std::printf("%-44s %.0f µs\n", "the same, a straight edge as one piece", whole * 1e6);
  std::printf("%-44s %.0f µs; limits %.0f µs; closed %.1f µs\n", "one cut with everything, from nothing",
              median(seconds(200, [&] { compute_cut(s.cutter, s.held, s.material, s.machine, s.cut); })) * 1e6,
              median(seconds(200, [&] { model.at(s.cut, Extent::limits); })) * 1e6,
              median(seconds(200, [&] { model.at(s.cut, Extent::closed); })) * 1e6);
  std::printf("%-44s %.2f ms\n", "all six curves of a cut",
              median(seconds(60, [&] { curves_of(model, s.cut, now); })) * 1e3);

  // In the window: one change, everything that follows from it worked out and painted.
  QApplication application(argc, argv);
  QTemporaryDir dir;
  QSettings::setDefaultFormat(QSettings::IniFormat);
  QSettings::setPath(QSettings::IniFormat, QSettings::UserScope, dir.path());
  Look::get().dress(application);
  const QString file = dir.filePath(QStringLiteral("demo.pecorra"));
  if (!write_shop(demo_state(), file, QStringLiteral("Demo"))) return 1;
  auto loaded = load_shop(file);
  if (!loaded) return 1;
  MainWindow window(Shop::start(file, std::move(*loaded)));
  window.resize(1280, 800);
  window.show();
  Workspace& workspace = window.workspace();
  for (const Cutter& c : workspace.state().cutters)
    if (c.number == 219) workspace.select_cutter(c.id);
  window.show_cut_board(true);
  QApplication::processEvents();
  int i = 0;
  const auto change = [&] {
    WhatIf tried;
    tried.ae_mm = 2 + 0.05 * (i++ % 40);
    workspace.try_what_if(tried);
  };
  const double worked = median(seconds(80, change));
  const double painted = median(seconds(80, [&] {
    change();
    QApplication::processEvents();  // layout
    window.grab();
  }));
  std::printf("%-44s %.1f ms worked out and set (under 8); with the whole window laid out and painted %.1f ms\n",
              "a change on the board, bench and all curves", worked * 1e3, painted * 1e3);
  return 0;
}
