#pragma once

#include "core/runner/instant.hpp"

/// What happens at an instant: facts are gathered, a state is chosen, and what holds from now on is planned.
namespace cursimeter::detail {

/// Meters on their marks, a state chosen (as often as states lead on to one another, each entered
/// once at most), and everything planned anew.
void work_instant(Instant& instant);

}  // namespace cursimeter::detail
