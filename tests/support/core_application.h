// Tests of store and shop need an application object without a window.
#pragma once

#include <QCoreApplication>
#include <QStandardPaths>

// tests/main.cpp
int run_session(int argc, char** argv);

#define PECORRA_CORE_APPLICATION_TESTS        \
  int run_tests(int argc, char** argv) {      \
    QCoreApplication application(argc, argv); \
    QStandardPaths::setTestModeEnabled(true); \
    return run_session(argc, argv);           \
  }
