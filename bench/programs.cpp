// Programs of a million blocks: written against fprintf of the same text, read against a plain split into words, opened
// and scrolled; playback of a hundred thousand moves; a setup sheet of twenty cutters.
#include <fmt/format.h>
#include <QApplication>
#include <QElapsedTimer>
#include <QFile>
#include <QPixmap>
#include <QProcess>
#include <QScrollBar>
#include <QTemporaryDir>
#include <algorithm>
#include <cmath>
#include <cstdio>
#include <functional>
#include <random>

#include "app/jobs/path_view.h"
#include "app/jobs/playback.h"
#include "app/jobs/program_view.h"
#include "core/iso/program_text.h"
#include "core/retune/retune.h"
#include "formats/paper/paper.h"
#include "shop/demo.h"
#include "shop/planning.h"
#include "shop/setup_sheet.h"
#include "store/write_file.h"

using namespace pecorra;

namespace {

double seconds_of(const std::function<void()>& work) {
  QElapsedTimer clock;
  clock.start();
  work();
  return static_cast<double>(clock.nsecsElapsed()) / 1e9;
}
double best_of(int times, const std::function<void()>& work) {
  double best = 1e9;
  for (int i = 0; i < times; ++i) best = std::min(best, seconds_of(work));
  return best;
}

// A surface's worth of short cuts, with an arc here and there.
Toolpath long_path(std::size_t moves) {
  std::mt19937 random(3);
  Toolpath path;
  path.safe_z = 15;
  path.moves.push_back({.z = 15});
  double x = 0, y = 0;
  for (std::size_t i = 1; i < moves; ++i) {
    Move m;
    m.kind = MoveKind::cut;
    m.feed_mm_min = i % 50 == 0 ? 400 : 1200;
    const double from_x = x, from_y = y;
    x += 0.1 + 0.001 * static_cast<double>(random() % 500);
    if (x > 200) x = 0, y += 0.5;
    m.x = x, m.y = y, m.z = -0.001 * static_cast<double>(random() % 5000);
    if (i % 10 == 0 && m.x > from_x) {
      m.shape = MoveShape::counter_clockwise;
      m.z = path.moves.back().z;
      m.centre_x = (from_x + m.x) / 2, m.centre_y = (from_y + m.y) / 2;
    }
    path.moves.push_back(m);
  }
  return path;
}

void text() {
  const ShopState state = demo_state();
  const Job job = *state.job(state.jobs.named("Roller end cap")->id);
  const Operation& o = job.operations[1];
  const Toolpath path = long_path(1'000'000);
  std::shared_ptr<const WrittenProgram> written;
  ProgramOperation entry{&o, &path};
  entry.tool.t = 1;
  const double ours = best_of(3, [&] {
    written = std::make_shared<const WrittenProgram>(
        write_program({"Long", "C45", "Fettler 6"}, {entry}, shipped_dialects().front()));
  });
  // The same words by fprintf, block by block.
  struct Word {
    char letter;
    double value;
    int decimals;
  };
  std::vector<std::vector<Word>> blocks;
  {
    const ProgramText program = ProgramText::read(written->text);
    for (std::size_t b = 0; b < program.size(); ++b) {
      std::vector<Word> words;
      for (const ProgramPiece& piece : program.pieces(b)) {
        if (piece.kind != PieceKind::word) continue;
        const std::string_view word = program.text(piece);
        const std::size_t point = word.find('.');
        words.push_back({piece.letter, program.number(piece).value_or(0),
                         point == std::string_view::npos ? 0 : static_cast<int>(word.size() - point - 1)});
      }
      blocks.push_back(std::move(words));
    }
  }
  const double plain = best_of(3, [&] {
    char* buffer = nullptr;
    std::size_t size = 0;
    std::FILE* file = open_memstream(&buffer, &size);
    for (const auto& words : blocks) {
      for (const Word& w : words) std::fprintf(file, "%c%.*f ", w.letter, w.decimals, w.value);
      std::fputc('\n', file);
    }
    std::fclose(file);
    std::free(buffer);
  });
  fmt::print("{} blocks written: {:.2f} s; fprintf of the same {:.2f} s; ratio {:.2f} (at most 3)\n",
             written->blocks.size(), ours, plain, ours / plain);

  std::size_t words = 0;
  const double read = best_of(3, [&] {
    const ProgramText program = ProgramText::read(written->text);
    words = 0;
    for (std::size_t b = 0; b < program.size(); ++b) words += program.pieces(b).size();
  });
  std::size_t parts = 0;
  const double split = best_of(3, [&] {
    std::vector<std::string_view> list;
    const std::string copy = written->text;
    std::string_view rest = copy;
    while (!rest.empty()) {
      const std::size_t end = std::min(rest.find_first_of(" \n"), rest.size());
      if (end > 0) list.push_back(rest.substr(0, end));
      rest.remove_prefix(std::min(end + 1, rest.size()));
    }
    parts = list.size();
  });
  fmt::print("read into {} words: {:.2f} s; plain split into {} {:.2f} s; ratio {:.2f} (at most 3)\n", words, read,
             parts, split, read / split);

  ProgramView view;
  view.resize(420, 500);
  view.show();
  const double opened = seconds_of([&] {
    view.show_program(written);
    view.grab();
  });
  double scroll = 0;
  for (int i = 0; i < 60; ++i)
    scroll = std::max(scroll, seconds_of([&] {
                        view.verticalScrollBar()->setValue(i * 16000);
                        view.grab();
                      }));
  const double found = seconds_of([&] { view.find("no such word", false); });
  fmt::print(
      "view opened {:.1f} ms (at most 100), a scroll step {:.1f} ms at most (a frame is 16.7), all of it searched "
      "{:.0f} ms\n",
      opened * 1e3, scroll * 1e3, found * 1e3);
}

void playback() {
  const ShopState state = demo_state();
  Job job = *state.job(state.jobs.named("Roller end cap")->id);
  job.operations.resize(2);
  PlanRequest request = plan_request(state, job);
  JobPlan plan = plan_job(request);
  auto planned = std::make_shared<PlannedOperation>(*plan.operations[1]);
  planned->path = long_path(100'000);
  const double timed = seconds_of([&] {
    plan.paths[1] = {planned, request.dynamics,
                     std::make_shared<const std::vector<double>>(path_times(planned->path, request.dynamics))};
  });
  plan.operations[1] = planned;
  const auto shown = std::make_shared<const Job>(job);
  const auto played = std::make_shared<const Playback>(shown, plan);
  PathView view;
  view.resize(620, 480);
  view.show_job(shown, plan.operations, {{1}, 1, {}, 0}, UnitSystem::metric);
  view.show();
  CutterShown cutter;
  cutter.diameter_mm = 20;
  cutter.cutter = {{0, 0}, {10, 0}, {10, 60}};
  cutter.holder = {{25, 60}, {25, 90}};
  StockRun stock(played);
  view.grab();
  std::vector<double> frames, pictures;
  for (int i = 0; i < 200; ++i) {
    const PlayPosition at = played->at(played->seconds() * i / 200);
    StockRun::Picture picture;
    pictures.push_back(seconds_of([&] { picture = stock.at(at.operation, at.move, colours()); }));
    frames.push_back(seconds_of([&] {
      cutter.at = at.at;
      view.show_cutter(cutter);
      view.show_stock(picture.image, picture.plan);
      view.grab();
    }));
    QApplication::processEvents();
  }
  std::sort(frames.begin(), frames.end());
  std::sort(pictures.begin(), pictures.end());
  fmt::print(
      "playback of 100,000 moves: a frame {:.1f} ms at the median, {:.1f} at the 99th percentile (a frame is 16.7); "
      "stock "
      "aside {:.1f} and {:.1f} ms; times of the path {:.1f} ms\n",
      frames[100] * 1e3, frames[198] * 1e3, pictures[100] * 1e3, pictures[198] * 1e3, timed * 1e3);
}

void sheet() {
  const ShopState state = demo_state();
  const Job job = *state.job(state.jobs.named("Roller end cap")->id);
  const PlanRequest request = plan_request(state, job);
  const JobPlan plan = plan_job(request);
  SetupSheet sheet = setup_sheet_of(state, request, plan, UnitSystem::metric);
  while (sheet.setups[0].cutters.size() < 20)
    sheet.setups[0].cutters.push_back(sheet.setups[0].cutters[sheet.setups[0].cutters.size() % 5]);
  const double pdf = seconds_of([&] {
    if (!setup_sheet_pdf(sheet, PaperOrientation::landscape)) std::abort();
  });
  const double html = seconds_of([&] { setup_sheet_html(sheet, PaperOrientation::landscape); });
  fmt::print("setup sheet of 20 cutters: PDF {:.2f} s with its module, HTML {:.3f} s (at most 1)\n", pdf, html);
}

// A program made elsewhere retuned, from file to file, against sed putting another F in each of its lines.
void retuned() {
  QTemporaryDir folder;
  const QString in = folder.filePath(QStringLiteral("in.nc")), out = folder.filePath(QStringLiteral("out.nc"));
  std::mt19937 random(1);
  std::string program = "%\nO1\nG21 G90\nT5 M6\nS2500 M3\n";
  for (int i = 0; i < 1000000; ++i)
    program += fmt::format("G1 X{:.3f} Y{:.3f} F{}\n", random() % 100000 / 1000.0, random() % 100000 / 1000.0,
                           random() % 4 ? 600 : 200);
  program += "M30\n";
  write_file(in, QByteArray::fromStdString(program));
  const double sed = best_of(3, [&] {
    QProcess process;
    process.setStandardOutputFile(folder.filePath(QStringLiteral("sed.nc")));
    process.setProcessEnvironment([] {
      QProcessEnvironment e = QProcessEnvironment::systemEnvironment();
      e.insert(QStringLiteral("LC_ALL"), QStringLiteral("C"));
      return e;
    }());
    process.start(QStringLiteral("sed"), {QStringLiteral("s/F[0-9.]*/F100/"), in});
    process.waitForFinished(-1);
  });
  NewConditions c;
  c.n_rpm = 3000, c.vf_mm_min = 700, c.plunge_mm_min = 200;
  const double ours = best_of(3, [&] {
    QFile file(in);
    if (!file.open(QIODevice::ReadOnly)) std::abort();
    const ProgramText text = ProgramText::read(file.readAll().toStdString());
    const ProgramReading reading = read_program(text, {30000});
    const Retuned done = retune(text, reading, std::vector<NewConditions>(reading.sections.size(), c), {30000});
    write_file(out, QByteArray::fromRawData(done.text.data(), static_cast<qsizetype>(done.text.size())));
  });
  fmt::print("1,000,000 lines retuned from file to file: {:.2f} s; sed {:.2f} s; ratio {:.2f} (at most 3)\n", ours, sed,
             ours / sed);
}

}  // namespace

int main(int argc, char** argv) {
  QApplication app(argc, argv);
  Look::get();
  text();
  retuned();
  playback();
  sheet();
  return 0;
}
