#include "core/instant.hpp"

#include <algorithm>
#include <bit>

#include "core/aim.hpp"
#include "core/conditions.hpp"
#include "core/entry.hpp"
#include "core/facts.hpp"
#include "core/leg.hpp"
#include "core/meters.hpp"
#include "core/pushes.hpp"
#include "core/surroundings.hpp"

namespace cursimeter::detail {
namespace {

void change_move(Instant& instant, const Move& move) {
    instant.runner.around.cornered = false;
    if (!take_move(instant.runner, move.forward, move.side)) {
        instant.report.intent_mended = true;
    }
    instant.wanted_changed = true;
    const std::uint8_t moving = moving_facts(instant.chart, instant.runner);
    instant.facts_changed = instant.facts_changed || moving != instant.runner.moving;
    instant.runner.moving = moving;
}

void change_look(Instant& instant, const Look& look) {
    if (!take_look(instant.runner, look.yaw, look.pitch)) {
        instant.report.intent_mended = true;
    }
    instant.runner.around.cornered = false;
    instant.turned = true;
}

// A crossing found by closed form is met up to rounding: whatever will be crossed within the width of an
// instant counts as crossed.
std::uint64_t speed_facts(const ChartData& chart, const RunnerState& runner) {
    std::uint64_t bits = 0;
    const double reach = runner.trend == Trend::level
                             ? 0.0
                             : length_of(acceleration_now(chart, runner)) * instant_width.value + 1e-12;
    const double speed = runner.trend == Trend::falling ? runner.speed - reach : runner.speed + reach;
    for (const SpeedMark& mark : chart.speed_marks) {
        if (speed >= mark.value) {
            bits |= mark.derived_bit;
        }
    }
    return bits;
}

std::uint64_t rise_facts(const ChartData& chart, const RunnerState& runner) {
    std::uint64_t bits = 0;
    const double ahead = acceleration_now(chart, runner).z * instant_width.value;
    const double rise = runner.velocity.z + ahead + (ahead > 0.0 ? 1e-12 : ahead < 0.0 ? -1e-12 : 0.0);
    for (const RiseMark& mark : chart.rise_marks) {
        if (rise >= mark.value) {
            bits |= mark.derived_bit;
        }
    }
    return bits;
}

/// Facts about contacts, pushes and zones.
std::uint64_t contact_facts(const RunnerState& runner) {
    const Surroundings& around = runner.around;
    const auto when = [](bool holds, unsigned bit) { return holds ? fact::bit(bit) : 0; };
    return when(around.grounded, fact::grounded) | when(around.headroom, fact::headroom) |
           when(around.by_wall, fact::wall) |
           when(around.grounded || ticks(runner, timer::coyote), fact::footing) |
           when(is_pushed(runner), fact::pushed) | when(runner.locks != 0, fact::locked) |
           std::uint64_t{around.zones} << fact::zone_first;
}

/// Presses that wait for a state that they can bring about.
std::uint64_t buffered_presses(const ChartData& chart, const RunnerState& runner) {
    std::uint64_t bits = 0;
    for (unsigned i = 0; i < chart.buffered_count; ++i) {
        if (ticks(runner, timer::buffer_first + i)) {
            bits |= fact::bit(fact::pressed_first + chart.buffered[i]);
        }
    }
    return bits;
}

double next_time(const ChartData& chart, const RunnerState& runner) {
    double due = never;
    for (const TimeMark& mark : chart.time_marks) {
        const double at = runner.state_since + mark.seconds;
        if (at > runner.clock + instant_width.value) {
            due = std::min(due, at);
        }
    }
    return due;
}

}  // namespace

void Instant::emit(EventKind kind, std::uint8_t subject, double value, Cause cause) {
    if (report.event_count == report.event_table.size()) {
        ++report.events_lost;
        return;
    }
    report.event_table[report.event_count++] = {at, value, kind, subject, cause};
}

void Instant::emit(MeterEvent event) {
    emit(event.kind, event.meter, runner.meters[event.meter].level);
}

void take_key(Instant& instant, std::uint8_t action, bool down) {
    if (action >= instant.chart.actions.size()) {
        instant.report.intent_mended = true;
        return;
    }
    RunnerState& runner = instant.runner;
    const std::uint32_t mask = std::uint32_t{1} << action;
    if (((runner.held & mask) != 0) == down) {
        return;
    }
    runner.held = static_cast<std::uint16_t>(runner.held ^ mask);
    if ((runner.toggles & mask) == 0) {
        runner.on = static_cast<std::uint16_t>(down ? runner.on | mask : runner.on & ~mask);
    } else if (down) {
        runner.on = static_cast<std::uint16_t>(runner.on ^ mask);
    }
    instant.momentary |= fact::bit((down ? fact::pressed_first : fact::released_first) + action);
    const CompiledAction& compiled = instant.chart.actions[action];
    if (down && compiled.buffer_slot != no_buffer) {
        start_timer(runner, timer::buffer_first + compiled.buffer_slot, compiled.buffer);
    }
    const CompiledState& state = instant.chart.states[runner.state];
    if (!down && state.launch.by == action && runner.velocity.z > 0.0) {
        runner.cut = true;
        instant.turned = true;
    }
    if (state.kind == StateKind::fly && (state.fly.up == action || state.fly.down == action)) {
        instant.turned = true;
    }
    instant.facts_changed = true;
    instant.emit(down ? EventKind::pressed : EventKind::released, action);
}

void take_change(Instant& instant, const Change& change) {
    switch (change.kind) {
        case ChangeKind::press:
            take_key(instant, change.action.index, true);
            break;
        case ChangeKind::release:
            take_key(instant, change.action.index, false);
            break;
        case ChangeKind::move:
            change_move(instant, {change.x, change.y});
            break;
        case ChangeKind::look:
            change_look(instant, {change.x, change.y});
            break;
        default:
            instant.report.intent_mended = true;
    }
}

void take_start(Instant& instant, const Intent& intent) {
    RunnerState& runner = instant.runner;
    if (intent.move.forward != runner.move_forward || intent.move.side != runner.move_side) {
        change_move(instant, intent.move);
    }
    if (intent.look.yaw != runner.look_yaw || intent.look.pitch != runner.look_pitch) {
        change_look(instant, intent.look);
    }
    std::uint32_t changed = intent.held ^ runner.held;
    while (changed != 0) {
        const auto action = static_cast<std::uint8_t>(std::countr_zero(changed));
        changed &= changed - 1;
        take_key(instant, action, (intent.held >> action & 1U) != 0);
    }
}

std::uint64_t meter_facts(const ChartData& chart, const RunnerState& runner) {
    std::uint64_t bits = 0;
    for (std::size_t i = 0; i < chart.meters.size(); ++i) {
        const CompiledMeter& meter = chart.meters[i];
        for (const Mark& mark : meter.marks) {
            if (runner.meters[i].level >= mark.from) {
                bits |= mark.derived_bit;
            }
        }
        if ((runner.spent >> i & 1U) != 0) {
            bits |= meter.spent_bit;
        }
    }
    return bits;
}

Facts gather(const ChartData& chart, const RunnerState& runner, std::uint64_t momentary,
             std::uint64_t meter_bits) {
    Facts facts;
    facts.fixed = std::uint64_t{runner.on} << fact::on_first | momentary |
                  std::uint64_t{runner.moving} << fact::moving | contact_facts(runner);
    if (chart.buffered_count != 0) {
        facts.fixed |= buffered_presses(chart, runner);
    }
    facts.derived = meter_bits;
    if (!chart.rise_marks.empty()) {
        facts.derived |= rise_facts(chart, runner);
    }
    for (std::size_t i = 0; i < chart.cooldowns.size(); ++i) {
        if (!ticks(runner, timer::cooldown_first + static_cast<unsigned>(i))) {
            facts.derived |= chart.cooldowns[i].ready_bit;
        }
    }
    for (const std::uint8_t needy : chart.needy) {
        if (possible(chart, runner, chart.states[needy])) {
            facts.derived |= chart.states[needy].possible_bit;
        }
    }
    if (!chart.speed_marks.empty()) {
        facts.derived |= speed_facts(chart, runner);
    }
    for (const TimeMark& mark : chart.time_marks) {
        if (runner.clock + instant_width.value >= runner.state_since + mark.seconds) {
            facts.derived |= mark.derived_bit;
        }
    }
    return facts;
}

namespace {

/// Computes the target anew as far as needed, and the leg towards it. Returns whether the speed made a
/// jump, as it does under the instant law.
bool plan_motion(Instant& instant) {
    RunnerState& runner = instant.runner;
    const double speed = runner.speed;
    if (instant.wanted_changed || (instant.turned && on_slope(runner.around))) {
        plan_wanted(instant.chart, runner);
    }
    const bool takes_off =
        runner.around.grounded && !ticks(runner, timer::coyote) &&
        instant.chart.states[runner.state].kind == StateKind::fly &&
        inner(target_of(instant.chart, runner), ground_normal(runner.around)) > turning_gap;
    if (takes_off) {
        leave_ground(instant);
    }
    instant.wanted_changed = false;
    instant.turned = false;
    plan_leg(instant.chart, runner);
    return takes_off || (runner.trend == Trend::level && runner.speed != speed);
}

/// A state that was entered in an instant already may not be entered in it again. Where a chart asks
/// for that (two states that undo each other's conditions), it is asked again after this pause, s: such
/// a chart changes back and forth a hundred times a second at most, at any tick rate.
constexpr double barred_pause = 0.01;

/// Meters, timers and times: everything that is due for other reasons than motion.
void plan_other(const ChartData& chart, RunnerState& runner) {
    double due = next_time(chart, runner);
    if (runner.ticking != 0) {
        due = std::min(due, next_timer_due(runner));
    }
    for (std::size_t i = 0; i < runner.meter_count; ++i) {
        due = std::min(due, runner.meters[i].due);
    }
    runner.other_due = due;
}

/// A press brings about one change.
void use_up(Instant& instant, std::uint64_t presses) {
    instant.momentary &= ~presses;
    for (unsigned i = 0; i < instant.chart.buffered_count; ++i) {
        if ((presses & fact::bit(fact::pressed_first + instant.chart.buffered[i])) != 0) {
            stop_timer(instant.runner, timer::buffer_first + i);
        }
    }
}

/// A burst that stops has no speed any more when the states after it are tried.
bool stop_burst(Instant& instant) {
    RunnerState& runner = instant.runner;
    const CompiledState& state = instant.chart.states[runner.state];
    const double time = runner.clock + instant_width.value - runner.state_since;
    if (state.kind != StateKind::burst || state.burst.after != After::stop || time < state.burst.seconds) {
        return false;
    }
    set_velocity(runner, {0.0, 0.0, 0.0});
    return true;
}

/// Tries states until one is kept. Each pass but the last enters a state (each once at most) or follows
/// a jump of the speed. Returns whether a state was entered.
bool settle_state(Instant& instant, std::uint64_t meter_bits) {
    const ChartData& chart = instant.chart;
    RunnerState& runner = instant.runner;
    std::uint32_t entered = 0;
    bool motion_changed = instant.wanted_changed || instant.turned || runner.leg_due <= runner.clock;
    stop_timer(runner, timer::retry);
    motion_changed = stop_burst(instant) || motion_changed;
    const std::size_t most_passes = 2 * chart.states.size() + 2;
    for (std::size_t pass = 0; pass < most_passes; ++pass) {
        const Facts before = runner.facts;
        runner.facts = gather(chart, runner, instant.momentary, meter_bits);
        const Choice choice = choose(chart, runner.state, before, runner.facts, entered);
        if (choice.change) {
            entered |= std::uint32_t{1} << choice.state;
            use_up(instant, choice.used_up);
            enter_state(instant, choice.state, choice.cause);
            meter_bits = instant.levels_changed ? meter_facts(chart, runner) : meter_bits;
        }
        if (choice.barred && !choice.change) {
            start_timer(runner, timer::retry, barred_pause);
        }
        motion_changed = motion_changed || choice.change;
        const bool jumped = motion_changed && plan_motion(instant);
        motion_changed = false;
        if (!choice.change && !jumped) {
            break;
        }
    }
    return entered != 0;
}

/// Ends the waits that are over.
void reach_timers(Instant& instant) {
    RunnerState& runner = instant.runner;
    for (unsigned i = 0; runner.ticking >> i != 0; ++i) {
        if (!ticks(runner, i) || timer_due(runner, i) > runner.clock + instant_width.value) {
            continue;
        }
        stop_timer(runner, i);
        instant.turned = instant.turned || i == timer::coyote;
        if (i >= timer::cooldown_first) {
            instant.emit(EventKind::ready, static_cast<std::uint8_t>(i - timer::cooldown_first));
        } else if (i >= timer::push_first && i < timer::buffer_first) {
            const bool locked = runner.locks != 0;
            end_push(runner, i - timer::push_first);
            if (locked) {
                instant.wanted_changed = true;
                runner.moving = moving_facts(instant.chart, runner);
            }
        }
    }
}

/// A push from outside since the last tick.
void take_push(Instant& instant) {
    RunnerState& runner = instant.runner;
    runner.struck = false;
    if (runner.velocity.z > 0.0 && runner.around.grounded &&
        inner(runner.velocity, ground_normal(runner.around)) > turning_gap) {
        leave_ground(instant);
    } else if (runner.around.grounded) {
        follow_ground(runner);
    }
    instant.wanted_changed = true;
    runner.moving = moving_facts(instant.chart, runner);
    const glm::dvec3 carrying = carrying_velocity(instant.chart, runner);
    instant.emit(EventKind::pushed, runner.state, length_of(carrying + runner.velocity));
}

}  // namespace

void settle_instant(Instant& instant) {
    const ChartData& chart = instant.chart;
    RunnerState& runner = instant.runner;
    const std::uint64_t derived_before = runner.facts.derived;
    if (runner.ticking != 0) {
        reach_timers(instant);
    }
    if (runner.struck) {
        take_push(instant);
    }
    instant.levels_changed =
        reach_marks(chart, runner, [&](MeterEvent event) { instant.emit(event); }) || runner.stale;
    const std::uint64_t meter_bits =
        instant.levels_changed ? meter_facts(chart, runner) : derived_before & chart.meter_bits;
    const bool state_changed = settle_state(instant, meter_bits);

    runner.facts.fixed &= ~fact::momentary;
    runner.stale = false;
    instant.momentary = 0;
    instant.facts_changed = false;
    refresh_carried(chart, runner);
    if (instant.levels_changed || state_changed || runner.facts.derived != derived_before) {
        refresh_rates(chart, runner, [&](MeterEvent event) { instant.emit(event); });
        plan_meters(chart, runner);
    } else if (runner.by_distance != 0) {
        plan_meters(chart, runner);
    }
    instant.levels_changed = false;
    plan_other(chart, runner);
    plan_crossing(chart, runner);
    runner.next_due = std::min({runner.leg_due, runner.crossing_due, runner.other_due});
}

void give_up_motion(Instant& instant) {
    set_velocity(instant.runner, {0.0, 0.0, 0.0});
    instant.report.instants_capped = true;
    instant.turned = true;
    instant.facts_changed = true;
}

void finish_leg(Instant& instant) {
    RunnerState& runner = instant.runner;
    if (runner.leg_end != LegEnd::landing || runner.leg_due > runner.clock) {
        return;
    }
    runner.position.z = runner.floor;
    runner.leg_end = LegEnd::replan;
    touch_down(instant);
}

namespace {

/// Whether the state's motion heeds the look and the stick once it is under way.
bool steered(const CompiledState& state) {
    return state.kind != StateKind::slide && state.kind != StateKind::burst;
}

}  // namespace

bool follow_turn(Instant& instant, double dt) {
    RunnerState& runner = instant.runner;
    if (instant.facts_changed || runner.stale || runner.other_due <= runner.clock + dt) {
        return false;
    }
    if (instant.wanted_changed) {
        plan_wanted(instant.chart, runner);
        instant.wanted_changed = false;
        instant.turned = true;
    }
    if (!steered(instant.chart.states[runner.state]) && runner.clock + dt < runner.next_due) {
        instant.turned = false;
        glide(instant.chart, runner, dt);
        return true;
    }
    if (!instant.turned || !follow_ramp(instant.chart, runner, dt)) {
        return false;
    }
    runner.next_due = std::min(runner.leg_due, runner.other_due);
    return true;
}

void continue_leg(Instant& instant) {
    RunnerState& runner = instant.runner;
    const bool turned = instant.turned && !runner.idle && steered(instant.chart.states[runner.state]);
    const bool retargeted = instant.wanted_changed || turned;
    instant.turned = false;
    if (!retargeted && runner.leg_due > runner.clock) {
        return;
    }
    if (!retargeted && runner.leg_end == LegEnd::arrival) {
        arrive(instant.chart, runner);
        plan_landing(instant.chart, runner);
    } else {
        // A jump of the speed may have crossed a mark.
        instant.facts_changed = plan_motion(instant) && !instant.chart.speed_marks.empty();
        plan_crossing(instant.chart, runner);
    }
    if (runner.by_distance != 0) {
        plan_meters(instant.chart, runner);
        plan_other(instant.chart, runner);
    }
    runner.next_due = std::min({runner.leg_due, runner.crossing_due, runner.other_due});
}

}  // namespace cursimeter::detail
