// Precompiled for shop and command line: what a shop has, and its conditions.
#pragma once

#include "pch/qt.h"
#include "shop/evaluation.h"
