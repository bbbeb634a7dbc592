#pragma once

#include "core/runner/instant.hpp"

/// What happens at an instant: facts are gathered, a state is chosen, and what holds from now on is planned.
namespace cursimeter::detail {

/// Meters on their marks, a state chosen (as often as states lead on to one another, each entered
/// once at most), and everything planned anew.
void work_instant(Instant& instant);

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
