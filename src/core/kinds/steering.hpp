#pragma once

#include "core/chart/chart_data.hpp"

/// What the kinds' plans share.
namespace cursimeter::detail {

/// Steering along the ground plane: its acceleration, and how long it takes.
struct Steering {
    glm::dvec3 acceleration{0.0};
    double seconds = never;
};

/// From the velocity's part along the plane to `target`; a gap too small to see is closed at once.
[[nodiscard]] Steering steer_to(RunnerState& runner, const glm::dvec3& target, double rate);

/// Seconds to the end of the present force step; `middle` is its middle, in seconds since the entry.
[[nodiscard]] double rest_of_step(const RunnerState& runner, double& middle);

/// Speeds below this have no direction to speak of, m/s.
inline constexpr double directed_speed = 0.01;

}  // namespace cursimeter::detail
