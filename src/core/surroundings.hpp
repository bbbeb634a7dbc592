#pragma once

#include "core/chart_data.hpp"
#include "core/space.hpp"

/// What the ground underfoot and the things it leans against do to a runner's velocity.
namespace cursimeter::detail {

[[nodiscard]] inline bool on_slope(const Surroundings& around) {
    return around.gradient.x != 0.0F || around.gradient.y != 0.0F;
}
[[nodiscard]] bool same(const Surroundings& a, const Surroundings& b);
/// Normal of the ground underfoot.
[[nodiscard]] glm::dvec3 ground_normal(const Surroundings& around);
/// The vector along the ground that has the heading and the length of `plane`.
[[nodiscard]] glm::dvec3 along_ground(const Surroundings& around, const glm::dvec2& plane);
/// Sine of the ground's incline in a direction, positive uphill.
[[nodiscard]] double incline(const Surroundings& around, const glm::dvec2& direction);
/// The vector without what of it points into the barriers, and, on the ground, into the ground.
[[nodiscard]] glm::dvec3 without_barred(const Surroundings& around, const glm::dvec3& vector);
/// Takes a barrier in, in the place of one with the same direction or of the older one.
void add_barrier(Surroundings& around, const glm::dvec3& normal);

/// Lays the velocity along the ground underfoot, heading and speed kept: legs do that work.
void follow_ground(RunnerState& runner);
/// Takes from the velocity what points against a surface.
void stop_against(RunnerState& runner, const glm::dvec3& normal);
/// Gives the runner another velocity at once; its leg must be planned anew.
void set_velocity(RunnerState& runner, const glm::dvec3& velocity);

}  // namespace cursimeter::detail
