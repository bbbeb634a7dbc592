#include <cursimeter/numbers/detmath.hpp>

#include "core/chart/chart_data.hpp"
#include "core/motion/aim.hpp"
#include "core/runner/amounts.hpp"
#include "core/runner/holders.hpp"
#include "link/replica/replica_units.hpp"

/// From runners to replicas.
namespace cursimeter::link {
namespace {

using detail::RunnerAccess;
using detail::RunnerState;

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
    return static_cast<std::uint16_t>(plain > 0.01 ? whole(wanted / plain * pace_units, 0, 65535)
                                                   : static_cast<std::int32_t>(pace_units));
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
        replica.level[i] = whole(reading.fraction * replica_meter_units, 0, replica_meter_units);
        const double rate = state.meters[i].rate / chart.meters[i].capacity;
        replica.rate[i] = static_cast<std::int8_t>(whole(rate * rate_units, -127, 127));
    }
    replica.spent = state.spent;
}

}  // namespace

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
        replica.blocks = static_cast<std::uint16_t>(replica.blocks | (state.blocks[i] != 0 ? 1U << i : 0U));
    }
    replica.teleports = teleports & 3U;
    replica.grounded = state.around.grounded;
    replica.headroom = state.around.headroom;
    replica.cut = state.cut;
    replica.locked = state.locks != 0;
    std::size_t at_work = 0;
    for (const detail::ModifierState& m : state.modifiers) {
        if (m.strength != 0 && detail::is_active(m)) {
            replica.modifiers[at_work++] = {m.modifier, detail::strength_of(state, m),
                                            static_cast<std::uint8_t>(m.stacks)};
        }
    }
    return replica;
}

void observe_look(const Look& look, Replica& replica) {
    const double turns = look.yaw / turn;
    replica.yaw = static_cast<std::uint16_t>(whole((turns - std::floor(turns)) * replica_yaw_units, 0, 1e6) %
                                             replica_yaw_units);
    replica.pitch = static_cast<std::int16_t>(
        whole(look.pitch / (turn / 4.0) * replica_pitch_units, -replica_pitch_units, replica_pitch_units));
}

void observe_wishes(const Runner& runner, Replica& replica) {
    const RunnerState& state = RunnerAccess::state(runner);
    observe_look({state.look_yaw, state.look_pitch}, replica);
    const double stick =
        std::max(1.0, std::sqrt(state.move_forward * state.move_forward + state.move_side * state.move_side));
    replica.forward = static_cast<std::int8_t>(whole(state.move_forward / stick * move_units, -127, 127));
    replica.side = static_cast<std::int8_t>(whole(state.move_side / stick * move_units, -127, 127));
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

bool looks_differ(const Replica& a, const Replica& b) {
    const std::int32_t turned = (a.yaw - b.yaw + replica_yaw_units / 2) & (replica_yaw_units - 1);
    return off(turned, replica_yaw_units / 2, tolerance::yaw) || off(a.pitch, b.pitch, tolerance::pitch);
}

bool wishes_differ(const Replica& a, const Replica& b) {
    return !same_acts(a, b) || looks_differ(a, b);
}

bool same_look(const Replica& a, const Replica& b) {
    return a.yaw == b.yaw && a.pitch == b.pitch;
}

bool same_acts(const Replica& a, const Replica& b) {
    return a.forward == b.forward && a.side == b.side && a.on == b.on && a.faces_movement == b.faces_movement;
}

bool same_wishes(const Replica& a, const Replica& b) {
    return same_acts(a, b) && same_look(a, b);
}

void take_look(const Replica& from, Replica& replica) {
    replica.yaw = from.yaw;
    replica.pitch = from.pitch;
    replica.turned = from.turned;
}

void take_acts(const Replica& from, Replica& replica) {
    replica.forward = from.forward;
    replica.side = from.side;
    replica.on = from.on;
    replica.faces_movement = from.faces_movement;
    replica.changed = from.changed;
}

void take_wishes(const Replica& from, Replica& replica) {
    take_look(from, replica);
    take_acts(from, replica);
}

}  // namespace cursimeter::link
