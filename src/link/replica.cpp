#include "link/replica.hpp"

#include <algorithm>
#include <cmath>
#include <cursimeter/advance.hpp>
#include <cursimeter/detmath.hpp>
#include <tuple>

#include "core/aim.hpp"
#include "core/chart_data.hpp"
#include "core/meters.hpp"
#include "core/pushes.hpp"
#include "core/surroundings.hpp"

namespace cursimeter::link {
namespace {

using detail::RunnerAccess;
using detail::RunnerState;

constexpr double turn = 6.283185307179586;
constexpr double move_steps = 127.0;
constexpr double pitch_steps = 64.0;
constexpr double pace_steps = 1024.0;
constexpr double rate_steps = 64.0;
constexpr double posed_clock = 16.0;  ///< s; a posed runner's clock: later than any age
/// Below the reach of any runner: where a landing is not known.
constexpr double bottomless = -1e9;

/// The nearest whole number within the bounds; 0 for NaN.
std::int32_t whole(double value, double least, double most) {
    if (!(value >= least)) {
        return value < least ? static_cast<std::int32_t>(least) : 0;
    }
    return static_cast<std::int32_t>(std::floor(std::min(value, most) + 0.5));
}
std::int32_t whole_length(double metres) {
    return whole(metres / replica_length, -2.0e9, 2.0e9);
}
std::int32_t whole_speed(double speed) {
    return whole(speed / replica_speed, -1.6e7, 1.6e7);
}

double yaw_of(const Replica& replica) {
    const int step = replica.yaw >= replica_yaw_steps / 2 ? replica.yaw - replica_yaw_steps : replica.yaw;
    return step * (turn / replica_yaw_steps);
}

glm::dvec3 vector_of(const std::array<std::int32_t, 3>& parts, double unit) {
    return {parts[0] * unit, parts[1] * unit, parts[2] * unit};
}

/// What it leans against, as a heading; the steepest of level directions says enough.
std::uint8_t barrier_of(const RunnerState& state) {
    for (std::size_t i = 0; i < state.around.barrier_count; ++i) {
        const detail::PackedNormal& normal = state.around.barriers[i];
        if (std::abs(normal.x) + std::abs(normal.y) > std::abs(normal.z)) {
            const double heading = detmath::arc_tangent(normal.y, normal.x) / turn;
            return static_cast<std::uint8_t>(
                1 + whole((heading < 0.0 ? heading + 1.0 : heading) * 255.0, 0, 254));
        }
    }
    return 0;
}

/// How the speed target differs from what the chart alone says.
std::uint16_t pace_of(const Cast& cast, const RunnerState& state) {
    const detail::WantedParts parts = detail::wanted_parts(cast.chart.data(), state);
    const double plain = std::sqrt(parts.full.x * parts.full.x + parts.full.y * parts.full.y) * parts.stick;
    const double wanted = std::sqrt(state.wanted.x * state.wanted.x + state.wanted.y * state.wanted.y);
    return static_cast<std::uint16_t>(plain > 0.01 ? whole(wanted / plain * pace_steps, 0, 65535)
                                                   : static_cast<std::int32_t>(pace_steps));
}

void observe_motion(const Cast& cast, const Runner& runner, double rising, Replica& replica) {
    const RunnerState& state = RunnerAccess::state(runner);
    glm::dvec3 drift = carrying_velocity(cast.chart, runner);
    if (state.around.grounded) {
        drift.z = rising;
    }
    for (int axis = 0; axis < 3; ++axis) {
        const auto i = static_cast<std::size_t>(axis);
        replica.position[i] = whole_length(state.position[axis]);
        replica.velocity[i] = whole_speed(state.around.grounded && axis == 2 ? 0.0 : state.velocity[axis]);
        replica.drift[i] = whole_speed(drift[axis]);
    }
    replica.floor = state.around.grounded ? replica.position[2]
                    : state.in_world      ? no_floor
                                          : whole_length(state.floor);
}

void observe_meters(const Cast& cast, const Runner& runner, Replica& replica) {
    const detail::ChartData& chart = cast.chart.data();
    const RunnerState& state = RunnerAccess::state(runner);
    for (std::size_t i = 0; i < chart.meters.size(); ++i) {
        const MeterReading reading = read_meter(cast.chart, runner, MeterId{static_cast<std::uint8_t>(i)});
        replica.level[i] = whole(reading.fraction * replica_meter_steps, 0, replica_meter_steps);
        const double rate = state.meters[i].rate / chart.meters[i].capacity;
        replica.rate[i] = static_cast<std::int8_t>(whole(rate * rate_steps, -127, 127));
    }
    replica.spent = state.spent;
}

Intent intent_of(const Replica& replica) {
    Intent intent;
    intent.move = {replica.forward / move_steps, replica.side / move_steps};
    intent.look = {yaw_of(replica), replica.pitch * (turn / 4.0 / pitch_steps)};
    intent.held = replica.on;
    intent.facing = replica.faces_movement ? Facing::movement : Facing::look;
    return intent;
}

/// A runner as the replica has it, before its next tick.
void pose(const Cast& cast, const Replica& replica, std::uint16_t on_before, Runner& runner) {
    const detail::ChartData& chart = cast.chart.data();
    runner = cast.model;
    RunnerState& state = RunnerAccess::state(runner);
    state.clock = posed_clock;
    state.metered_at = posed_clock;
    state.position = vector_of(replica.position, replica_length);
    state.velocity = vector_of(replica.velocity, replica_speed);
    state.speed = std::sqrt(state.velocity.x * state.velocity.x + state.velocity.y * state.velocity.y +
                            state.velocity.z * state.velocity.z);
    const Intent intent = intent_of(replica);
    static_cast<void>(detail::take_move(state, intent.move.forward, intent.move.side));
    static_cast<void>(detail::take_look(state, intent.look.yaw, intent.look.pitch));
    state.faces_movement = replica.faces_movement;
    state.state = replica.state;
    state.state_since = posed_clock - replica.age * replica_age;
    state.held = state.on = on_before;
    state.toggles = 0;
    state.used = replica.used;
    state.spent = replica.spent;
    state.around.grounded = replica.grounded;
    state.around.headroom = replica.headroom;
    state.around.zones = replica.zones;
    state.around.pace = static_cast<float>(replica.pace / pace_steps);
    state.floor = replica.floor == no_floor ? bottomless : replica.floor * replica_length;
    state.cut = replica.cut;
    state.jumps = replica.grounded ? 0 : 1;
    if (state.speed > 0.0) {
        const glm::dvec3 heading = state.velocity / state.speed;
        state.around.bearing = glm::vec3(heading);
    }
    for (std::size_t i = 0; i < chart.meters.size(); ++i) {
        state.meters[i].level = chart.meters[i].capacity * replica.level[i] / replica_meter_steps;
    }
    for (std::size_t i = 0; i < chart.blocks.size(); ++i) {
        state.blocks[i] = static_cast<std::uint8_t>(replica.blocks >> i & 1U);
        state.rooted = state.rooted || (state.blocks[i] != 0 && chart.blocks[i].movement);
    }
    state.moving = detail::moving_facts(chart, state);
    detail::plan_wanted(chart, state);
    state.leg_due = state.next_due = posed_clock;
    state.leg_end = detail::LegEnd::replan;
    state.stale = true;
}

/// What leans against something does not get into it.
void hold_back(const Replica& replica, glm::dvec3& way) {
    if (replica.barrier == 0) {
        return;
    }
    const detmath::SineCosine heading = detmath::sine_cosine((replica.barrier - 1) * (turn / 255.0));
    const double into = way.x * heading.cosine + way.y * heading.sine;
    if (into < 0.0) {
        way.x -= into * heading.cosine;
        way.y -= into * heading.sine;
    }
}

bool off(std::int32_t a, std::int32_t b, std::int32_t most) {
    return a > b ? a - b > most : b - a > most;
}

}  // namespace

glm::dvec3 position_of(const Replica& replica) {
    return vector_of(replica.position, replica_length);
}

glm::dvec3 velocity_of(const Replica& replica) {
    return vector_of(replica.velocity, replica_speed) + vector_of(replica.drift, replica_speed);
}

Replica observe(const Cast& cast, const Runner& runner, double rising, std::uint8_t teleports) {
    const RunnerState& state = RunnerAccess::state(runner);
    Replica replica;
    observe_motion(cast, runner, rising, replica);
    observe_meters(cast, runner, replica);
    observe_wishes(runner, replica);
    replica.state = state.state;
    replica.age = static_cast<std::uint16_t>(
        whole((state.clock - state.state_since) / replica_age, 0, Replica::oldest));
    replica.used = state.used;
    replica.pace = pace_of(cast, state);
    replica.barrier = barrier_of(state);
    replica.zones = state.around.zones;
    for (std::size_t i = 0; i < state.blocks.size(); ++i) {
        replica.blocks = static_cast<std::uint8_t>(replica.blocks | (state.blocks[i] != 0 ? 1U << i : 0U));
    }
    replica.teleports = teleports & 3U;
    replica.grounded = state.around.grounded;
    replica.headroom = state.around.headroom;
    replica.cut = state.cut;
    replica.locked = state.locks != 0;
    for (std::size_t i = 0; i < state.modifiers.size(); ++i) {
        const detail::ModifierState& m = state.modifiers[i];
        if (m.strength != 0) {
            replica.modifiers[i] = {m.modifier, m.strength, static_cast<std::uint8_t>(m.stacks)};
        }
    }
    return replica;
}

void observe_wishes(const Runner& runner, Replica& replica) {
    const RunnerState& state = RunnerAccess::state(runner);
    const double turns = state.look_yaw / turn;
    replica.yaw = static_cast<std::uint16_t>(whole((turns - std::floor(turns)) * replica_yaw_steps, 0, 1e6) %
                                             replica_yaw_steps);
    replica.pitch = static_cast<std::int8_t>(whole(state.look_pitch / (turn / 4.0) * pitch_steps, -64, 64));
    const double stick =
        std::max(1.0, std::sqrt(state.move_forward * state.move_forward + state.move_side * state.move_side));
    replica.forward = static_cast<std::int8_t>(whole(state.move_forward / stick * move_steps, -127, 127));
    replica.side = static_cast<std::int8_t>(whole(state.move_side / stick * move_steps, -127, 127));
    replica.on = state.on;
    replica.faces_movement = state.faces_movement;
}

bool operator==(const Replica& a, const Replica& b) {
    const auto all = [](const Replica& r) {
        return std::tie(r.position, r.velocity, r.drift, r.floor, r.yaw, r.pitch, r.forward, r.side, r.state,
                        r.age, r.on, r.used, r.pace, r.barrier, r.zones, r.blocks, r.spent, r.teleports,
                        r.faces_movement, r.grounded, r.headroom, r.cut, r.locked, r.level, r.rate,
                        r.modifiers);
    };
    return all(a) == all(b);
}

bool wishes_differ(const Replica& a, const Replica& b) {
    const std::int32_t turned = (a.yaw - b.yaw + replica_yaw_steps / 2) & (replica_yaw_steps - 1);
    return a.forward != b.forward || a.side != b.side || a.on != b.on ||
           a.faces_movement != b.faces_movement || off(turned, replica_yaw_steps / 2, tolerance::yaw) ||
           off(a.pitch, b.pitch, tolerance::pitch);
}

bool same_wishes(const Replica& a, const Replica& b) {
    return a.forward == b.forward && a.side == b.side && a.on == b.on &&
           a.faces_movement == b.faces_movement && a.yaw == b.yaw && a.pitch == b.pitch;
}

void take_wishes(const Replica& from, Replica& replica) {
    replica.forward = from.forward;
    replica.side = from.side;
    replica.yaw = from.yaw;
    replica.pitch = from.pitch;
    replica.on = from.on;
    replica.faces_movement = from.faces_movement;
    replica.changed = from.changed;
}

Runner carry_on(const Cast& cast, const Replica& replica, double seconds, std::uint16_t on_before) {
    Runner runner;
    pose(cast, replica, on_before, runner);
    RunnerState& state = RunnerAccess::state(runner);
    const glm::dvec3 from = state.position;
    // Along a wall only the wall would say more than a straight line.
    if (cast.chart.data().states[replica.state].kind == StateKind::wall) {
        state.position += state.velocity * seconds;
    } else {
        static_cast<void>(advance(cast.chart, runner, intent_of(replica), Seconds{seconds}));
    }
    glm::dvec3 way = state.position - from;
    hold_back(replica, way);
    hold_back(replica, state.velocity);
    state.position = from + way + vector_of(replica.drift, replica_speed) * seconds;
    return runner;
}

Replica predict(const Cast& cast, const Replica& replica, double seconds, std::uint16_t on_before) {
    const Runner runner = carry_on(cast, replica, seconds, on_before);
    const RunnerState& state = RunnerAccess::state(runner);
    Replica next = replica;
    for (std::size_t i = 0; i < 3; ++i) {
        const auto axis = static_cast<int>(i);
        next.position[i] = whole_length(state.position[axis]);
        next.velocity[i] = whole_speed(state.around.grounded && axis == 2 ? 0.0 : state.velocity[axis]);
    }
    next.state = state.state;
    const double age =
        next.state == replica.state ? replica.age * replica_age + seconds : state.clock - state.state_since;
    next.age = static_cast<std::uint16_t>(whole(age / replica_age, 0, Replica::oldest));
    next.grounded = state.around.grounded;
    next.cut = state.cut;
    next.floor = next.grounded                      ? next.position[2]
                 : next.position[2] < replica.floor ? no_floor
                                                    : replica.floor;
    next.used = state.used;
    const detail::ChartData& chart = cast.chart.data();
    for (std::size_t i = 0; i < chart.meters.size(); ++i) {
        // The chart knows what drains and what is spent, the rate whether a refill has begun.
        const double level =
            detail::level_now(chart, state, i) / chart.meters[i].capacity * replica_meter_steps;
        const double refilled = std::max(0.0, replica.rate[i] / rate_steps * seconds * replica_meter_steps);
        next.level[i] =
            whole(level < replica.level[i] ? level : replica.level[i] + refilled, 0, replica_meter_steps);
    }
    return next;
}

Replica predict_to(const Cast& cast, const Steps& steps, const Replica& replica, std::uint32_t from,
                   std::uint32_t to, const Replica* wishes) {
    Replica now = replica;
    for (std::uint32_t at = from; at != to; ++at) {
        std::uint16_t on_before = now.on;
        double seconds = steps.seconds();
        if (wishes != nullptr) {
            const FineTime begin = at * steps.fine();
            const auto until = static_cast<std::int32_t>(wishes->changed - begin);
            if (until < static_cast<std::int32_t>(steps.fine())) {
                if (until > 0) {
                    const double part = until * steps.tick_seconds / fine_steps;
                    now = predict(cast, now, part, on_before);
                    seconds -= part;
                }
                take_wishes(*wishes, now);
                wishes = nullptr;
            }
        }
        now = predict(cast, now, seconds, on_before);
    }
    if (wishes != nullptr) {
        take_wishes(*wishes, now);
    }
    return now;
}

Replica rounded(const Replica& replica) {
    const auto round = [](std::int32_t value) {
        const std::int32_t steps = (value + told_step / 2) >= 0 ? (value + told_step / 2) / told_step
                                                                : -((-value + told_step / 2 - 1) / told_step);
        return steps * told_step;
    };
    Replica told = replica;
    for (std::size_t i = 0; i < 3; ++i) {
        told.position[i] = round(replica.position[i]);
        told.velocity[i] = round(replica.velocity[i]);
        told.drift[i] = round(replica.drift[i]);
    }
    told.floor = replica.floor == no_floor ? no_floor
                 : replica.grounded        ? told.position[2]
                                           : round(replica.floor);
    for (std::int32_t& level : told.level) {
        level = round(level);
    }
    return told;
}

Replica settle_on(const Replica& predicted, const Replica& truth) {
    Replica next = predicted;
    bool moved = predicted.grounded != truth.grounded || predicted.teleports != truth.teleports;
    for (std::size_t i = 0; i < 3; ++i) {
        moved = moved || off(predicted.position[i], truth.position[i], tolerance::position) ||
                off(predicted.velocity[i], truth.velocity[i], tolerance::velocity);
    }
    if (moved || off(predicted.drift[2], truth.drift[2], 2 * tolerance::velocity) ||
        off(predicted.drift[0], truth.drift[0], 2 * tolerance::velocity) ||
        off(predicted.drift[1], truth.drift[1], 2 * tolerance::velocity)) {
        next.position = truth.position;
        next.velocity = truth.velocity;
        next.drift = truth.drift;
        next.grounded = truth.grounded;
        if (truth.grounded || truth.floor != no_floor) {
            next.floor = truth.floor;
        } else if (truth.position[2] < next.floor) {
            next.floor = no_floor;
        }
    }
    next.state = truth.state;
    if (predicted.state != truth.state) {
        next.age = truth.age;
    }
    next.used = truth.used;
    if (off(predicted.pace, truth.pace, tolerance::pace)) {
        next.pace = truth.pace;
    }
    next.barrier = truth.barrier;
    next.zones = truth.zones;
    next.blocks = truth.blocks;
    next.spent = truth.spent;
    next.teleports = truth.teleports;
    next.headroom = truth.headroom;
    next.cut = truth.cut;
    next.locked = truth.locked;
    for (std::size_t i = 0; i < next.level.size(); ++i) {
        if (off(predicted.level[i], truth.level[i], tolerance::meter)) {
            next.level[i] = truth.level[i];
            next.rate[i] = truth.rate[i];
        }
    }
    next.modifiers = truth.modifiers;
    return next;
}

}  // namespace cursimeter::link
