// Precompiled for the tests of store, shop and command line.
#pragma once

#include <catch2/catch.hpp>

#include "pch/state.h"
