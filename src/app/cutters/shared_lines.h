// Pending changes in the file of a shared library, as lines to review.
#pragma once

#include <memory>

#include "app/widgets/change_preview.h"
#include "shop/shared_libraries.h"

namespace pecorra {

// Nothing where no change waits.
std::unique_ptr<ChangeLines> shared_lines(Workspace& workspace, SharedLibraries& shared, const Id& library);

}  // namespace pecorra
