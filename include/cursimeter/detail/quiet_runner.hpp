#pragma once

#include <cstdint>
#include <cursimeter/detail/runner_state.hpp>

/// The layout of a Crowd. It is visible because its readings are inline; reach it through Crowd's functions.
namespace cursimeter::detail {

/// What a quiet tick reads and writes of a runner, apart from the rest: two cache lines. Members have the names that they have
/// in RunnerState.
struct alignas(128) QuietRunner {
    double clock = 0.0;
    glm::dvec3 position{0.0};
    double distance = 0.0;
    glm::dvec3 velocity{0.0};
    double next_due = 0.0;
    double speed = 0.0;
    double move_forward = 0.0, move_side = 0.0;
    double look_yaw = 0.0, look_pitch = 0.0;
    ActionMask held = 0;
    bool faces_movement = false;
    std::uint32_t naming = 0;  ///< of its chart
};
static_assert(sizeof(QuietRunner) == 128);

struct CrowdAccess;

}  // namespace cursimeter::detail
