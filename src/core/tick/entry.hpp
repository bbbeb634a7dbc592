#pragma once

#include "core/tick/instant.hpp"

/// What entering a state does: it pays, launches, boosts, takes its direction.
namespace cursimeter::detail {

/// Whether what the state needs by its nature is there: a jump left, a wall to run along.
[[nodiscard]] bool possible(const RunnerState& runner, const CompiledState& state);

enum class Price : std::uint8_t { full, free };
/// Leaves the present state for another, or for itself.
void enter_state(Instant& instant, std::uint8_t state, Cause cause, Price price = Price::full);

/// The ground is gone: from now on the runner is in the air.
void leave_ground(Instant& instant);
/// Comes to stand on the ground whose gradient is noted already.
void touch_down(Instant& instant);

}  // namespace cursimeter::detail
