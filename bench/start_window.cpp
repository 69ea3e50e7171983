// The window on the shop named, until its first picture is on the screen; then it leaves.
#include <QApplication>
#include <QEvent>
#include <QSettings>

#include "app/look/look.h"
#include "app/window/main_window.h"
#include "app/window/opening.h"

namespace {

class FirstPaint : public QObject {
 public:
  using QObject::QObject;
  bool eventFilter(QObject* object, QEvent* event) override {
    if (event->type() == QEvent::Paint && object->inherits("QAbstractItemView") == false && !done_) {
      done_ = true;
      QMetaObject::invokeMethod(
          qApp, [] { qApp->exit(0); }, Qt::QueuedConnection);  // behind the painting
    }
    return false;
  }

 private:
  bool done_ = false;
};

}  // namespace

int main(int argc, char** argv) {
  using namespace pecorra;
  QApplication application(argc, argv);
  QSettings::setDefaultFormat(QSettings::IniFormat);
  QSettings::setPath(QSettings::IniFormat, QSettings::UserScope, QStringLiteral("/nonexistent"));
  const QString file = QString::fromLocal8Bit(argv[1]);
  std::unique_ptr<MainWindow> window;
  FirstPaint first;
  Tasks tasks;
  const TaskPointer loading = open_shop(tasks, file, &application, [&](OpenedShop shop) {  // as main does
    if (!shop) return application.exit(1);
    window = std::make_unique<MainWindow>(std::move(*shop));
    window->centralWidget()->installEventFilter(&first);
    window->appear();
  });
  Look::get().dress(application);
  Look::get().warm_up([&loading] { return loading->is_finished(); });
  const int code = application.exec();
  std::_Exit(code);  // leaving is not measured
}
