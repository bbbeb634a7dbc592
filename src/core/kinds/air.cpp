#include <algorithm>

#include "core/contact/surroundings.hpp"
#include "core/kinds/kind.hpp"
#include "core/kinds/steering.hpp"
#include "core/motion/segment.hpp"
#include "core/numbers/space.hpp"
#include "core/runner/amounts.hpp"
#include "core/want/move_and_look.hpp"

/// Kind air: thrown, with some steering.
namespace cursimeter::detail {

namespace {

/// m/s of falling at most, where a chart says no other.
constexpr double usual_terminal = 55.0;

Steering steer_in_air(const ChartData& chart, RunnerState& runner, double gravity) {
    const CompiledAir& air = chart.states[runner.state].air;
    const double steer = modified(chart, runner, measure::steer, air.steer);
    if (runner.idle) {
        return air.brake > 0.0 ? steer_to(runner, {0.0, 0.0}, air.brake, gravity) : Steering{};
    }
    const double limit = length_of(runner.wanted);
    if (steer <= 0.0 || limit <= 0.0) {
        return {};
    }
    const glm::dvec2 wish = wish_direction(runner), open = steerable(runner, wish, steer, gravity);
    if (open != wish) {
        return steer_to(runner, open * limit, steer, gravity);
    }
    return steer_to(runner, air_target(runner, wish, limit), steer, gravity);
}

void compile_air_kind(const Source& /*source*/, CompiledState& state) {
    state.traits.thrown = true;
}

}  // namespace

CompiledAir compile_air(const Source& source) {
    const double rise = source.state.air.rise_gravity.value_or(source.spec.body.gravity);
    return {rise, source.state.air.fall_gravity.value_or(rise),
            source.state.air.terminal.value_or(usual_terminal), source.state.air.steer.value_or(0.0),
            source.state.air.brake.value_or(0.0)};
}

void plan_thrown(const ChartData& chart, RunnerState& runner) {
    const CompiledState& state = chart.states[runner.state];
    if (runner.around.grounded) {
        const Steering steering = steer_in_air(chart, runner, 0.0);
        plan_free(runner, steering.acceleration, steering.seconds);
        return;
    }
    const auto pull = [&] { return modified(chart, runner, measure::gravity, gravity_of(state, runner)); };
    double gravity = pull();
    if (runner.velocity.z > 0.0 && runner.velocity.z <= gravity * instant_width.value) {
        set_velocity(runner, {runner.velocity.x, runner.velocity.y, 0.0});  // the apex
        gravity = pull();
    }
    const bool rises = runner.velocity.z > 0.0;
    if (!rises && state.air.terminal + runner.velocity.z <= gravity * instant_width.value) {
        gravity = 0.0;
    }
    const Steering steering = steer_in_air(chart, runner, gravity);
    plan_free(runner, steering.acceleration - glm::dvec3(0.0, 0.0, gravity), steering.seconds);
    // Up to the apex or to the terminal speed, at what is left of gravity along a face that is leant against.
    const double falling = runner.segment == SegmentKind::ramp ? -runner.acceleration.z : 0.0;
    if (falling > 0.0) {
        const double left = rises ? runner.velocity.z : state.air.terminal + runner.velocity.z;
        runner.segment_due = std::min(runner.segment_due, runner.clock + left / falling);
    }
    plan_landing(chart, runner);
}

const Kind air_kind{.kind = StateKind::air, .name = "air", .compile = compile_air_kind, .plan = plan_thrown};

}  // namespace cursimeter::detail
