// Precompiled for the tests of the core.
#pragma once

#include <catch2/catch.hpp>

#include "pch/standard.h"
