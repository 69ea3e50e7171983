#include "app/window/opening.h"

#include <QDir>
#include <QFileInfo>
#include <QStandardPaths>

#include "app/aside.h"
#include "shop/demo.h"

namespace pecorra {

QString demo_file() {
  return QStandardPaths::writableLocation(QStandardPaths::AppLocalDataLocation) +
         QStringLiteral("/Teasel Yard.pecorra");
}

using Loaded = std::shared_ptr<tl::expected<LoadedShop, StoreFault>>;

QFuture<Loaded> load_aside(const QString& file) {
  return QtConcurrent::run([file]() -> Loaded {
    if (file == demo_file() && !QFileInfo::exists(file)) {
      QDir().mkpath(QFileInfo(file).absolutePath());
      if (const auto made = write_shop(demo_state(), file, QStringLiteral("Demo shop made")); !made)
        return std::make_shared<tl::expected<LoadedShop, StoreFault>>(tl::unexpected(made.error()));
    }
    return std::make_shared<tl::expected<LoadedShop, StoreFault>>(load_shop(file));
  });
}

void open_shop(QFuture<Loaded> loading, const QString& file, QObject* owner,
               std::function<void(tl::expected<std::unique_ptr<Shop>, StoreFault>)> done) {
  when_done(loading, owner, [file, done = std::move(done)](const Loaded& loaded) {
    if (!*loaded) return done(tl::unexpected(loaded->error()));
    done(Shop::start(file, std::move(**loaded)));
  });
}

void open_shop(const QString& file, QObject* owner,
               std::function<void(tl::expected<std::unique_ptr<Shop>, StoreFault>)> done) {
  open_shop(load_aside(file), file, owner, std::move(done));
}

void write_in_background(ShopState state, const QString& file, QObject* owner,
                         std::function<void(const QString& fault)> done) {
  aside(
      owner,
      [state = std::move(state), file] {
        const auto made = write_shop(state, file, QStringLiteral("Shop made"));
        return made ? QString() : made.error().sentence();
      },
      std::move(done));
}

}  // namespace pecorra
