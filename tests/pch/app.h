// Precompiled for the tests of the window.
#pragma once

#include <QTest>
#include <catch2/catch.hpp>

#include "app/window/main_window.h"
#include "pch/window.h"
