#pragma once

#include "core/runner/instant.hpp"

/// Losing the ground and reaching it.
namespace cursimeter::detail {

/// Who has just come down stays down for this long, s, before it takes off by itself: in a narrow place it could be
/// pressed to the ground and take off again without end.
inline constexpr double landing_pause = 0.02;

/// The ground is gone: from now on the runner is in the air.
void leave_ground(Instant& instant);
/// Comes to stand on the ground whose gradient is noted already.
/// `impact`: speed against the ground, m/s, if it is known better than from the velocity.
void touch_down(Instant& instant, double impact = -1.0);

}  // namespace cursimeter::detail
