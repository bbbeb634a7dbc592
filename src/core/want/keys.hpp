#pragma once

#include <cursimeter/intent.hpp>

#include "core/runner/instant.hpp"

/// Taking in what the intent says.
namespace cursimeter::detail {

/// Takes a key's press or release in. One that the runner knows already changes nothing.
void take_key(Instant& instant, std::uint8_t action, bool down);
void take_change(Instant& instant, const Change& change);
/// Takes the start of a tick in: whatever differs from what the runner remembers.
void take_start(Instant& instant, const Intent& intent);

}  // namespace cursimeter::detail
