#pragma once

#include "core/runner/instant.hpp"

/// What entering a state does: it pays, launches, boosts, takes its direction.
namespace cursimeter::detail {

enum class Price : std::uint8_t { full, free };
/// Leaves the present state for another, or for itself.
void enter_state(Instant& instant, std::uint8_t state, Cause cause, Price price = Price::full);

}  // namespace cursimeter::detail
