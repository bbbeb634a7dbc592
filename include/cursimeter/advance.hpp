#pragma once

#include <cursimeter/chart.hpp>
#include <cursimeter/intent.hpp>
#include <cursimeter/report.hpp>
#include <cursimeter/runner.hpp>
#include <cursimeter/terrain.hpp>
#include <cursimeter/units.hpp>

namespace cursimeter {

/// Moves the runner on by one tick of `dt` seconds, from 0 to `longest_tick`, on open flat ground at the
/// height where it was spawned. Ticks may have any length; what changes inside a tick (a key, a meter that
/// empties, a wait that ends, a landing) takes effect at its own time, so a run does not depend on how time
/// is cut.
///
/// Allocates nothing, throws nothing, locks nothing. Whatever is wrong with the arguments stands in the
/// report (`refusal`, `intent_mended`, `dt_shortened`). The chart may be shared between threads.
[[nodiscard]] Report advance(const Chart& chart, Runner& runner, const Intent& intent, Seconds dt) noexcept;

/// The same in a world: the library moves the runner's capsule along the ground, up and down steps and
/// slopes, along walls and against ceilings. Contacts are found within 0.02 ms; what the tick rate changes
/// about a run is below that. Where solids leave the body no room a `crushed` event says so, and the runner
/// stays where it is.
[[nodiscard]] Report advance(const Chart& chart, Runner& runner, const Intent& intent, const Terrain& terrain,
                             Seconds dt) noexcept;

}  // namespace cursimeter
