#include "app/window/opening.h"

#include <QDir>
#include <QFileInfo>
#include <QStandardPaths>

#include "shop/demo.h"

namespace pecorra {
namespace {

tl::expected<LoadedShop, StoreFault> load(const QString& file) {
  if (file == demo_file() && !QFileInfo::exists(file)) {
    QDir().mkpath(QFileInfo(file).absolutePath());
    if (const auto made = write_shop(demo_state(), file, QStringLiteral("Demo shop made")); !made)
      return tl::unexpected(made.error());
  }
  return load_shop(file);
}

}  // namespace

QString demo_file() {
  return QStandardPaths::writableLocation(QStandardPaths::AppLocalDataLocation) +
         QStringLiteral("/Teasel Yard.pecorra");
}

TaskPointer open_shop(Tasks& tasks, const QString& file, QObject* owner, std::function<void(OpenedShop)> done) {
  return tasks.run(
      owner, QObject::tr("Opening %1").arg(QFileInfo(file).fileName()), [file](Task&) { return load(file); },
      [file, done = std::move(done)](tl::expected<LoadedShop, StoreFault> loaded) {
        if (!loaded) return done(tl::unexpected(loaded.error()));
        done(Shop::start(file, std::move(*loaded)));
      });
}

void write_in_background(Tasks& tasks, ShopState state, const QString& file, const QString& label, QObject* owner,
                         std::function<void(const QString& fault)> done) {
  tasks.run(
      owner, QObject::tr("Making %1").arg(QFileInfo(file).fileName()),
      [state = std::move(state), file, label](Task&) {
        const auto made = write_shop(state, file, label);
        return made ? QString() : made.error().sentence();
      },
      std::move(done));
}

}  // namespace pecorra
