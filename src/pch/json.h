// Precompiled for the readers and writers of JSON.
#pragma once

#include "pch/standard.h"

#include <nlohmann/json.hpp>
