#pragma once

#include "core/cutter/kinds.h"
#include "core/thread/thread.h"

namespace pecorra {

extern const KindDeclaration tap_kind;
extern const KindDeclaration thread_mill_kind;

// The thread named by the cutter's designation; nothing if there is none or it is not understood.
std::optional<Thread> thread_of(const Cutter& cutter);
// Sets pitch, and the diameter of a tap, from the thread's designation; does nothing if it is not understood.
void follow_thread(Cutter& cutter);
// Diameter of the hole before tapping: from the thread's table (ISO 2306 for metric coarse), else major − pitch; for
// forming taps major − pitch/2 (common practice). Nothing for other kinds, or while the pitch is missing.
std::optional<double> tapping_drill_mm(const Cutter& cutter);

}  // namespace pecorra
