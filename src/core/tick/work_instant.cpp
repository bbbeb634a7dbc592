#include "core/tick/work_instant.hpp"

#include <algorithm>
#include <bit>

#include "core/chart/facts.hpp"
#include "core/choose/choose.hpp"
#include "core/choose/gather.hpp"
#include "core/choose/looking_on.hpp"
#include "core/choose/watched.hpp"
#include "core/contact/footing.hpp"
#include "core/contact/pushes.hpp"
#include "core/contact/surroundings.hpp"
#include "core/effects/cooldowns.hpp"
#include "core/effects/meters.hpp"
#include "core/effects/modifiers.hpp"
#include "core/motion/segment.hpp"
#include "core/numbers/space.hpp"
#include "core/runner/instant.hpp"
#include "core/runner/levels.hpp"
#include "core/runner/timers.hpp"
#include "core/tick/entry.hpp"
#include "core/tick/follow_segment.hpp"
#include "core/want/blocks.hpp"
#include "core/want/move_and_look.hpp"

namespace cursimeter::detail {

namespace {

/// A press brings about one change.
void use_up(Instant& instant, std::uint64_t presses) {
    instant.momentary &= ~presses;
    for (unsigned i = 0; i < instant.chart.buffered_count; ++i) {
        if ((presses & fact::press_bit(instant.chart.buffered[i])) != 0) {
            stop_timer(instant.runner, timer::buffer_first + i);
        }
    }
}

/// A burst that stops has no speed any more when the states after it are tried.
bool stop_burst(Instant& instant) {
    RunnerState& runner = instant.runner;
    const CompiledState& state = instant.chart.states[runner.state];
    if (state.traits.after != After::stop || !has_lasted(runner, state.traits.lasts)) {
        return false;
    }
    set_velocity(runner, {0.0, 0.0, 0.0});
    return true;
}

/// Tells of presses that brought nothing about and wait no longer.
void tell_refusals(Instant& instant, const Facts& facts) {
    std::uint64_t presses = (instant.momentary | instant.expired) & instant.chart.asked_presses;
    if (presses == 0) {
        return;
    }
    for (unsigned i = 0; i < instant.chart.buffered_count; ++i) {
        if (ticks(instant.runner, timer::buffer_first + i)) {
            presses &= ~fact::press_bit(instant.chart.buffered[i]);
        }
    }
    instant.expired = 0;
    while (presses != 0) {
        const std::uint64_t press = presses & (std::uint64_t{0} - presses);
        presses &= ~press;
        if (const auto refusing = refusal_of(instant.chart, instant.runner, facts, press)) {
            instant.emit(EventKind::refused, refusing->state, 0.0, refusing->cause);
        }
    }
}

/// Speeds, levels and times that nothing watched have crossed their marks at some time before this instant: they are no news.
void note_unwatched(const ChartData& chart, Facts& before, const Facts& now, const DerivedFacts& watched) {
    const DerivedFacts unwatched = chart.crossing_bits & ~watched;
    before.derived = (before.derived & ~unwatched) | (now.derived & unwatched);
}

/// The states that may not come back by themselves yet.
std::uint64_t held_back(const RunnerState& runner) {
    return is_lately(runner, runner.state_since) ? runner.lately_left : 0;
}

/// Something came from outside: whatever changes now is not the chart undoing itself.
void forget_left(RunnerState& runner) {
    runner.lately_left = runner.lately_switched = 0;
    runner.undoing = false;
}

/// Leaves the present state for the one that was chosen. One that was left is kept from coming back for a while, unless
/// a key brings the change about.
void change_state(Instant& instant, const Choice& choice) {
    RunnerState& runner = instant.runner;
    runner.lately_left = held_back(runner) | std::uint64_t{1} << runner.state;
    if (choice.used_up != 0) {
        forget_left(runner);
    }
    use_up(instant, choice.used_up);
    enter_state(instant, choice.state, choice.cause);
}

/// States undo each other's conditions: the one that has to wait is tried again when it may come back.
void hold_back(Instant& instant, std::uint8_t state) {
    RunnerState& runner = instant.runner;
    wait_for_return(runner, runner.state_since);
    if (!runner.undoing) {
        runner.undoing = true;
        instant.emit(EventKind::held_back, state);
    }
}

/// Tries states until one is kept. Each pass but the last enters a state or follows a jump of the speed. Returns whether
/// a state was entered.
bool choose_state(Instant& instant, DerivedFacts meter_bits) {
    const ChartData& chart = instant.chart;
    RunnerState& runner = instant.runner;
    bool entered = false;
    const Bans bans = bans_of(chart, runner);
    // A press that has been waiting held before as it does now.
    const std::uint64_t waiting = buffered_presses(chart, runner) & ~instant.momentary;
    Facts facts{fact::fixed_of(runner.lasting, waiting), runner.derived};
    runner.derived ^= instant.crossed;
    instant.crossed = {};
    bool motion_changed = instant.dirty.any(dirty::wanted | dirty::aim) || runner.segment_due <= runner.clock;
    stop_timer(runner, timer::hold_back);
    motion_changed = stop_burst(instant) || motion_changed;
    const std::size_t most_passes = 2 * chart.states.size() + 2;
    for (std::size_t pass = 0; pass < most_passes; ++pass) {
        Facts before = facts;
        facts = gather(chart, runner, instant.momentary, meter_bits);
        if (pass == 0 && ((before.derived ^ facts.derived) & chart.crossing_bits).any()) {
            note_unwatched(chart, before, facts, runner.watched);
        }
        if (pass == 0 && ((before.fixed ^ facts.fixed) & fact::from_outside).any()) {
            forget_left(runner);
        }
        while (chart.has_conditional && follow_conditions(instant, facts)) {  // each switches once at most
            motion_changed = true;
            facts = gather(chart, runner, instant.momentary, meter_bits);
        }
        runner.derived = facts.derived;
        const std::uint64_t barred = held_back(runner);
        const Choice choice = choose(chart, runner, before, facts, barred, bans);
        if (instant.watch != nullptr) {
            instant.watch->tell(instant.watch->to,
                                {runner.clock, runner.state, before, facts, barred, bans, choice});
        }
        if (choice.change) {
            entered = true;
            change_state(instant, choice);
            meter_bits = instant.dirty.any(dirty::levels) ? meter_facts(chart, runner) : meter_bits;
        } else if (choice.barred) {
            hold_back(instant, choice.barred_state);
        }
        motion_changed = motion_changed || choice.change;
        const bool jumped = motion_changed && plan_motion(instant);
        motion_changed = false;
        if (!choice.change && !jumped) {
            break;
        }
    }
    runner.lasting = fact::lasting_of(facts.fixed);
    tell_refusals(instant, facts);
    return entered;
}

/// Ends the waits that are over.
void reach_timers(Instant& instant) {
    RunnerState& runner = instant.runner;
    for (TimerMask left = runner.ticking; left != 0; left &= left - 1) {
        const auto i = static_cast<unsigned>(std::countr_zero(left));
        if (!ticks(runner, i) || timer_due(runner, i) > runner.clock + instant_width.value) {
            continue;
        }
        stop_timer(runner, i);
        instant.dirty.note(Changed::look, i == timer::landing);
        if (i >= timer::refill_first) {
            instant.dirty.note(Changed::refill);
        } else if (i >= timer::cooldown_first) {
            regain_charge(instant, static_cast<std::uint8_t>(i - timer::cooldown_first));
        } else if (i >= timer::buffer_first) {
            instant.expired |= fact::press_bit(instant.chart.buffered[i - timer::buffer_first]);
        } else if (i >= timer::push_first) {
            const bool locked = runner.locks != 0;
            end_push(runner, i - timer::push_first);
            if (locked) {
                instant.dirty.note(Changed::control);
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
    instant.dirty.note(Changed::control);
    runner.moving = moving_facts(instant.chart, runner);
    const glm::dvec3 carrying = carrying_velocity(instant.chart, runner);
    instant.emit(EventKind::pushed, runner.state, length_of(carrying + runner.velocity));
}

}  // namespace

void work_instant(Instant& instant) {
    const ChartData& chart = instant.chart;
    RunnerState& runner = instant.runner;
    const DerivedFacts derived_before = runner.derived;
    const LastingFacts lasting_before = runner.lasting;
    write_levels(chart, runner);
    if (advance_modifiers(instant)) {
        instant.dirty.note(Changed::modifier);
    }
    if (runner.stale) {
        runner.moving = moving_facts(chart, runner);
    }
    if (runner.ticking != 0) {
        reach_timers(instant);
    }
    if (runner.struck) {
        take_push(instant);
    }
    if (runner.levels_moved) {
        take_levels(instant);
    }
    instant.dirty.note(Changed::level, reach_marks(instant));
    instant.dirty.note(Changed::woken, runner.stale);
    const DerivedFacts meter_bits =
        instant.dirty.any(dirty::levels) ? meter_facts(chart, runner) : derived_before & chart.meter_bits;
    const bool state_changed = choose_state(instant, meter_bits);

    runner.stale = false;
    instant.momentary = 0;
    instant.dirty.found(dirty::facts);
    refresh_carried(chart, runner);
    const bool rates_changed = instant.dirty.any(dirty::rates) || chart.has_scales ||
                               (chart.has_refill_conditions && runner.lasting != lasting_before);
    if (instant.dirty.any(dirty::levels | dirty::modifiers) || rates_changed || state_changed ||
        runner.derived != derived_before) {
        refresh_rates(instant);
    }
    instant.dirty.found(dirty::levels | dirty::rates | dirty::modifiers);
    plan_conditions(instant);
}

}  // namespace cursimeter::detail
