#include "core/instant.hpp"

#include <algorithm>

#include "core/aim.hpp"
#include "core/conditions.hpp"
#include "core/entry.hpp"
#include "core/facts.hpp"
#include "core/leg.hpp"
#include "core/meters.hpp"
#include "core/pushes.hpp"
#include "core/surroundings.hpp"

namespace cursimeter::detail {

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

namespace {

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
    write_levels(chart, runner);
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
    const bool due_now = std::min(runner.leg_due, runner.crossing_due) <= runner.clock + instant_width.value;
    if (instant.facts_changed || runner.stale || due_now || runner.other_due <= runner.clock + dt) {
        return false;
    }
    if (steered(instant.chart.states[runner.state])) {
        if (instant.wanted_changed) {
            plan_wanted(instant.chart, runner);
        }
        const bool turned = instant.wanted_changed || (instant.turned && !runner.idle);
        if (turned && follow_ramp(instant.chart, runner, dt)) {
            runner.next_due = std::min(runner.leg_due, runner.other_due);
            return true;
        }
        continue_leg(instant);
    }
    if (instant.facts_changed || runner.clock + dt >= runner.next_due) {
        return false;
    }
    glide(instant.chart, runner, dt);
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
