#pragma once

#include <cursimeter/panels/timeline.hpp>
#include <cursimeter/tryout/tick_clock.hpp>
#include <cursimeter/tryout/tryout.hpp>

namespace cursimeter::panels {

/// Pause, steps, slow motion, back and forth, loops. Works on the tryout and its clock at once.
void show_time(tryout::Tryout& tryout, tryout::TickClock& clock, Timeline& timeline);

}  // namespace cursimeter::panels
