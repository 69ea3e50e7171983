// The demo, read once by each test program: reading it takes longer than most of what is tested on it.
#pragma once

#include <QFile>
#include <QTemporaryDir>

#include "shop/demo.h"

inline const pecorra::ShopState& the_demo() {
  static const pecorra::ShopState state = pecorra::demo_state();
  return state;
}

// A shop file with the demo in it. False: it could not be written.
inline bool copy_demo_to(const QString& file) {
  static const QTemporaryDir once;
  const QString made = once.filePath(QStringLiteral("demo.pecorra"));
  if (!QFile::exists(made) && !pecorra::write_shop(the_demo(), made, QStringLiteral("made"))) return false;
  return QFile::copy(made, file);
}
