#include "core/tick/follow_segment.hpp"

#include <algorithm>

#include "core/choose/watched.hpp"
#include "core/contact/footing.hpp"
#include "core/contact/surroundings.hpp"
#include "core/effects/meters.hpp"
#include "core/effects/modifiers.hpp"
#include "core/motion/aim.hpp"
#include "core/motion/crossing.hpp"
#include "core/motion/footsteps.hpp"
#include "core/motion/segment.hpp"
#include "core/numbers/space.hpp"
#include "core/runner/timers.hpp"
#include "core/tick/turning.hpp"
#include "core/tick/way.hpp"
#include "core/want/move_and_look.hpp"

namespace cursimeter::detail {

namespace {

double next_time(const ChartData& chart, const RunnerState& runner, const DerivedFacts& watched) {
    double due = never;
    for (const TimeMark& mark : chart.time_marks) {
        const double at = runner.state_since + mark.seconds;
        if (watched.test(mark.bit) && at > runner.clock + instant_width.value) {
            due = std::min(due, at);
        }
    }
    return due;
}

}  // namespace

bool plan_motion(Instant& instant) {
    RunnerState& runner = instant.runner;
    const double speed = runner.speed, rise = runner.velocity.z;
    if (instant.dirty.any(dirty::wanted) || (instant.dirty.any(dirty::aim) && on_slope(runner.around))) {
        plan_wanted(instant.chart, runner);
    }
    bool takes_off = aims_off_ground(instant.chart, runner);
    if (takes_off && runner.clock + instant_width.value < runner.landed_at + landing_pause) {
        start_timer(runner, timer::landing, runner.landed_at + landing_pause - runner.clock);
        takes_off = false;
    }
    if (takes_off) {
        leave_ground(instant);
    }
    instant.dirty.found(dirty::wanted | dirty::aim);
    plan_segment(instant.chart, runner);
    const double now = runner.velocity.z;  // a flier's nods leave its speed
    const bool rose =
        now != rise && any_rise_between(instant.chart, std::min(rise, now), std::max(rise, now));
    const bool jumped =
        runner.trend == Trend::constant && runner.speed != speed &&
        any_mark_between(instant.chart, std::min(speed, runner.speed), std::max(speed, runner.speed));
    return takes_off || jumped || rose;
}

namespace {

/// When something changes that one of the watched facts reads.
void plan_watched(const ChartData& chart, RunnerState& runner) {
    const DerivedFacts& watched = runner.watched;
    double due = next_time(chart, runner, watched);
    if (runner.ticking != 0) {
        due = std::min(due, next_timer_due(runner));
    }
    if (runner.modifier_count != 0) {
        due = std::min(due, next_modifier_due(chart, runner));
    }
    if (runner.flowing != 0) {
        due = std::min(due, next_mark_due(chart, runner, watched));
        if (chart.has_scales) {
            due = std::min(due, next_scale_due(chart, runner));
        }
    }
    const double crossing = next_crossing(chart, runner, watched);
    // What is found from the clock, fades and scales, may come out another way in the last bit when it is found again.
    runner.due_on_segment =
        crossing < due || runner.by_distance != 0 || runner.modifier_count != 0 || chart.has_scales;
    runner.condition_due = std::min(due, crossing);
    runner.next_due = std::min(runner.segment_due, runner.condition_due);
}

/// The same where nothing but the segment has changed: what is watched depends on facts alone.
void plan_conditions_on_segment(const Instant& instant) {
    RunnerState& runner = instant.runner;
    if (runner.due_on_segment) {
        plan_watched(instant.chart, runner);
        return;
    }
    if (runner.segment != SegmentKind::steady) {
        const double crossing = next_crossing(instant.chart, runner, runner.watched);
        runner.due_on_segment = crossing < runner.condition_due;
        runner.condition_due = std::min(runner.condition_due, crossing);
    }
    runner.next_due = std::min(runner.segment_due, runner.condition_due);
}

}  // namespace

void plan_conditions(const Instant& instant) {
    instant.runner.watched = watched_facts(instant.chart, instant.runner);
    plan_watched(instant.chart, instant.runner);
}

void give_up_motion(Instant& instant) {
    Surroundings& around = instant.runner.around;
    set_velocity(instant.runner, {0.0, 0.0, 0.0});
    around.cornered = around.grounded && around.barrier_count != 0;  // until another motion is wanted
    instant.report.instants_capped = true;
    instant.dirty.note(Changed::way);
}

void finish_fall(Instant& instant) {
    RunnerState& runner = instant.runner;
    runner.position.z = runner.floor;
    runner.segment_end = SegmentEnd::replan;
    touch_down(instant);
}

bool follow_turn(Instant& instant, double dt) {
    RunnerState& runner = instant.runner;
    if (instant.dirty.any(dirty::facts) || runner.stale ||
        runner.condition_due <= reach_of_tick(runner, dt)) {
        return false;
    }
    const bool due_now = runner.segment_due <= runner.clock + instant_width.value;
    if (is_steered(instant.chart.states[runner.state], runner)) {
        if (instant.dirty.any(dirty::wanted)) {
            plan_wanted(instant.chart, runner);
        }
        const bool turned =
            instant.dirty.any(dirty::wanted) || (instant.dirty.any(dirty::aim) && !runner.idle);
        // A segment that the last turn left to be planned anew need not be.
        const bool follows = !due_now || runner.segment_end == SegmentEnd::replan;
        if (turned && follows && follow_target(instant.chart, runner, dt)) {
            return true;
        }
        if (!due_now) {
            continue_segment(instant);
        }
    }
    if (due_now) {
        return false;
    }
    if (instant.dirty.any(dirty::facts) || runner.clock + dt >= runner.next_due) {
        return false;
    }
    const StepsFrom start(instant.chart, runner);  // of the segment as it is now
    glide(instant.chart, runner, dt);
    tell_steps(instant.chart, runner, instant.report, start, start.clock);
    return true;
}

void replan_segment(Instant& instant) {
    RunnerState& runner = instant.runner;
    const bool turned = instant.dirty.any(dirty::aim) && !runner.idle &&
                        is_steered(instant.chart.states[runner.state], runner);
    const bool retargeted = instant.dirty.any(dirty::wanted) || turned;
    instant.dirty.found(dirty::aim);
    if (!retargeted && runner.segment_due > runner.clock) {
        return;
    }
    if (!retargeted && runner.segment_end == SegmentEnd::arrival) {
        arrive(instant.chart, runner);
        plan_landing(instant.chart, runner);
    } else {
        // A jump of the speed may have crossed a mark.
        const bool jumped = plan_motion(instant);
        instant.dirty.note(Changed::moving, jumped && (instant.chart.speed_marks.size() +
                                                       instant.chart.rise_marks.size()) != 0);
    }
    plan_conditions_on_segment(instant);
}

}  // namespace cursimeter::detail
