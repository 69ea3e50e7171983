// The JSON Schema (2020-12) of library files, derived from the declarations that they are read and written by. The
// shipped data/schemas/library.schema.json is its text.
#pragma once

#include <string>

namespace pecorra {

std::string library_schema_text();

}  // namespace pecorra
