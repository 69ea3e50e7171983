// Pecorra: pecorra [FILE] [--shot DIR]
#include <QApplication>
#include <QCommandLineParser>
#include <QDir>
#include <QFileInfo>
#include <QLabel>
#include <QLocale>
#include <QSettings>
#include <QStandardPaths>
#include <QTemporaryDir>
#include <QTimer>
#include <QTranslator>
#include <cstdio>

#include "app/look/look.h"
#include "app/window/main_window.h"
#include "app/window/opening.h"
#include "app/window/shots.h"
#include "shop/demo.h"
#include "shop/shipped.h"

namespace {

bool has_display() {
  return !qEnvironmentVariableIsEmpty("DISPLAY") || !qEnvironmentVariableIsEmpty("WAYLAND_DISPLAY") ||
         !qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM");
}

bool wants(int argc, char** argv, const char* option) {
  for (int i = 1; i < argc; ++i)
    if (qstrncmp(argv[i], option, static_cast<uint>(qstrlen(option))) == 0) return true;
  return false;
}

// Without a display the views are drawn on a screen in memory of the usual size.
void use_memory_screen(const QString& folder) {
  const QString name = folder + QStringLiteral("/screen.json");
  QFile file(name);
  if (file.open(QIODevice::WriteOnly))
    file.write(
        R"({"screens":[{"name":"a","x":0,"y":0,"width":1280,"height":800,"logicalDpi":96,"logicalBaseDpi":96,"dpr":1}]})");
  qputenv("QT_QPA_PLATFORM", "offscreen:configfile=" + name.toUtf8());
}

int draw_shots(const QString& folder, const QTemporaryDir& scratch) {
  using namespace pecorra;
  const QString file = scratch.filePath(QStringLiteral("Teasel Yard.pecorra"));
  if (const auto made = write_shop(demo_state(), file, QStringLiteral("Demo shop made")); !made) {
    std::fprintf(stderr, "%s\n", qPrintable(made.error().sentence()));
    return 1;
  }
  auto shop = Shop::open(file);
  if (!shop) {
    std::fprintf(stderr, "%s\n", qPrintable(shop.error().sentence()));
    return 1;
  }
  MainWindow window(std::move(*shop));
  window.show();
  QString fault;
  for (const QString& name : draw_views(window, folder, fault)) std::printf("%s\n", qPrintable(name));
  if (!fault.isEmpty()) std::fprintf(stderr, "%s\n", qPrintable(fault));
  return fault.isEmpty() ? 0 : 1;
}

}  // namespace

int main(int argc, char** argv) {
  using namespace pecorra;
  const bool shots = wants(argc, argv, "--shot");
  QTemporaryDir scratch;
  if (!has_display()) {
    if (shots) {
      use_memory_screen(scratch.path());
    } else if (!wants(argc, argv, "--help") && !wants(argc, argv, "--version")) {
      std::fprintf(stderr,
                   "There is no display to open a window on. “--shot DIR” draws every main view of the demo shop to "
                   "PNG files in DIR.\n");
      return 1;
    } else {
      qputenv("QT_QPA_PLATFORM", "offscreen");
    }
  }
  QApplication application(argc, argv);
  QApplication::setApplicationName(QStringLiteral("pecorra"));
  QApplication::setApplicationVersion(QStringLiteral(PECORRA_VERSION));
  // A language of the desktop's for which there is a translation.
  QTranslator translator;
  if (translator.load(QLocale(), QStringLiteral("pecorra"), QStringLiteral("_"),
                      shipped_folder(QStringLiteral("translations"))))
    QApplication::installTranslator(&translator);
  QCommandLineParser parser;
  parser.setApplicationDescription(
      QObject::tr("Cutters, feeds and speeds, and toolpaths that take their conditions from them."));
  parser.addHelpOption();
  parser.addVersionOption();
  parser.addPositionalArgument(QStringLiteral("FILE"),
                               QObject::tr("A shop (NAME.pecorra); without it the last one, at first the demo shop."));
  const QCommandLineOption shot(QStringLiteral("shot"),
                                QObject::tr("Draws every main view of the demo shop to PNG files in DIR and leaves."),
                                QStringLiteral("DIR"));
  parser.addOption(shot);
  parser.process(application);
  if (parser.isSet(shot)) {
    // Pictures show the demo as shipped, whatever the user's settings.
    QSettings::setDefaultFormat(QSettings::IniFormat);
    QSettings::setPath(QSettings::IniFormat, QSettings::UserScope, scratch.path());
    Look::get().dress(application);
    return draw_shots(parser.value(shot), scratch);
  }
  const QStringList files = parser.positionalArguments();
  const QString last = QSettings().value(QStringLiteral("last_shop")).toString();
  const bool named = !files.isEmpty();
  const QString file = named ? files.front() : QFileInfo::exists(last) ? last : demo_file();
  Tasks tasks;
  std::function<void(OpenedShop)> arrived;
  const TaskPointer loading =
      open_shop(tasks, file, &application, [&arrived](OpenedShop shop) { arrived(std::move(shop)); });
  Look::get().dress(application);  // while the shop is read
  Look::get().set_night(QSettings().value(QStringLiteral("look/night"), false).toBool());
  Look::get().warm_up([&loading] { return loading->is_finished(); });

  // Shown when the disk is slow; otherwise the window appears at once.
  QLabel waiting(QObject::tr("Opening %1 …").arg(QFileInfo(file).fileName()));
  waiting.setMargin(40);
  QTimer patience;
  patience.setSingleShot(true);
  QObject::connect(&patience, &QTimer::timeout, &waiting, &QWidget::show);
  patience.start(400);
  int code = 0;
  bool opened_one = false;
  const auto refuse = [&](const QString& why) {
    patience.stop();
    std::fprintf(stderr, "%s\n", qPrintable(why));
    waiting.setText(why);
    waiting.setWordWrap(true);
    waiting.setMinimumWidth(420);
    waiting.show();
    code = 1;
  };
  QObject::connect(&tasks, &Tasks::failed, &waiting, refuse);
  arrived = [&](OpenedShop shop) {
    if (!shop && !named && file != demo_file() && !opened_one) {
      // The last shop cannot be opened: opens the demo instead, with the reason in the strip.
      opened_one = true;
      const QString why = shop.error().sentence();
      open_shop(tasks, demo_file(), &application, [&arrived, why](OpenedShop demo) {
        const bool fine = demo.has_value();
        arrived(std::move(demo));
        if (!fine) return;
        for (QWidget* w : QApplication::topLevelWidgets())
          if (auto* window = qobject_cast<MainWindow*>(w)) window->strip().say(why, false, true);
      });
      return;
    }
    if (!shop) return refuse(shop.error().sentence());
    patience.stop();
    auto* window = new MainWindow(std::move(*shop));
    window->setAttribute(Qt::WA_DeleteOnClose);
    window->appear();
    waiting.hide();
    if (named) QSettings().setValue(QStringLiteral("last_shop"), QFileInfo(file).absoluteFilePath());
  };
  const int ended = application.exec();
  return ended != 0 ? ended : code;
}
