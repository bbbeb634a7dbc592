#include "core/kinds/steering.hpp"

#include <algorithm>
#include <cmath>

#include "core/contact/surroundings.hpp"
#include "core/motion/segment.hpp"
#include "core/numbers/slice.hpp"
#include "core/numbers/space.hpp"

namespace cursimeter::detail {

namespace {

/// Forces that do not keep their direction or size are taken as constant for this long, s, counted from
/// the entry of the state.
constexpr double force_slice = 1.0 / 50.0;

}  // namespace

double rest_of_slice(const RunnerState& runner, double& middle) {
    const double time = runner.clock - runner.state_since;
    const Slice slice = slice_at(time, force_slice);
    middle = slice.middle;
    return std::max(slice.end - time, instant_width.value);
}

glm::dvec2 steerable(const RunnerState& runner, const glm::dvec2& level, double rate, double gravity) {
    const Surroundings& around = runner.around;
    if (around.barrier_count == 0 || around.grounded) {
        return level;
    }
    glm::dvec2 left = level_without_barred(around, level, runner.velocity);
    const double size = length_of(left);
    if (size <= 0.0) {
        return left;
    }
    const glm::dvec3 pull(left * (rate / size), -gravity);
    for (std::size_t i = 0; i < around.barrier_count; ++i) {
        const glm::dvec3 normal = unpack(around.barriers[i]);
        const glm::dvec2 across = flat(normal);
        const double away = inner(left, across);
        if (away > 0.0 && inner(pull, normal) < 0.0) {
            left -= across * (away / inner(across, across));
        }
    }
    return left;
}

double gravity_of(const CompiledState& state, const RunnerState& runner) {
    if (runner.velocity.z <= 0.0) {
        return state.air.fall_gravity;
    }
    return runner.cut && state.launch.cut_gravity > 0.0 ? state.launch.cut_gravity : state.air.rise_gravity;
}

glm::dvec2 air_target(const RunnerState& runner, const glm::dvec2& wish, double limit) {
    return wish * std::max(limit, inner(flat(runner.velocity), wish));
}

Steering steer_to(RunnerState& runner, const glm::dvec2& plane, double rate, double gravity) {
    const Surroundings& around = runner.around;
    const glm::dvec3 upright(0.0, 0.0, around.grounded ? 0.0 : runner.velocity.z);
    glm::dvec3 target =
        around.grounded ? without_barred(around, along_ground(around, plane)) : glm::dvec3(plane, 0.0);
    if (around.barrier_count != 0 && !around.grounded) {  // else the target itself, to the last bit
        stay_by_barriers(runner, plane - flat(runner.velocity));
        const glm::dvec2 now = flat(runner.velocity);
        target = {now + steerable(runner, plane - now, rate, gravity), 0.0};
    }
    const glm::dvec3 gap = target - (runner.velocity - upright);
    const double size = length_of(gap);
    if (size <= std::max(rate * instant_width.value, arrival_gap)) {
        if (size > 0.0) {
            set_velocity(runner, target + upright);
        }
        return {};
    }
    if (rate <= 0.0) {
        return {};
    }
    return {gap * (rate / size), size / rate};
}

}  // namespace cursimeter::detail
