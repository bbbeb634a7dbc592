#include <algorithm>
#include <cursimeter/numbers/detmath.hpp>

#include "core/contact/surroundings.hpp"
#include "core/kinds/kind.hpp"
#include "core/kinds/steering.hpp"
#include "core/motion/segment.hpp"
#include "core/numbers/space.hpp"

/// Kind wall: along the wall at hand.
namespace cursimeter::detail {

namespace {

/// Stands for walls whose terrain gives them no number: they all count as one.
constexpr std::uint32_t unnamed_wall = 0xffffffffU;

std::uint32_t wall_at_hand(const Surroundings& around) {
    return around.beside != 0 ? around.beside : unnamed_wall;
}

void compile_wall(const Source& source, CompiledState& state) {
    CompiledWall& wall = state.wall;
    wall.reach = source.state.wall.reach.value_or(usual_wall_reach);
    wall.least_speed = source.state.wall.least_speed.value_or(3.0);
    wall.most_sine =
        detmath::sine_cosine(source.state.wall.most_angle.value_or(Degrees{60.0}).radians()).sine;
    wall.seconds = source.state.wall.seconds.value_or(1.5);
    wall.climb = source.state.wall.climb.value_or(0.0);
    wall.gravity = source.state.wall.gravity.value_or(0.0);
    wall.growth = source.state.wall.growth.value_or(0.0);
    state.traits.follows_wall = true;
    state.traits.lasts = wall.seconds;
}

bool can_run(const RunnerState& runner, const CompiledState& state) {
    const Surroundings& around = runner.around;
    if (!around.by_wall || around.grounded || wall_at_hand(around) == runner.last_wall) {
        return false;
    }
    const double along = length_of(along_wall(runner));
    const double speed = length_of(flat(runner.velocity));
    const double into = speed * speed - along * along;
    return along >= state.wall.least_speed &&
           into <= speed * speed * state.wall.most_sine * state.wall.most_sine + 1e-9;
}

void run_along_wall(Instant& instant, const CompiledState& state) {
    RunnerState& runner = instant.runner;
    const glm::dvec2 along = along_wall(runner);
    set_velocity(runner, {along.x, along.y, std::max(runner.velocity.z, state.wall.climb)});
    runner.last_wall = wall_at_hand(runner.around);
}

/// Along the wall at the state's speed, by its gain if that is a ramp; up and down under a gravity that
/// grows.
void plan_along(const ChartData& chart, RunnerState& runner) {
    const CompiledState& state = chart.states[runner.state];
    glm::dvec2 along(-runner.around.wall_normal.y, runner.around.wall_normal.x);
    const double size = length_of(along);
    double middle = 0.0;
    const double rest = state.wall.growth > 0.0 ? rest_of_slice(runner, middle) : never;
    const double gravity = state.wall.gravity + state.wall.growth * middle;
    Steering steering;
    if (size > 0.0 && state.gain.law == GainLaw::ramp) {
        const glm::dvec2 level = flat(runner.velocity);
        along = along * ((inner(along, level) < 0.0 ? -1.0 : 1.0) / size);
        const double now = inner(level, along);
        steering = steer_to(runner, along * (state.forward * runner.around.pace),
                            now < state.forward ? state.gain.up.value : state.gain.down.value, gravity);
    }
    plan_free(runner, steering.acceleration - glm::dvec3(0.0, 0.0, gravity),
              std::min(rest, steering.seconds));
    plan_landing(chart, runner);
}

void plan_wall(const ChartData& chart, RunnerState& runner) {
    runner.around.grounded ? plan_thrown(chart, runner) : plan_along(chart, runner);
}

}  // namespace

/// The velocity along the wall at hand, level.
glm::dvec2 along_wall(const RunnerState& runner) {
    const glm::dvec2 normal(runner.around.wall_normal.x, runner.around.wall_normal.y);
    const double squared = inner(normal, normal);
    const glm::dvec2 velocity = flat(runner.velocity);
    return squared > 0.0 ? velocity - normal * (inner(velocity, normal) / squared) : velocity;
}

const Kind wall_kind{.kind = StateKind::wall,
                     .name = "wall",
                     .needs_speed = true,
                     .compile = compile_wall,
                     .possible = can_run,
                     .enter = run_along_wall,
                     .plan = plan_wall};

}  // namespace cursimeter::detail
