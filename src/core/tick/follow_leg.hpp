#pragma once

#include "core/motion/crossing.hpp"
#include "core/runner/instant.hpp"

/// The leg between instants: planned, followed while the look turns, ended; and when the next instant is due.
namespace cursimeter::detail {

/// Computes the target anew as far as needed, and the leg towards it. Returns whether the speed made a
/// jump, as it does under the instant law.
bool plan_motion(Instant& instant);

/// When something is due next that a condition may read, or that changes what holds.
void plan_conditions(const Instant& instant);

/// Stands still: the rest of a tick is given up where contacts leave no time between them.
void give_up_motion(Instant& instant);

/// Lets dt seconds pass at once if the wanted velocity has changed, no fact has, and none will in them.
/// Returns false if time must be let pass step by step.
bool follow_turn(Instant& instant, double dt);

/// Takes in what the leg comes to by `reach`, the end of the instant, before any input can change it.
inline void reach_by_leg(Instant& instant, double reach) {
    if (instant.runner.condition_due <= reach && !instant.crossed.any()) {
        instant.crossed = reach_speeds(instant.chart, instant.runner);
    }
}

/// Comes down on the open ground.
void finish_fall(Instant& instant);
/// The same if the leg leads there by `reach`, the end of the instant.
inline void finish_leg(Instant& instant, double reach) {
    if (instant.runner.leg_end == LegEnd::landing && instant.runner.leg_due <= reach) {
        finish_fall(instant);
    }
}

/// Plans the leg anew where no fact has changed.
void replan_leg(Instant& instant);
/// The same if there is a reason: a turn of the look or the stick, or the leg's end.
inline void continue_leg(Instant& instant) {
    if (instant.dirty.any(dirty::wanted | dirty::aim) || instant.runner.leg_due <= instant.runner.clock) {
        replan_leg(instant);
    }
}

}  // namespace cursimeter::detail
