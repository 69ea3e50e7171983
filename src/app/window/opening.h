// Opening and making shop files off the interface thread.
#pragma once

#include <QFuture>
#include <QObject>
#include <functional>

#include "shop/shop.h"

namespace pecorra {

// Calls back on the thread of `owner` while it lives.
void open_shop(const QString& file, QObject* owner,
               std::function<void(tl::expected<std::unique_ptr<Shop>, StoreFault>)> done);
// The first half of it, to be begun before there is anything else to do.
QFuture<std::shared_ptr<tl::expected<LoadedShop, StoreFault>>> load_aside(const QString& file);
void open_shop(QFuture<std::shared_ptr<tl::expected<LoadedShop, StoreFault>>> loading, const QString& file,
               QObject* owner, std::function<void(tl::expected<std::unique_ptr<Shop>, StoreFault>)> done);
// `done` gets what went wrong, empty when the file stands.
void write_in_background(ShopState state, const QString& file, QObject* owner,
                         std::function<void(const QString& fault)> done);

// Where the demo shop of this user stands.
QString demo_file();

}  // namespace pecorra
