#pragma once

#include "core/runner/instant.hpp"

/// Losing the ground and reaching it.
namespace cursimeter::detail {

/// The ground is gone: from now on the runner is in the air.
void leave_ground(Instant& instant);
/// Comes to stand on the ground whose gradient is noted already.
void touch_down(Instant& instant);

}  // namespace cursimeter::detail
