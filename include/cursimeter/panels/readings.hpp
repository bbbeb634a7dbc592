#pragma once

#include <cursimeter/chart.hpp>
#include <cursimeter/runner.hpp>
#include <cursimeter/tryout/history.hpp>
#include <cursimeter/tryout/tryout.hpp>

/// What a runner is at now, as panels. They read and change nothing. The runner must be the chart's own: others throw
/// ChartError, as the readings do.
namespace cursimeter::panels {

/// The state, for how long, and why: the cause of the last change is found in the history.
void show_state(const Chart& chart, const Runner& runner, const tryout::History& history);
/// Every state in rank order; for each that is not taken the first term that fails, with what it compares. Each can be opened
/// to see all its terms.
void show_rank(const Chart& chart, const Runner& runner);
/// Bars with the levels that conditions compare, and the latch.
void show_meters(const Chart& chart, const Runner& runner);
/// Charges and seconds left.
void show_cooldowns(const Chart& chart, const Runner& runner);
/// Those at work: strength, stacks, time left.
void show_modifiers(const Chart& chart, const Runner& runner);
/// The speed against its target, and what the target is made of.
void show_speed(const Chart& chart, const Runner& runner);
/// How far a ghost is from the runner, in metres, seconds and states.
void show_ghost(const tryout::GhostReading& ghost);

}  // namespace cursimeter::panels
