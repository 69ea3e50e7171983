// Guessed sizes of a cutter. What was not typed is a guess, named in Cutter::guesses, and yields to what was typed.
#pragma once

#include "core/cutter/cutter.h"

namespace pecorra {

// The cutter with every guessed size proposed again for its diameter and brought in line with the sizes that are not
// guesses: checks of the result have no error that another guess would avoid. Other sizes are unchanged. Without a
// diameter nothing changes.
Cutter follow_guesses(const Cutter& cutter);

// A new cutter of this kind: everything but its diameter is a guess.
Cutter guessed_cutter(CutterKind kind, double diameter_mm, UnitSystem units);

}  // namespace pecorra
