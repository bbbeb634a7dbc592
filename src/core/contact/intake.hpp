#pragma once

#include <cursimeter/terrain.hpp>

#include "core/runner/instant.hpp"

/// Taking in what the world says: one way for contacts that the library finds (world/) and for those that a game tells
/// (calls/settle.cpp). Whatever is no number or out of range counts as not said.
namespace cursimeter::detail {

[[nodiscard]] bool is_finite(const glm::dvec3& vector);
/// A velocity of m/s that the world may tell: finite, and at most 10,000.
[[nodiscard]] glm::dvec3 plausible_velocity(const glm::dvec3& velocity);

/// The surroundings with the pace and the wind of the zones at hand. Returns the push of a zone that is entered, if it
/// has one in range.
const Push* take_zones(Surroundings& around, const ZoneReading& zones);
/// A zone's push, unless one acts already.
void take_zone_push(Instant& instant, const Push& push);

/// Comes to stand on the ground whose gradient is noted already, which moves by `ground` m/s: from now on the velocity is
/// the runner's own, against that ground. `impact`: speed against it, m/s, if it is known better than from the velocity.
void take_landing(Instant& instant, const glm::dvec3& ground, double impact = -1.0);
/// The ground is gone: what it moved by stays with the runner.
void take_lift(Instant& instant);
/// The ground underfoot moves by `ground` m/s. Where it is `other` ground than before, the velocity in the world stays and
/// the runner's own is against the new ground; ground that changes its own pace takes the runner along.
void take_other_ground(Instant& instant, const glm::dvec3& ground, bool other);
/// Ran into something: the velocity keeps what does not point into it, and the blow is told.
void take_barrier(Instant& instant, const glm::dvec3& normal);
/// The wall at hand, or none (a normal of 0). A state that follows walls keeps to it.
void take_wall(Instant& instant, const glm::dvec3& normal, std::uint32_t surface);

}  // namespace cursimeter::detail
