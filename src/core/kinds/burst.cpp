#include <fmt/format.h>

#include <algorithm>
#include <cursimeter/numbers/detmath.hpp>

#include "core/contact/footing.hpp"
#include "core/contact/surroundings.hpp"
#include "core/kinds/kind.hpp"
#include "core/kinds/steering.hpp"
#include "core/motion/segment.hpp"
#include "core/numbers/space.hpp"
#include "core/runner/amounts.hpp"
#include "core/want/move_and_look.hpp"

/// Kind burst: one speed along a direction that is taken at the entry, for some time.
namespace cursimeter::detail {

namespace {

void compile_burst(const Source& source, CompiledState& state) {
    const BurstSpec& spec = source.state.burst;
    CompiledBurst& burst = state.burst;
    if (!spec.seconds) {
        source.findings.add_relation(source.path + ".burst", "a burst needs its seconds",
                                     "say seconds = ...");
    }
    if (spec.speed.has_value() == spec.metres.has_value()) {
        source.findings.add_relation(
            source.path + ".burst",
            spec.speed ? "speed and metres both say how far it goes" : "a burst needs a speed or metres",
            "say one of speed = ... (m/s) and metres = ...");
    }
    const std::vector<Along> along = spec.along.value_or(std::vector<Along>{Along::input, Along::facing});
    if (along.empty() || along.size() > burst.along.size()) {
        source.findings.add(source.path + ".burst.along", fmt::format("has {} directions", along.size()),
                            "give one to five of input, facing, look, velocity, away");
    }
    for (std::size_t i = 0; i < std::min(along.size(), burst.along.size()); ++i) {
        burst.along[burst.along_count++] = along[i];
    }
    burst.seconds = spec.seconds.value_or(1.0);
    burst.speed = spec.speed ? *spec.speed : spec.metres.value_or(1.0) / std::max(burst.seconds, 1e-3);
    burst.gravity = spec.gravity.value_or(false) ? state.air.fall_gravity : 0.0;
    state.traits.steered = false;
    state.traits.keeps_level = true;
    state.traits.lasts = burst.seconds;
    state.traits.after = spec.after.value_or(After::target);
}

glm::dvec3 direction_of(const RunnerState& runner, Along along) {
    switch (along) {
        case Along::input: {
            const glm::dvec2 wish = wish_direction(runner);
            return {wish.x, wish.y, 0.0};
        }
        case Along::facing:
            return {runner.facing.x, runner.facing.y, 0.0};
        case Along::look: {
            constexpr double upright = 1.5707963267948966;
            const detmath::SineCosine pitch =
                detmath::sine_cosine(std::clamp(runner.look_pitch, -upright, upright));
            return {runner.facing.x * pitch.cosine, runner.facing.y * pitch.cosine, pitch.sine};
        }
        case Along::velocity:
            return runner.speed > directed_speed ? runner.velocity : glm::dvec3(0.0);
        case Along::away:
            return runner.around.by_wall ? glm::dvec3(runner.around.wall_normal) : glm::dvec3(0.0);
    }
    return {0.0, 0.0, 0.0};
}

void start_burst(Instant& instant, const CompiledState& state) {
    const CompiledBurst& burst = state.burst;
    RunnerState& runner = instant.runner;
    glm::dvec3 direction(runner.facing.x, runner.facing.y, 0.0);
    for (std::uint8_t i = 0; i < burst.along_count; ++i) {
        const glm::dvec3 tried = direction_of(runner, burst.along[i]);
        const double size = length_of(tried);
        if (size > 1e-6) {
            direction = tried * (1.0 / size);
            break;
        }
    }
    if (runner.around.grounded) {
        const double upward = inner(direction, ground_normal(runner.around));
        if (direction.z > 0.0 && upward > 1e-3) {
            leave_ground(instant);
        } else {
            const glm::dvec2 plane = flat(direction);
            const double size = length_of(plane);
            direction = along_ground(runner.around, size > 1e-6 ? plane * (1.0 / size) : runner.facing);
        }
    }
    const double speed = modified(instant.chart, runner, measure::burst, burst.speed);
    set_velocity(runner, without_barred(runner.around, direction * speed));
}

void plan_burst(const ChartData& chart, RunnerState& runner) {
    const double gravity = runner.around.grounded ? 0.0 : chart.states[runner.state].burst.gravity;
    plan_free(runner, {0.0, 0.0, -gravity}, never);
    plan_landing(chart, runner);
}

}  // namespace

const Kind burst_kind{.kind = StateKind::burst,
                      .name = "burst",
                      .compile = compile_burst,
                      .enter = start_burst,
                      .plan = plan_burst};

}  // namespace cursimeter::detail
