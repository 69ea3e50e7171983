// Sections of the machines page that programs need, and what was proven on machines.
#pragma once

#include "app/parts/parts_section.h"
#include "app/workspace.h"

namespace pecorra {

PartsSection* make_magazine_section(Workspace& workspace);
PartsSection* make_dialect_section(Workspace& workspace);
PartsSection* make_proven_section(Workspace& workspace);

}  // namespace pecorra
