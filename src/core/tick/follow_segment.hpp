#pragma once

#include "core/motion/crossing.hpp"
#include "core/runner/instant.hpp"

/// The segment between instants: planned, followed while the look turns, ended; and when the next instant is due.
namespace cursimeter::detail {

/// Computes the target anew as far as needed, and the segment towards it. Returns whether the speed made a
/// jump, as it does under the instant law.
bool plan_motion(Instant& instant);

/// When something is due next that a condition may read, or that changes what holds.
void plan_conditions(const Instant& instant);

/// Stands still: the rest of a tick is given up where contacts leave no time between them.
void give_up_motion(Instant& instant);

/// Lets dt seconds pass at once if the wanted velocity has changed, no fact has, and none will in them.
/// Returns false if time must be let pass step by step.
bool follow_turn(Instant& instant, double dt);

/// Takes in what the segment comes to by `reach`, the end of the instant, before any input can change it.
inline void reach_by_segment(Instant& instant, double reach) {
    if (instant.runner.condition_due <= reach && !instant.crossed.any()) {
        instant.crossed = reach_speeds(instant.chart, instant.runner);
    }
}

/// Comes down on the open ground.
void finish_fall(Instant& instant);
/// The same if the segment leads there by `reach`, the end of the instant.
inline void finish_segment(Instant& instant, double reach) {
    if (instant.runner.segment_end == SegmentEnd::landing && instant.runner.segment_due <= reach) {
        finish_fall(instant);
    }
}

/// Plans the segment anew where no fact has changed.
void replan_segment(Instant& instant);
/// The same if there is a reason: a turn of the look or the stick, or the segment's end.
inline void continue_segment(Instant& instant) {
    if (instant.dirty.any(dirty::wanted | dirty::aim) || instant.runner.segment_due <= instant.runner.clock) {
        replan_segment(instant);
    }
}

}  // namespace cursimeter::detail
