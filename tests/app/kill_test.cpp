// The application is killed 200 times at random moments while a script edits the shop in its real window: no change
// that was accepted is lost, and the file always opens. With --child FILE this program is that application.
#include <sys/wait.h>
#include <unistd.h>
#include <QApplication>
#include <QStandardPaths>
#include <QTemporaryDir>
#include <QTimer>
#include <csignal>
#include <cstdio>
#include <cstdlib>
#include <random>
#include <string>

#include "app/look/look.h"
#include "app/window/main_window.h"
#include "shop/demo.h"

using namespace pecorra;

namespace {

// Renames cutters in turn; tells each number on standard output as soon as its change is accepted.
int edit_for_ever(int argc, char** argv, const char* file) {
  QApplication application(argc, argv);
  QStandardPaths::setTestModeEnabled(true);
  Look::get().dress(application);
  auto shop = Shop::open(QString::fromLocal8Bit(file));
  if (!shop) {
    std::fprintf(stderr, "%s\n", qPrintable(shop.error().sentence()));
    return 3;
  }
  int number = 0;
  for (const Cutter& c : (*shop)->state().cutters) number = std::max(number, std::atoi(c.notes.c_str()));
  MainWindow window(std::move(*shop));
  window.show();
  const int before = number;
  quint64 first_ticket = 0;
  QObject::connect(&window.shop(), &Shop::accepted, [&](quint64 ticket) {
    if (first_ticket == 0) first_ticket = ticket;
    const std::string line = std::to_string(before + static_cast<int>(ticket - first_ticket) + 1) + "\n";
    if (::write(STDOUT_FILENO, line.data(), line.size()) < 0) std::_Exit(4);
  });
  QTimer script;
  QObject::connect(&script, &QTimer::timeout, [&] {
    const auto& cutters = window.shop().state().cutters;
    const Cutter& c = cutters[static_cast<std::size_t>(++number) % cutters.size()];
    Cutter after = c;
    after.notes = std::to_string(number);
    Change change;
    change.label = QStringLiteral("Notes %1").arg(number);
    change.edit(c, after);
    window.shop().apply(std::move(change));
  });
  script.start(0);
  return application.exec();
}

struct Killed {
  int accepted = 0;
  int code = 0;
};

Killed run_and_kill(const char* self, const QByteArray& file, int after_ms) {
  int ends[2];
  if (::pipe(ends) != 0) return {0, 5};
  const pid_t child = ::fork();
  if (child == 0) {
    ::dup2(ends[1], STDOUT_FILENO);
    ::close(ends[0]);
    ::setenv("QT_QPA_PLATFORM", "offscreen", 1);
    ::execl(self, self, "--child", file.constData(), nullptr);
    std::_Exit(6);
  }
  ::close(ends[1]);
  std::string told;
  char buffer[4096];
  // The clock starts when the first change is accepted.
  ssize_t n = ::read(ends[0], buffer, sizeof buffer);
  if (n > 0) told.append(buffer, static_cast<std::size_t>(n));
  ::usleep(static_cast<useconds_t>(after_ms) * 1000);
  ::kill(child, SIGKILL);
  while ((n = ::read(ends[0], buffer, sizeof buffer)) > 0) told.append(buffer, static_cast<std::size_t>(n));
  ::close(ends[0]);
  int status = 0;
  ::waitpid(child, &status, 0);
  Killed out;
  const std::size_t last = told.rfind('\n');
  if (last != std::string::npos) {
    const std::size_t line = last == 0 ? std::string::npos : told.rfind('\n', last - 1);
    out.accepted = std::atoi(told.c_str() + (line == std::string::npos ? 0 : line + 1));
  }
  out.code = WIFSIGNALED(status) ? 0 : 7;
  return out;
}

}  // namespace

int main(int argc, char** argv) {
  if (argc == 3 && std::string(argv[1]) == "--child") return edit_for_ever(argc, argv, argv[2]);
  const int times = argc > 1 ? std::atoi(argv[1]) : 200;
  QCoreApplication application(argc, argv);
  QTemporaryDir dir;
  const QString file = dir.filePath("shop.pecorra");
  if (!write_shop(demo_state(), file, QStringLiteral("made"))) return 2;
  std::mt19937 random(static_cast<unsigned>(::getpid()));
  int lost = 0, not_opened = 0, accepted = 0, wrong = 0;
  for (int k = 0; k < times; ++k) {
    const Killed killed = run_and_kill("/proc/self/exe", file.toLocal8Bit(), static_cast<int>(random() % 60));
    wrong += killed.code != 0;
    const auto loaded = load_shop(file);
    if (!loaded) {
      ++not_opened;
      std::printf("%s\n", qPrintable(loaded.error().sentence()));
      break;
    }
    int highest = 0;
    for (const Cutter& c : loaded->state.cutters) highest = std::max(highest, std::atoi(c.notes.c_str()));
    lost += highest < killed.accepted;
    accepted = std::max(accepted, killed.accepted);
  }
  std::printf("killed %d times among %d accepted changes: %d lost, %d times not opened\n", times, accepted, lost,
              not_opened);
  return lost == 0 && not_opened == 0 && wrong == 0 && accepted >= times ? 0 : 1;
}
