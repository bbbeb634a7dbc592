#pragma once

#include "core/chart/chart_data.hpp"
#include "core/numbers/space.hpp"

/// What the ground underfoot and the things it leans against do to a runner's velocity.
namespace cursimeter::detail {

[[nodiscard]] inline bool on_slope(const Surroundings& around) {
    return around.gradient.x != 0.0F || around.gradient.y != 0.0F;
}
[[nodiscard]] PackedNormal pack(const glm::dvec3& normal);
[[nodiscard]] glm::dvec3 unpack(const PackedNormal& normal);
[[nodiscard]] bool same(const Surroundings& a, const Surroundings& b);
[[nodiscard]] glm::dvec3 normal_of_slope(const Surroundings& around);
[[nodiscard]] glm::dvec3 along_slope(const Surroundings& around, const glm::dvec2& plane);
[[nodiscard]] glm::dvec3 without_barriers(const Surroundings& around, const glm::dvec3& vector);

/// Normal of the ground underfoot.
[[nodiscard]] inline glm::dvec3 ground_normal(const Surroundings& around) {
    return on_slope(around) ? normal_of_slope(around) : glm::dvec3(0.0, 0.0, 1.0);
}
/// The vector along the ground that has the heading and the length of `plane`.
[[nodiscard]] inline glm::dvec3 along_ground(const Surroundings& around, const glm::dvec2& plane) {
    return on_slope(around) ? along_slope(around, plane) : glm::dvec3(plane.x, plane.y, 0.0);
}
/// Sine of the ground's incline in a direction, positive uphill.
[[nodiscard]] double incline(const Surroundings& around, const glm::dvec2& direction);
/// The vector without what of it points into the barriers, and, on the ground, into the ground.
[[nodiscard]] inline glm::dvec3 without_barred(const Surroundings& around, const glm::dvec3& vector) {
    return around.barrier_count == 0 ? vector : without_barriers(around, vector);
}
[[nodiscard]] glm::dvec2 level_without_barriers(const Surroundings& around, const glm::dvec2& level,
                                                const glm::dvec3& velocity);
/// A level vector to steer by in the air, at such a velocity, without what of it points into the barriers: they turn it
/// aside, never up or down. Else whoever presses against an edge or a steep face would be held by it.
[[nodiscard]] inline glm::dvec2 level_without_barred(const Surroundings& around, const glm::dvec2& level,
                                                     const glm::dvec3& velocity) {
    return around.barrier_count == 0 ? level : level_without_barriers(around, level, velocity);
}
/// A barrier's normal as the runner meets it: on the ground, along the ground, so that an overhang does not turn its
/// velocity down into the ground, nor a face that leans back up from it.
[[nodiscard]] glm::dvec3 met_normal(const Surroundings& around, const glm::dvec3& normal);
[[nodiscard]] glm::dvec3 met_barrier(const Surroundings& around, std::size_t index);
/// Whether it leans against a barrier of this direction.
[[nodiscard]] bool is_barrier(const Surroundings& around, const glm::dvec3& normal);
/// Takes a barrier in, in the place of one with the same direction or of the older one.
void add_barrier(Surroundings& around, const glm::dvec3& normal);

/// Forgets the barriers that the runner moves away from: they bear nothing of what pulls it back.
void leave_barriers(RunnerState& runner);

/// Takes from the velocity what slowly leads off the barriers that `level` points into. Nothing else would bring it back: what
/// points into a barrier that is leant against is barred.
void stay_by_barriers(RunnerState& runner, const glm::dvec2& level);

/// Whether it is slow enough to keep to ground that falls away from its way, at a velocity relative to that ground.
[[nodiscard]] inline bool sticks(const CompiledBody& body, const glm::dvec3& own) {
    return inner(own, own) <= body.stick_speed * body.stick_speed;
}

/// Lays the velocity along the ground underfoot, heading and speed kept: who walks does that work, unseen.
void follow_ground(RunnerState& runner);
/// Takes from the velocity what points against a surface.
void stop_against(RunnerState& runner, const glm::dvec3& normal);
/// Gives the runner another velocity at once; its segment must be planned anew.
inline void set_velocity(RunnerState& runner, const glm::dvec3& velocity) {
    runner.velocity = velocity;
    runner.speed = length_of(velocity);
    runner.segment = SegmentKind::steady;
    runner.trend = Trend::constant;
}

}  // namespace cursimeter::detail
