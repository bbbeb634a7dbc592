#include "core/tick/entry.hpp"

#include <algorithm>
#include <cmath>
#include <cursimeter/detmath.hpp>

#include "core/contact/surroundings.hpp"
#include "core/effects/cooldowns.hpp"
#include "core/effects/modifiers.hpp"
#include "core/motion/aim.hpp"
#include "core/motion/footsteps.hpp"
#include "core/motion/leg.hpp"
#include "core/runner/timers.hpp"

namespace cursimeter::detail {
namespace {

/// Speeds below this have no direction to speak of, m/s.
constexpr double directed_speed = 0.01;
/// A flier that has just come down stays down for this long, s: in a narrow place it could be pressed to
/// the ground and take off again without end. The timer that keeps footing after the ground measures it.
constexpr double landing_pause = 0.02;
/// Stands for walls whose terrain gives them no number: they all count as one.
constexpr std::uint32_t unnamed_wall = 0xffffffffU;

std::uint32_t wall_at_hand(const Surroundings& around) {
    return around.beside != 0 ? around.beside : unnamed_wall;
}

/// The velocity along the wall at hand, level.
glm::dvec2 along_wall(const RunnerState& runner) {
    const glm::dvec2 normal(runner.around.bearing.x, runner.around.bearing.y);
    const double squared = inner(normal, normal);
    const glm::dvec2 velocity = flat(runner.velocity);
    return squared > 0.0 ? velocity - normal * (inner(velocity, normal) / squared) : velocity;
}

void pay(Instant& instant, const CompiledState& state) {
    for (std::uint8_t i = 0; i < instant.runner.meter_count; ++i) {
        if (state.costs[i] <= 0.0) {
            continue;
        }
        MeterState& meter = instant.runner.meters[i];
        const CompiledMeter& compiled = instant.chart.meters[i];
        const auto mask = static_cast<std::uint8_t>(1U << i);
        meter.level = std::max(0.0, meter.level - state.costs[i]);
        instant.levels_changed = true;
        if (meter.level <= compiled.marks.front().below) {
            meter.level = 0.0;
            instant.emit(EventKind::emptied, i);
        }
        if (compiled.spent && meter.level <= compiled.spent->at && (instant.runner.spent & mask) == 0) {
            instant.runner.spent = static_cast<std::uint8_t>(instant.runner.spent | mask);
            instant.emit(MeterEvent{EventKind::spent, i});
        }
        hold_refill(instant.chart, instant.runner, i);  // a cost is a drain of no length
    }
}

void launch(Instant& instant, const CompiledState& state) {
    RunnerState& runner = instant.runner;
    const CompiledLaunch& launch = state.launch;
    const glm::dvec3 ground = runner.around.grounded ? instant.ground_velocity : glm::dvec3(0.0);
    glm::dvec2 level = flat(runner.velocity) + flat(ground);
    std::size_t jump = 0;
    if (launch.off_wall) {
        const glm::dvec2 normal(runner.around.bearing.x, runner.around.bearing.y);
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

void boost(RunnerState& runner, const CompiledSlide& slide) {
    const double room = std::max(0.0, slide.boost_limit - runner.speed);
    const double gain = std::min(slide.boost, room);
    const glm::dvec3 direction = runner.speed > directed_speed ? runner.velocity * (1.0 / runner.speed)
                                                               : along_ground(runner.around, runner.facing);
    set_velocity(runner, direction * (runner.speed + gain));
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
            return runner.around.by_wall ? glm::dvec3(runner.around.bearing) : glm::dvec3(0.0);
    }
    return {0.0, 0.0, 0.0};
}

void burst(Instant& instant, const CompiledBurst& burst) {
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
    runner.around.bearing = glm::vec3(direction);
    runner.around.by_wall = false;
    const double speed = modified(instant.chart, runner, measure::burst, burst.speed);
    set_velocity(runner, without_barred(runner.around, direction * speed));
}

void run_along_wall(RunnerState& runner, const CompiledWall& wall) {
    const glm::dvec2 along = along_wall(runner);
    set_velocity(runner, {along.x, along.y, std::max(runner.velocity.z, wall.climb)});
    runner.last_wall = wall_at_hand(runner.around);
}

}  // namespace

bool possible(const RunnerState& runner, const CompiledState& state) {
    const Surroundings& around = runner.around;
    if (state.kind == StateKind::wall) {
        if (!around.by_wall || around.grounded || wall_at_hand(around) == runner.last_wall) {
            return false;
        }
        const double along = length_of(along_wall(runner));
        const double speed = length_of(flat(runner.velocity));
        const double into = speed * speed - along * along;
        return along >= state.wall.least_speed &&
               into <= speed * speed * state.wall.most_sine * state.wall.most_sine + 1e-9;
    }
    if (state.launch.off_wall) {
        return around.by_wall;
    }
    const bool first = around.grounded || ticks(runner, timer::coyote);
    return first || std::max<int>(runner.jumps, 1) < state.launch.count;
}

void leave_ground(Instant& instant) {
    RunnerState& runner = instant.runner;
    runner.around.grounded = false;
    runner.around.gradient = glm::vec2(0.0F);
    runner.around.ground = 0;
    stop_timer(runner, timer::coyote);
    if (instant.chart.body.coyote > 0.0) {
        start_timer(runner, timer::coyote, instant.chart.body.coyote);
    }
    instant.emit(EventKind::lifted, runner.state, runner.speed);
    instant.facts_changed = true;
    instant.wanted_changed = true;
}

void touch_down(Instant& instant) {
    RunnerState& runner = instant.runner;
    const glm::dvec3 normal = ground_normal(runner.around);
    const double impact = std::max(0.0, -inner(runner.velocity, normal));
    runner.around.grounded = true;
    runner.around.barrier_count = 0;
    runner.jumps = 0;
    runner.last_wall = 0;
    runner.cut = false;
    if (instant.chart.states[runner.state].kind == StateKind::fly) {
        start_timer(runner, timer::coyote, landing_pause);
    } else {
        stop_timer(runner, timer::coyote);
    }
    set_velocity(runner, runner.velocity - normal * inner(runner.velocity, normal));
    instant.emit(EventKind::landed, runner.state, impact);
    instant.facts_changed = true;
    instant.wanted_changed = true;
}

void enter_state(Instant& instant, std::uint8_t entered, Cause cause, Price price) {
    RunnerState& runner = instant.runner;
    const CompiledState& before = instant.chart.states[runner.state];
    const CompiledState& state = instant.chart.states[entered];
    instant.emit(EventKind::left, runner.state, runner.distance);
    if (before.cooldown != no_cooldown) {
        leave_cooldown(instant.chart, runner, before.cooldown);
    }
    if (before.kind == StateKind::burst) {
        runner.around.bearing = glm::vec3(0.0F);
        instant.after_burst = before.burst.after;
    }
    runner.around.cornered = false;
    carry_stride(runner, before, state);
    runner.state = entered;
    runner.state_since = runner.clock;
    runner.cut = false;
    instant.emit(EventKind::entered, runner.state, runner.distance, cause);
    instant.wanted_changed = true;
    if (instant.after_burst == After::stop) {
        set_velocity(runner, {0.0, 0.0, 0.0});
    } else if (instant.after_burst == After::target) {
        plan_wanted(instant.chart, runner);
        set_velocity(runner, target_of(instant.chart, runner));
    }
    instant.after_burst = After::keep;

    if (price == Price::full) {
        pay(instant, state);
    }
    if (price == Price::full && state.cooldown != no_cooldown) {
        use_charge(instant.chart, runner, state.cooldown);
    }
    if (state.kind == StateKind::slide) {
        boost(runner, state.slide);
    } else if (state.kind == StateKind::burst) {
        burst(instant, state.burst);
    } else if (state.kind == StateKind::wall) {
        run_along_wall(runner, state.wall);
    }
    if (state.launch.count > 0) {
        launch(instant, state);
    }
}

}  // namespace cursimeter::detail
