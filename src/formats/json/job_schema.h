// The JSON Schema (2020-12) of job files, derived from the declarations. The shipped data/schemas/job.schema.json is
// its text.
#pragma once

#include <string>

namespace pecorra {

std::string job_schema_text();

}  // namespace pecorra
