#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cursimeter/numbers/detmath.hpp>

#include "core/contact/surroundings.hpp"
#include "core/kinds/kind.hpp"
#include "core/kinds/steering.hpp"
#include "core/numbers/space.hpp"
#include "core/runner/amounts.hpp"
#include "core/runner/timers.hpp"

/// The jump on entry: how high, in which direction, and how many of them.
namespace cursimeter::detail {

CompiledLaunch compile_launch(const Source& source, const CompiledAir& air) {
    const LaunchSpec& spec = source.state.launch;
    CompiledLaunch launch;
    launch.by = source.action(spec.by, "launch.by");
    if (!spec.heights || spec.heights->empty()) {
        if (spec.heights || spec.least || spec.by || spec.away || spec.away_speed) {
            source.findings.add_relation(source.path + ".launch", "has no heights",
                                         "say heights = [...] in m");
        }
        return launch;
    }
    if (spec.heights->size() > limits::jumps) {
        source.findings.add(source.path + ".launch.heights",
                            fmt::format("has {} jumps", spec.heights->size()),
                            fmt::format("give up to {}", limits::jumps));
        return launch;
    }
    if (!(air.rise_gravity > 0.0)) {
        source.findings.add_relation(source.path + ".air.rise_gravity",
                                     "a jump without gravity has no height", "give a gravity above 0",
                                     {"*.air.gravity", "*.air.rise_gravity"});
        return launch;
    }
    launch.count = static_cast<std::uint8_t>(spec.heights->size());
    for (std::size_t i = 0; i < spec.heights->size(); ++i) {
        launch.speeds[i] = std::sqrt(2.0 * air.rise_gravity * std::max((*spec.heights)[i], 0.0));
    }
    const double full = spec.heights->front();
    if (spec.least && *spec.least > full) {
        source.findings.add_relation(source.path + ".launch.least",
                                     fmt::format("{} is above the height {}", *spec.least, full),
                                     "a jump that is cut short is the lower one", {source.path + ".launch"});
    }
    if (spec.least && !spec.by) {
        source.findings.add_relation(source.path + ".launch.least", "no key's release cuts this jump short",
                                     "say by = \"...\", the action");
    }
    if (spec.least && *spec.least > 0.0) {
        // v^2 / (2 g) is the height of a jump, so this gravity takes the same speed to `least`.
        launch.cut_gravity = air.rise_gravity * full / *spec.least;
    }
    if (spec.away) {
        const detmath::SineCosine turned = detmath::sine_cosine(spec.away->radians());
        launch.off_wall = true;
        launch.away_sine = turned.sine;
        launch.away_cosine = turned.cosine;
    }
    launch.away_speed = spec.away_speed;
    return launch;
}

void launch(Instant& instant, const CompiledState& state) {
    RunnerState& runner = instant.runner;
    const CompiledLaunch& launch = state.launch;
    const glm::dvec3 ground = runner.around.grounded ? instant.ground_velocity : glm::dvec3(0.0);
    glm::dvec2 level = flat(runner.velocity) + flat(ground);
    std::size_t jump = 0;
    if (launch.off_wall) {
        const glm::dvec2 normal(runner.around.wall_normal.x, runner.around.wall_normal.y);
        const double size = length_of(normal);
        const glm::dvec2 along = along_wall(runner);
        const double speed = length_of(along);
        const glm::dvec2 outward = size > 0.0 ? normal * (1.0 / size) : -runner.facing;
        const glm::dvec2 onward =
            speed > directed_speed ? along * (1.0 / speed) : glm::dvec2(-outward.y, outward.x);
        level = (onward * launch.away_cosine + outward * launch.away_sine) *
                launch.away_speed.value_or(std::max(speed, length_of(level)));
    } else {
        const bool first = runner.around.grounded || ticks(runner, timer::coyote);
        jump = first ? 0 : std::max<std::size_t>(runner.jumps, 1);
        runner.jumps = static_cast<std::uint8_t>(jump + 1);
    }
    double upward = launch.speeds[std::min<std::size_t>(jump, launch.count - std::size_t{1})];
    if (is_modified(instant.chart, runner, measure::jump)) {
        const double gravity = 2.0 * state.air.rise_gravity;
        upward =
            std::sqrt(gravity * modified(instant.chart, runner, measure::jump, upward * upward / gravity));
    }
    set_velocity(runner, {level.x, level.y, upward + std::max(0.0, ground.z)});
    runner.around.grounded = false;
    runner.around.gradient = glm::vec2(0.0F);
    runner.around.barrier_count = 0;
    runner.cut = launch.by != no_action && (runner.held >> launch.by & 1U) == 0;
    stop_timer(runner, timer::coyote);
    instant.emit(EventKind::jumped, runner.state, upward);
}

bool can_launch(const RunnerState& runner, const CompiledState& state) {
    if (state.launch.off_wall) {
        return runner.around.by_wall;
    }
    const bool first = runner.around.grounded || ticks(runner, timer::coyote);
    return first || std::max<int>(runner.jumps, 1) < state.launch.count;
}

}  // namespace cursimeter::detail
