#include <algorithm>
#include <cmath>
#include <cursimeter/numbers/detmath.hpp>

#include "core/contact/pushes.hpp"
#include "core/contact/surroundings.hpp"
#include "core/motion/aim.hpp"
#include "core/motion/segment.hpp"
#include "core/numbers/space.hpp"
#include "core/runner/instant.hpp"
#include "core/runner/levels.hpp"

/// Letting time pass on a segment.
namespace cursimeter::detail {

glm::dvec3 velocity_after(const ChartData& chart, const RunnerState& runner, double dt) {
    switch (runner.segment) {
        case SegmentKind::ramp:
            return runner.velocity + runner.acceleration * dt;
        case SegmentKind::ease: {
            const glm::dvec3 target = target_of(chart, runner);
            return target +
                   (runner.velocity - target) * detmath::power_of_two(-dt / rate_of(chart, runner).value);
        }
        case SegmentKind::steady:
            break;
    }
    return runner.velocity;
}

glm::dvec3 displacement_after(const ChartData& chart, const RunnerState& runner, double dt) {
    switch (runner.segment) {
        case SegmentKind::ramp:
            return runner.velocity * dt + runner.acceleration * (0.5 * dt * dt);
        case SegmentKind::ease: {
            const double half_life = rate_of(chart, runner).value;
            const glm::dvec3 target = target_of(chart, runner);
            const double reach = (1.0 - detmath::power_of_two(-dt / half_life)) * (half_life / ln_two);
            return target * dt + (runner.velocity - target) * reach;
        }
        case SegmentKind::steady:
            break;
    }
    return runner.velocity * dt;
}

void glide_changing(const ChartData& chart, RunnerState& runner, double dt) {
    double travelled = 0.0;
    if (runner.carried) {
        runner.position += carried_by(chart, runner, dt);
    }
    switch (runner.segment) {
        case SegmentKind::steady:
            runner.position += runner.velocity * dt;
            travelled = runner.speed * dt;
            break;
        case SegmentKind::ramp: {
            const double before = runner.speed;
            const glm::dvec3 velocity = runner.velocity;
            runner.position += velocity * dt + runner.acceleration * (0.5 * dt * dt);
            runner.velocity += runner.acceleration * dt;
            runner.speed = length_of(runner.velocity);
            if (runner.straight) {  // the speed is linear in time, so its mean is that of its ends
                travelled = 0.5 * (before + runner.speed) * dt;
            } else {
                travelled = ramp_path(velocity, runner.acceleration, before, runner.speed, dt);
            }
            break;
        }
        case SegmentKind::ease: {
            const SegmentShape segment = runner.straight ? SegmentShape{} : shape_of(chart, runner);
            const double half_life = rate_of(chart, runner).value;
            const glm::dvec3 target = target_of(chart, runner);
            const glm::dvec3 gap = runner.velocity - target;
            const double left = detmath::power_of_two(-dt / half_life);
            const glm::dvec3 moved = target * dt + gap * ((1.0 - left) * (half_life / ln_two));
            runner.position += moved;
            runner.velocity = target + gap * left;
            runner.speed = length_of(runner.velocity);
            travelled = runner.straight ? length_of(moved) : path_length(segment, dt);
            break;
        }
    }
    runner.distance += travelled;
    runner.clock += dt;
    if (runner.by_distance != 0) [[unlikely]] {
        lose_by_distance(chart, runner, travelled);
    }
}

}  // namespace cursimeter::detail
