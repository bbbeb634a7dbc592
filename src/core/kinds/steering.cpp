#include "core/kinds/steering.hpp"

#include <algorithm>
#include <cmath>

#include "core/contact/surroundings.hpp"
#include "core/motion/leg.hpp"
#include "core/numbers/space.hpp"

namespace cursimeter::detail {

namespace {

/// Forces that do not keep their direction or size are taken as constant for this long, s, counted from
/// the entry of the state, so that no tick rate sees other steps than another.
constexpr double force_step = 1.0 / 50.0;

}  // namespace

double rest_of_step(const RunnerState& runner, double& middle) {
    const double time = runner.clock - runner.state_since;
    const double step = std::floor((time + instant_width.value) / force_step);
    middle = (step + 0.5) * force_step;
    return std::max((step + 1.0) * force_step - time, instant_width.value);
}

Steering steer_to(RunnerState& runner, const glm::dvec3& target, double rate) {
    const glm::dvec3 upright(0.0, 0.0, runner.around.grounded ? 0.0 : runner.velocity.z);
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
