#include "link/replica/replica.hpp"

#include <algorithm>
#include <cmath>
#include <cursimeter/advance.hpp>
#include <cursimeter/numbers/detmath.hpp>
#include <optional>
#include <tuple>

#include "core/chart/chart_data.hpp"
#include "core/motion/aim.hpp"
#include "core/runner/levels.hpp"
#include "core/want/move_and_look.hpp"
#include "link/replica/replica_units.hpp"

namespace cursimeter::link {
namespace {

using detail::RunnerAccess;
using detail::RunnerState;

Intent intent_of(const Replica& replica) {
    Intent intent;
    intent.move = {replica.forward / move_units, replica.side / move_units};
    intent.look = look_of(replica);
    intent.held = replica.on;
    intent.facing = replica.faces_movement ? Facing::movement : Facing::look;
    return intent;
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

}  // namespace

void pose(const Cast& cast, const Replica& replica, detail::ActionMask on_before, Runner& runner) {
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
    state.around.pace = static_cast<float>(replica.pace / pace_units);
    state.floor = replica.floor == no_floor ? bottomless : replica.floor * replica_length;
    state.cut = replica.cut;
    state.jumps = replica.grounded ? 0 : 1;
    if (state.speed > 0.0) {
        const glm::dvec3 heading = state.velocity / state.speed;
        state.around.wall_normal = glm::vec3(heading);
    }
    for (std::size_t i = 0; i < chart.meters.size(); ++i) {
        state.meters[i].level = chart.meters[i].capacity * replica.level[i] / replica_meter_units;
        state.above[i] = detail::marks_at_or_below(chart.meters[i], state.meters[i].level);
    }
    for (std::size_t i = 0; i < chart.blocks.size(); ++i) {
        state.blocks[i] = static_cast<std::uint8_t>(replica.blocks >> i & 1U);
        state.rooted = state.rooted || (state.blocks[i] != 0 && chart.blocks[i].movement);
    }
    state.moving = detail::moving_facts(chart, state);
    detail::plan_wanted(chart, state);
    state.segment_due = state.next_due = posed_clock;
    state.segment_end = detail::SegmentEnd::replan;
    state.stale = true;
}

Look turned(const Look& from, const Look& to, double part) {
    return {from.yaw + std::remainder(to.yaw - from.yaw, turn) * part,
            std::clamp(from.pitch + (to.pitch - from.pitch) * part, -turn / 4.0, turn / 4.0)};
}

Look look_of(const Replica& replica) {
    return {yaw_of(replica), replica.pitch * (turn / 4.0 / replica_pitch_units)};
}

glm::dvec3 position_of(const Replica& replica) {
    return vector_of(replica.position, replica_length);
}

glm::dvec3 velocity_of(const Replica& replica) {
    return vector_of(replica.velocity, replica_speed) + vector_of(replica.drift, replica_speed);
}

void advance_posed(const Cast& cast, const Replica& replica, double seconds, Runner& runner) {
    // Along a wall only the wall would say more than a straight line.
    if (cast.chart.data().states[replica.state].kind == StateKind::wall) {
        RunnerState& state = RunnerAccess::state(runner);
        state.position += state.velocity * seconds;
        return;
    }
    const Intent intent = intent_of(replica);
    for (double left = seconds;; left -= longest_tick.value) {
        static_cast<void>(advance(cast.chart, runner, intent, Seconds{std::min(left, longest_tick.value)}));
        if (left <= longest_tick.value) {
            return;
        }
    }
}

Carried with_surroundings(const Replica& replica, double seconds, const Runner& runner) {
    const RunnerState& state = RunnerAccess::state(runner);
    const glm::dvec3 from = vector_of(replica.position, replica_length);
    glm::dvec3 way = state.position - from, velocity = state.velocity;
    hold_back(replica, way);
    hold_back(replica, velocity);
    return {from + way + vector_of(replica.drift, replica_speed) * seconds, velocity};
}

namespace {

/// The replica that a posed runner has become after `seconds`.
Replica become(const Cast& cast, const Replica& replica, double seconds, const Runner& runner) {
    const RunnerState& state = RunnerAccess::state(runner);
    const Carried carried = with_surroundings(replica, seconds, runner);
    Replica next = replica;
    for (std::size_t i = 0; i < 3; ++i) {
        const auto axis = static_cast<int>(i);
        next.position[i] = whole_length(carried.position[axis]);
        next.velocity[i] = whole_speed(state.around.grounded && axis == 2 ? 0.0 : carried.velocity[axis]);
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
            detail::level_now(chart, state, i) / chart.meters[i].capacity * replica_meter_units;
        const double refilled = std::max(0.0, replica.rate[i] / rate_units * seconds * replica_meter_units);
        next.level[i] =
            whole(level < replica.level[i] ? level : replica.level[i] + refilled, 0, replica_meter_units);
    }
    return next;
}

/// A look on its way from one replica's to another's.
class Turning {
  public:
    /// From `begins` to `ends`, in 1/16 ticks.
    Turning(const Replica& from, const Replica& to, std::int32_t begins, std::int32_t ends)
        : from_(look_of(from)), begins_(begins), ends_(ends) {
        const Look end = look_of(to);
        way_ = {std::remainder(end.yaw - from_.yaw, turn), end.pitch - from_.pitch};
    }
    [[nodiscard]] bool lasts_in(std::int32_t until) const { return until > begins_; }
    /// In the tick that ends at `end`.
    [[nodiscard]] Look at(std::int32_t end) const {
        const double part = std::max(0.0, static_cast<double>(end - begins_) / (ends_ - begins_));
        return {from_.yaw + way_.yaw * part, from_.pitch + way_.pitch * part};
    }

  private:
    Look from_, way_;
    std::int32_t begins_, ends_;
};

/// A stretch of a prediction, from one time to another in 1/16 ticks, in which the look turns from tick to tick.
Replica predict_turning(const Cast& cast, const Replica& replica, double tick_seconds, std::int32_t at,
                        std::int32_t until, detail::ActionMask on_before, const Turning& turning) {
    constexpr auto fine = static_cast<std::int32_t>(fine_per_tick);
    Runner runner;
    pose(cast, replica, on_before, runner);
    Intent intent = intent_of(replica);
    const double seconds = (until - at) * tick_seconds / fine;
    if (cast.chart.data().states[replica.state].kind == StateKind::wall) {
        advance_posed(cast, replica, seconds, runner);
    } else {
        for (std::int32_t begin = at; begin < until;) {
            const std::int32_t tick_end = (begin / fine + 1) * fine;
            const std::int32_t end = std::min(tick_end, until);
            intent.look = turning.at(tick_end);
            static_cast<void>(
                advance(cast.chart, runner, intent, Seconds{(end - begin) * tick_seconds / fine}));
            begin = end;
        }
    }
    Replica next = become(cast, replica, seconds, runner);
    observe_look(intent.look, next);
    return next;
}

}  // namespace

Replica predict(const Cast& cast, const Replica& replica, double seconds, detail::ActionMask on_before) {
    Runner runner;
    pose(cast, replica, on_before, runner);
    advance_posed(cast, replica, seconds, runner);
    return become(cast, replica, seconds, runner);
}

Replica predict_to(const Cast& cast, const SnapshotInterval& interval, const Replica& replica,
                   std::uint32_t from, std::uint32_t to, const Replica* wishes) {
    const auto every = static_cast<std::int32_t>(interval.fine());
    const std::int32_t whole = static_cast<std::int32_t>(to - from) * every;
    const auto since = [&](FineTime time) {
        return std::clamp(static_cast<std::int32_t>(time - from * interval.fine()), 0, whole);
    };
    const std::int32_t acts_at =
        wishes != nullptr && !same_acts(*wishes, replica) ? since(wishes->changed) : -1;
    std::optional<Turning> turning;
    if (wishes != nullptr && !same_look(*wishes, replica) && whole > 0) {
        turning.emplace(replica, *wishes, std::min(since(wishes->turned), whole - 1), whole);
    }
    Replica now = replica;
    for (std::int32_t at = 0; at < whole;) {
        const detail::ActionMask on_before = now.on;
        std::int32_t until = (at / every + 1) * every;
        if (acts_at > at) {
            until = std::min(until, acts_at);
        } else if (acts_at == at) {
            take_acts(*wishes, now);
        }
        now = turning && turning->lasts_in(until)
                  ? predict_turning(cast, now, interval.tick_seconds, at, until, on_before, *turning)
                  : predict(cast, now, (until - at) * interval.tick_seconds / fine_per_tick, on_before);
        at = until;
    }
    if (wishes != nullptr) {
        take_wishes(*wishes, now);
    }
    return now;
}

Replica rounded(const Replica& replica) {
    const auto round = [](std::int32_t value) {
        const std::int32_t units = (value + told_unit / 2) >= 0 ? (value + told_unit / 2) / told_unit
                                                                : -((-value + told_unit / 2 - 1) / told_unit);
        return units * told_unit;
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
