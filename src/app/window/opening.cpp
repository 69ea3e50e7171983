#include "app/window/opening.h"

#include <QDir>
#include <QFileInfo>
#include <QFutureWatcher>
#include <QStandardPaths>
#include <QtConcurrent/QtConcurrentRun>

#include "shop/demo.h"

namespace pecorra {
namespace {

// Runs `work` on another thread and hands its result to `done` on the owner's.
template <class Work, class Done>
void run_aside(QObject* owner, Work work, Done done) {
  using Result = decltype(work());
  auto* watcher = new QFutureWatcher<Result>(owner);
  QObject::connect(watcher, &QFutureWatcher<Result>::finished, owner, [watcher, done = std::move(done)] {
    watcher->deleteLater();
    done(watcher->result());
  });
  watcher->setFuture(QtConcurrent::run(std::move(work)));
}

}  // namespace

QString demo_file() { return QStandardPaths::writableLocation(QStandardPaths::AppLocalDataLocation) + QStringLiteral("/Teasel Yard.pecorra"); }

void open_shop(const QString& file, QObject* owner, std::function<void(tl::expected<std::unique_ptr<Shop>, StoreFault>)> done) {
  using Loaded = std::shared_ptr<tl::expected<LoadedShop, StoreFault>>;
  run_aside(
      owner,
      [file]() -> Loaded {
        if (file == demo_file() && !QFileInfo::exists(file)) {
          QDir().mkpath(QFileInfo(file).absolutePath());
          if (const auto made = write_shop(demo_state(), file, QStringLiteral("Demo shop made")); !made) return std::make_shared<tl::expected<LoadedShop, StoreFault>>(tl::unexpected(made.error()));
        }
        return std::make_shared<tl::expected<LoadedShop, StoreFault>>(load_shop(file));
      },
      [file, done = std::move(done)](const Loaded& loaded) {
        if (!*loaded) return done(tl::unexpected(loaded->error()));
        done(Shop::start(file, std::move(**loaded)));
      });
}

void write_in_background(ShopState state, const QString& file, QObject* owner, std::function<void(const QString& fault)> done) {
  run_aside(
      owner,
      [state = std::move(state), file] {
        const auto made = write_shop(state, file, QStringLiteral("Shop made"));
        return made ? QString() : made.error().sentence();
      },
      std::move(done));
}

}  // namespace pecorra
