#include <algorithm>
#include <cmath>

#include "core/contact/surroundings.hpp"
#include "core/effects/modifiers.hpp"
#include "core/motion/aim.hpp"
#include "core/motion/leg.hpp"

/// How each kind of motion chooses its next leg.
namespace cursimeter::detail {
namespace {

/// Forces that do not keep their direction or size are taken as constant for this long, s, counted from
/// the entry of the state, so that no tick rate sees other steps than another.
constexpr double force_step = 1.0 / 50.0;

/// Seconds to the end of the present force step; `middle` is its middle, in seconds since the entry.
double rest_of_step(const RunnerState& runner, double& middle) {
    const double time = runner.clock - runner.state_since;
    const double step = std::floor((time + instant_width.value) / force_step);
    middle = (step + 0.5) * force_step;
    return std::max((step + 1.0) * force_step - time, instant_width.value);
}

/// Steering along the ground plane: its acceleration, and how long it takes.
struct Steering {
    glm::dvec3 acceleration{0.0};
    double seconds = never;
};

/// From the velocity's part along the plane to `target`; a gap too small to see is closed at once.
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

/// Steering in the air. Where the runner already is faster than the limit in the wanted direction it keeps
/// that speed: the way from the velocity to the target then never leaves the circle of the faster of the
/// two, so steering turns and brakes, but adds nothing beyond the limit.
Steering steer_in_air(const ChartData& chart, RunnerState& runner) {
    const CompiledAir& air = chart.states[runner.state].air;
    const double steer = modified(chart, runner, measure::steer, air.steer);
    if (runner.idle) {
        return air.brake > 0.0 ? steer_to(runner, {0.0, 0.0, 0.0}, air.brake) : Steering{};
    }
    const double limit = length_of(runner.wanted);
    if (steer <= 0.0 || limit <= 0.0) {
        return {};
    }
    const glm::dvec2 wish = wish_direction(runner);
    const double kept = std::max(limit, inner(flat(runner.velocity), wish));
    const glm::dvec3 target = runner.around.grounded ? along_ground(runner.around, wish * kept)
                                                     : glm::dvec3(wish.x * kept, wish.y * kept, 0.0);
    return steer_to(runner, without_barred(runner.around, target), steer);
}

void plan_thrown(const ChartData& chart, RunnerState& runner) {
    const CompiledState& state = chart.states[runner.state];
    const Steering steering = steer_in_air(chart, runner);
    if (runner.around.grounded) {
        plan_free(runner, steering.acceleration, steering.seconds);
        return;
    }
    double gravity = modified(chart, runner, measure::gravity, state.air.fall_gravity);
    double seconds = never;
    const double rising = modified(
        chart, runner, measure::gravity,
        runner.cut && state.launch.cut_gravity > 0.0 ? state.launch.cut_gravity : state.air.rise_gravity);
    if (runner.velocity.z > 0.0 && runner.velocity.z <= rising * instant_width.value) {
        set_velocity(runner, {runner.velocity.x, runner.velocity.y, 0.0});  // the apex
    }
    if (runner.velocity.z > 0.0) {
        gravity = rising;
        seconds = gravity > 0.0 ? runner.velocity.z / gravity : never;
    } else if (gravity > 0.0) {
        seconds = (state.air.terminal + runner.velocity.z) / gravity;
        if (seconds <= instant_width.value) {
            gravity = 0.0;
            seconds = never;
        }
    }
    plan_free(runner, steering.acceleration - glm::dvec3(0.0, 0.0, gravity),
              std::min(seconds, steering.seconds));
    plan_landing(chart, runner);
}

void plan_slide(const ChartData& chart, RunnerState& runner) {
    const CompiledSlide& slide = chart.states[runner.state].slide;
    const glm::dvec3 normal = ground_normal(runner.around);
    // What gravity pulls along the ground: -g up, less its part against the normal.
    const glm::dvec3 pull = (normal * normal.z - glm::dvec3(0.0, 0.0, 1.0)) * slide.pull;
    const double pull_size = length_of(pull);
    const double rest_speed = std::max(slide.friction, pull_size) * instant_width.value;
    if (runner.speed <= rest_speed) {
        set_velocity(runner, {0.0, 0.0, 0.0});
        const double left = pull_size - slide.friction;
        plan_free(runner, left > 0.0 ? pull * (left / pull_size) : glm::dvec3(0.0), never);
        return;
    }
    const glm::dvec3 direction = runner.velocity * (1.0 / runner.speed);
    glm::dvec3 acceleration = pull - direction * slide.friction;
    double seconds = never;
    if (pull_size > 0.0 && across_of(pull, direction) > 1e-9) {
        double middle = 0.0;  // friction turns with the velocity
        seconds = rest_of_step(runner, middle);
    }
    const double gaining = inner(acceleration, direction);
    if (gaining > 0.0) {
        if (runner.speed >= slide.top - gaining * instant_width.value) {
            acceleration -= direction * gaining;
        } else {
            seconds = std::min(seconds, (slide.top - runner.speed) / gaining);
        }
    }
    plan_free(runner, acceleration, seconds);
}

void plan_burst(const ChartData& chart, RunnerState& runner) {
    const double gravity = runner.around.grounded ? 0.0 : chart.states[runner.state].burst.gravity;
    plan_free(runner, {0.0, 0.0, -gravity}, never);
    plan_landing(chart, runner);
}

/// Along the wall at the state's speed, by its gain if that is a ramp; up and down under a gravity that
/// grows.
void plan_wall(const ChartData& chart, RunnerState& runner) {
    const CompiledState& state = chart.states[runner.state];
    const glm::dvec3 normal(runner.around.bearing);
    glm::dvec3 along(-normal.y, normal.x, 0.0);
    const double size = length_of(along);
    Steering steering;
    if (size > 0.0 && state.gain.law == GainLaw::ramp) {
        const glm::dvec3 plane(runner.velocity.x, runner.velocity.y, 0.0);
        along = along * ((inner(along, plane) < 0.0 ? -1.0 : 1.0) / size);
        const double now = inner(plane, along);
        steering = steer_to(runner, along * (state.forward * runner.around.pace),
                            now < state.forward ? state.gain.up.value : state.gain.down.value);
    }
    double middle = 0.0;
    const double rest = state.wall.growth > 0.0 ? rest_of_step(runner, middle) : never;
    const double gravity = state.wall.gravity + state.wall.growth * middle;
    plan_free(runner, steering.acceleration - glm::dvec3(0.0, 0.0, gravity),
              std::min(rest, steering.seconds));
    plan_landing(chart, runner);
}

}  // namespace

void plan_leg(const ChartData& chart, RunnerState& runner) {
    const bool grounded = runner.around.grounded;
    switch (chart.states[runner.state].kind) {
        case StateKind::ground:
            grounded ? plan_steered(chart, runner) : plan_thrown(chart, runner);
            break;
        case StateKind::air:
            plan_thrown(chart, runner);
            break;
        case StateKind::slide:
            grounded ? plan_slide(chart, runner) : plan_thrown(chart, runner);
            break;
        case StateKind::burst:
            plan_burst(chart, runner);
            break;
        case StateKind::fly:
            plan_steered(chart, runner);
            plan_landing(chart, runner);
            break;
        case StateKind::wall:
            grounded ? plan_thrown(chart, runner) : plan_wall(chart, runner);
            break;
    }
}

}  // namespace cursimeter::detail
