// Precompiled for the tests of the formats.
#pragma once

#include <catch2/catch.hpp>

#include "pch/json.h"
