// Dialects: those that ship, the shop's own beside them, and as files.
#pragma once

#include <string>
#include <tl/expected.hpp>
#include <vector>

#include "core/program/dialect.h"
#include "formats/format_fault.h"
#include "shop/change.h"
#include "shop/state.h"

namespace pecorra {

// The first is the plain one.
const std::vector<Dialect>& shipped_dialects();
// The shop's own, then those shipped whose key none of them has. Point into the state.
std::vector<const Dialect*> dialects_of(const ShopState& state);
// Null where there is none of that key.
const Dialect* dialect_named(const ShopState& state, const std::string& key);
// The dialect of the job's machine; the plain one where that is not known.
const Dialect& dialect_of(const ShopState& state, const JobHead& job);

// The shop with it: in place of its own of that key, else beside the others.
Change with_dialect(const ShopState& state, Dialect dialect);

// As a file. Faults name the line; nothing is taken of a faulty one.
tl::expected<Dialect, FormatFaults> read_dialect(const std::string& text);
std::string dialect_text(const Dialect& dialect);
// JSON Schema of such a file.
std::string dialect_schema_text();

}  // namespace pecorra
