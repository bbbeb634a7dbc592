#pragma once

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
void reach_by_leg(Instant& instant, double reach);

/// Comes down on the open ground if the leg leads there by `reach`, the end of the instant.
void finish_leg(Instant& instant, double reach);

/// Plans the leg anew where no fact has changed: a turn of the look or the stick, or a leg's end.
void continue_leg(Instant& instant);

}  // namespace cursimeter::detail
