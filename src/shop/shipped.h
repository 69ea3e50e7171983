// Files that ship beside the programs, found in an installed prefix as well as in the build tree.
#pragma once

#include <QString>

namespace pecorra {

// "demo", "translations", …: PREFIX/share/pecorra/NAME of the program that runs, else the folder of the sources that it
// was built from; empty where neither is there.
QString shipped_folder(const QString& name);

}  // namespace pecorra
