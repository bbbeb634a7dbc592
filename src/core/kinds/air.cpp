#include <algorithm>

#include "core/contact/surroundings.hpp"
#include "core/kinds/kind.hpp"
#include "core/kinds/steering.hpp"
#include "core/motion/leg.hpp"
#include "core/numbers/space.hpp"
#include "core/runner/amounts.hpp"
#include "core/want/move_and_look.hpp"

/// Kind air: thrown, with some steering.
namespace cursimeter::detail {

namespace {

/// m/s of falling at most, where a chart says no other.
constexpr double usual_terminal = 55.0;

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

void compile_air_kind(const Source& /*source*/, CompiledState& /*state*/) {}

}  // namespace

CompiledAir compile_air(const Source& source) {
    const double rise = source.state.air.rise_gravity.value_or(source.spec.body.gravity);
    return {rise, source.state.air.fall_gravity.value_or(rise),
            source.state.air.terminal.value_or(usual_terminal), source.state.air.steer.value_or(0.0),
            source.state.air.brake.value_or(0.0)};
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

const Kind air_kind{.kind = StateKind::air, .name = "air", .compile = compile_air_kind, .plan = plan_thrown};

}  // namespace cursimeter::detail
