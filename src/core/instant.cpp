#include "core/instant.hpp"

#include <algorithm>
#include <bit>

#include "core/aim.hpp"
#include "core/conditions.hpp"
#include "core/facts.hpp"
#include "core/leg.hpp"
#include "core/meters.hpp"

namespace cursimeter::detail {
namespace {

void enter(Instant& instant, const Choice& choice) {
    RunnerState& runner = instant.runner;
    instant.emit(EventKind::left, runner.state, runner.distance);
    runner.state = choice.state;
    runner.state_since = runner.clock;
    instant.emit(EventKind::entered, runner.state, runner.distance, choice.cause);
    instant.aim_changed = true;
    instant.momentary &= ~choice.used_up;  // a press brings about one change
}

std::uint64_t speed_facts(const ChartData& chart, const RunnerState& runner) {
    std::uint64_t bits = 0;
    // A crossing found by closed form is met up to rounding: whatever will be crossed within the
    // width of an instant counts as crossed.
    const double reach = runner.trend == Trend::level
                             ? 0.0
                             : steepest_change(runner) * instant_width.value + 1e-12;
    const double speed = runner.trend == Trend::falling ? runner.speed - reach : runner.speed + reach;
    for (const SpeedMark& mark : chart.speed_marks) {
        if (speed >= mark.value) {
            bits |= mark.derived_bit;
        }
    }
    return bits;
}

double next_crossing(const ChartData& chart, const RunnerState& runner, std::uint64_t above) {
    if (runner.trend == Trend::level || chart.speed_marks.empty()) {
        return never;
    }
    const LegShape leg = shape_of(runner);
    const double last_speed = speed_after(leg, std::max(0.0, runner.leg_due - runner.clock));
    double due = never;
    for (const SpeedMark& mark : chart.speed_marks) {
        const bool is_above = (above & mark.derived_bit) != 0;
        const bool crosses = runner.trend == Trend::rising ? !is_above && last_speed > mark.value
                                                           : is_above && last_speed < mark.value;
        if (crosses) {
            due = std::min(due, runner.clock + time_to_speed(leg, runner.trend, mark.value));
        }
    }
    return due;
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
    runner.held ^= mask;
    const bool toggle = (runner.toggles & mask) != 0;
    if (toggle ? down : true) {
        runner.on = static_cast<std::uint16_t>(runner.on ^ mask);
    }
    instant.momentary |= fact::bit((down ? fact::pressed_first : fact::released_first) + action);
    instant.facts_changed = true;
    instant.emit(down ? EventKind::pressed : EventKind::released, action);
}

void take_change(Instant& instant, const Change& change) {
    bool defined = true;
    switch (change.kind) {
        case ChangeKind::press:
            take_key(instant, change.action.index, true);
            break;
        case ChangeKind::release:
            take_key(instant, change.action.index, false);
            break;
        case ChangeKind::move:
            defined = take_move(instant.runner, change.x, change.y);
            instant.aim_changed = true;
            break;
        case ChangeKind::look:
            defined = take_look(instant.runner, change.x, change.y);
            instant.aim_changed = true;
            break;
        default:
            defined = false;
    }
    instant.report.intent_mended = instant.report.intent_mended || !defined;
}

void take_start(Instant& instant, const Intent& intent) {
    RunnerState& runner = instant.runner;
    if (intent.move.forward != runner.move_forward || intent.move.side != runner.move_side) {
        take_change(instant, Change::move_to(intent.move, 0.0));
    }
    if (intent.look.yaw != runner.look_yaw || intent.look.pitch != runner.look_pitch) {
        take_change(instant, Change::look_to(intent.look, 0.0));
    }
    std::uint32_t changed = intent.held ^ runner.held;
    while (changed != 0) {
        const auto action = static_cast<std::uint8_t>(std::countr_zero(changed));
        changed &= changed - 1;
        take_key(instant, action, (intent.held >> action & 1U) != 0);
    }
}

Facts gather(const ChartData& chart, const RunnerState& runner, std::uint64_t momentary) {
    Facts facts;
    facts.fixed = std::uint64_t{runner.on} << fact::on_first | momentary |
                  moving_facts(chart, runner) | fact::bit(fact::grounded);
    for (std::size_t i = 0; i < chart.meters.size(); ++i) {
        const CompiledMeter& meter = chart.meters[i];
        for (const Mark& mark : meter.marks) {
            if (runner.meters[i].level >= mark.from) {
                facts.derived |= mark.derived_bit;
            }
        }
        if ((runner.spent >> i & 1U) != 0) {
            facts.derived |= meter.spent_bit;
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

void settle_instant(Instant& instant) {
    const ChartData& chart = instant.chart;
    RunnerState& runner = instant.runner;
    if (reach_marks(chart, runner,
                    [&](MeterEvent event) { instant.emit(event); })) {
        instant.facts_changed = true;
    }
    std::uint32_t entered = 0;
    Facts before = runner.facts;
    // Each pass enters a state (at most once each) or is one of the few in which a leg's start moves
    // the speed across a mark.
    const std::size_t most_passes = chart.states.size() + 3;
    for (std::size_t pass = 0; pass < most_passes; ++pass) {
        const Facts now = gather(chart, runner, instant.momentary);
        const Choice choice = choose(chart, runner.state, before, now, entered);
        runner.facts = now;
        before = now;
        if (choice.change) {
            entered |= std::uint32_t{1} << choice.state;
            enter(instant, choice);
        }
        const bool moved_on = instant.aim_changed || runner.leg_due <= runner.clock;
        if (instant.aim_changed) {
            aim(chart, runner);
            instant.aim_changed = false;
        }
        if (moved_on) {
            plan_leg(chart, runner);
        }
        if (!choice.change && !moved_on) {
            break;
        }
    }
    runner.facts.fixed &= ~fact::momentary;
    runner.stale = false;
    instant.momentary = 0;
    instant.facts_changed = false;
    refresh_rates(chart, runner, [&](MeterEvent event) { instant.emit(event); });
    plan_dues(chart, runner);
}

void plan_dues(const ChartData& chart, RunnerState& runner) {
    runner.crossing_due = next_crossing(chart, runner, runner.facts.derived);
    runner.time_due = next_time(chart, runner);
    plan_meters(chart, runner);
    double due = std::min({runner.leg_due, runner.crossing_due, runner.time_due});
    for (std::size_t i = 0; i < runner.meter_count; ++i) {
        due = std::min(due, runner.meters[i].due);
    }
    runner.next_due = due;
}

}  // namespace cursimeter::detail
