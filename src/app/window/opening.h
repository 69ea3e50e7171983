// Opening and making shop files off the interface thread.
#pragma once

#include <functional>

#include "shop/shop.h"
#include "shop/task.h"

namespace pecorra {

using OpenedShop = tl::expected<std::unique_ptr<Shop>, StoreFault>;

// Calls back on the thread of `owner` while it lives. The demo shop of this user is made where it is missing.
TaskPointer open_shop(Tasks& tasks, const QString& file, QObject* owner, std::function<void(OpenedShop)> done);
// `done` gets what went wrong, empty when the file stands.
void write_in_background(Tasks& tasks, ShopState state, const QString& file, const QString& label, QObject* owner,
                         std::function<void(const QString& fault)> done);

// Where the demo shop of this user stands.
QString demo_file();

}  // namespace pecorra
