#include "core/effects/modifiers.hpp"

#include <algorithm>

#include "core/effects/cooldowns.hpp"
#include "core/effects/grants.hpp"
#include "core/runner/amounts.hpp"
#include "core/runner/holders.hpp"
#include "core/runner/timers.hpp"

namespace cursimeter::detail {
namespace {

double next_due(const ChartData& chart, const RunnerState& runner, const ModifierState& state) {
    if (!state.timed) {
        return never;
    }
    const double end = time_of(state.stamp, runner.clock);
    const double slices = is_fade(kind_of(chart, state), state) ? slices_left(end - runner.clock) : 1.0;
    return end - std::max(0.0, slices - 1.0) * fade_slice;
}

/// A modifier has begun, or has one stack more.
void tell_begin(Instant& instant, ModifierState& state) {
    state.untold = false;
    instant.emit(state.stacks > 1 ? EventKind::stacked : EventKind::began, state.modifier, state.stacks);
}

/// What is due of one modifier. Returns false if it is over.
bool go_on(Instant& instant, const CompiledModifier& kind, ModifierState& state) {
    RunnerState& runner = instant.runner;
    const double end = time_of(state.stamp, runner.clock);
    switch (state.phase) {
        case ModifierPhase::rising:
            if (kind.build > 0.0) {
                ++state.stacks;
                tell_begin(instant, state);
                state.stamp = stamp_of(end + kind.build);
                state.timed = state.stacks < kind.most;
                state.phase = state.timed ? ModifierPhase::rising : ModifierPhase::holding;
                return true;
            }
            state.phase = ModifierPhase::holding;
            state.timed = kind.seconds > 0.0;
            state.stamp = stamp_of(end + std::max(0.0, kind.seconds - kind.fade_in));
            return true;
        case ModifierPhase::holding:
            if (is_shared(kind)) {
                drop_others(runner, state.modifier);
            }
            state.phase = ModifierPhase::falling;
            state.stamp = stamp_of(end + kind.fade_out);
            return kind.fade_out > 0.0;
        case ModifierPhase::falling:
            if (kind.shed > 0.0 && state.stacks > 1) {
                --state.stacks;
                instant.emit(EventKind::stacked, state.modifier, state.stacks);
                state.stamp = stamp_of(end + kind.shed);
                return true;
            }
            return false;
        case ModifierPhase::over:
            return false;
    }
    return true;
}

}  // namespace

double next_modifier_due(const ChartData& chart, const RunnerState& runner) {
    double due = never;
    for (const ModifierState& state : runner.modifiers) {
        if (state.strength == 0) {
            break;
        }
        due = std::min(due, next_due(chart, runner, state));
    }
    return due;
}

bool advance_present_modifiers(Instant& instant) {
    const ChartData& chart = instant.chart;
    RunnerState& runner = instant.runner;
    const CooldownRates rates = cooldown_rates(chart, runner);
    std::array<std::uint8_t, limits::modifiers> following{};
    std::size_t follow_count = 0;
    bool changed = false;
    for (ModifierState& state : runner.modifiers) {
        if (state.strength == 0) {
            break;
        }
        const CompiledModifier& kind = kind_of(chart, state);
        if (state.untold) {
            changed = true;
            tell_begin(instant, state);
        }
        changed = changed || is_fade(kind, state);  // another slice, perhaps
        const bool due =
            state.timed && time_of(state.stamp, runner.clock) <= runner.clock + instant_width.value;
        if (state.phase != ModifierPhase::over && !due) {
            continue;
        }
        changed = true;
        if (!go_on(instant, kind, state)) {
            const bool began = state.stacks > 0;
            if (!began) {  // removed while it waited for its first stack: nothing was told of it
                state = ModifierState();
                continue;
            }
            instant.emit(EventKind::ended, state.modifier);
            if (kind.then != no_modifier) {
                following[follow_count++] = kind.then;
            }
            state = ModifierState();
        }
    }
    if (changed) {
        sort_modifiers(runner);
        rescale_cooldowns(chart, runner, rates);
        for (std::size_t i = 0; i < follow_count; ++i) {
            begin_modifier(instant, following[i], meter_source);
        }
    }
    return changed;
}

void begin_modifier(Instant& instant, std::uint8_t modifier, std::uint8_t source) {
    if (!grant_modifier(instant.chart, instant.runner, modifier, source, 100)) {
        instant.emit(EventKind::crowded, modifier);
        return;
    }
    for (ModifierState& state : instant.runner.modifiers) {
        if (state.untold && state.modifier == modifier) {
            tell_begin(instant, state);
        }
    }
    instant.dirty.note(Changed::modifier);
}

bool follow_conditions(Instant& instant, const Facts& facts) {
    const ChartData& chart = instant.chart;
    RunnerState& runner = instant.runner;
    bool changed = false;
    for (std::uint8_t i = 0; i < chart.modifiers.size(); ++i) {
        const CompiledModifier& kind = chart.modifiers[i];
        if (!kind.conditional) {
            continue;
        }
        const bool holds = holding_clause(chart, kind.holds_while, facts) != -1;
        const ModifierState* state = granted_place(chart, runner, i, chart_source);
        const bool wanted = state != nullptr && state->phase < ModifierPhase::falling &&
                            is_holder(runner, *state, chart_source);
        if (holds == wanted || (holds && !has_room(kind, runner, state, chart_source))) {
            continue;
        }
        const std::uint32_t lately = is_lately(runner, runner.switched_at) ? runner.lately_switched : 0;
        if ((lately >> i & 1U) != 0) {  // its condition undoes itself
            wait_for_return(runner, runner.switched_at);
            continue;
        }
        runner.lately_switched = lately | std::uint32_t{1} << i;
        runner.switched_at = runner.clock;
        if (holds) {
            begin_modifier(instant, i, chart_source);
        } else {
            release_modifier(chart, runner, i, chart_source, false);
            advance_modifiers(instant);
        }
        instant.dirty.note(Changed::modifier);
        changed = true;
    }
    return changed;
}

}  // namespace cursimeter::detail
