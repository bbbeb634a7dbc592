#include <algorithm>

#include "core/contact/surroundings.hpp"
#include "core/kinds/kind.hpp"
#include "core/kinds/steering.hpp"
#include "core/motion/segment.hpp"
#include "core/numbers/space.hpp"

/// Kind slide: momentum under friction and the slope's pull.
namespace cursimeter::detail {

namespace {

void compile_slide(const Source& source, CompiledState& state) {
    state.traits.steered = false;
    state.traits.steered_in_air = true;
    state.traits.pays_for_steps = true;
    state.slide = {source.state.slide.boost.value_or(0.0), source.state.slide.boost_limit.value_or(500.0),
                   source.state.slide.top.value_or(500.0), source.state.slide.friction.value_or(4.0),
                   source.state.slide.slope.value_or(1.0) * source.spec.body.gravity};
}

void boost(Instant& instant, const CompiledState& state) {
    RunnerState& runner = instant.runner;
    const CompiledSlide& slide = state.slide;
    const double room = std::max(0.0, slide.boost_limit - runner.speed);
    const double gain = std::min(slide.boost, room);
    const glm::dvec3 direction = runner.speed > directed_speed ? runner.velocity * (1.0 / runner.speed)
                                                               : along_ground(runner.around, runner.facing);
    set_velocity(runner, direction * (runner.speed + gain));
}

void plan_on_ground(const ChartData& chart, RunnerState& runner) {
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
        seconds = rest_of_slice(runner, middle);
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

void plan_slide(const ChartData& chart, RunnerState& runner) {
    runner.around.grounded ? plan_on_ground(chart, runner) : plan_thrown(chart, runner);
}

}  // namespace

const Kind slide_kind{
    .kind = StateKind::slide, .name = "slide", .compile = compile_slide, .enter = boost, .plan = plan_slide};

}  // namespace cursimeter::detail
