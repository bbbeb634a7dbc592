#include "core/effects/modifiers.hpp"

#include <algorithm>
#include <cmath>
#include <tuple>

#include "core/effects/cooldowns.hpp"
#include "core/runner/amounts.hpp"
#include "core/runner/holders.hpp"
#include "core/runner/timers.hpp"

namespace cursimeter::detail {
namespace {

void set_end(const RunnerState& runner, ModifierState& state, double seconds) {
    state.timed = true;
    state.stamp = stamp_of(runner.clock + seconds);
}

/// The share of its strength that it has now, without steps: where a fade turns back.
double progress_of(const CompiledModifier& kind, const RunnerState& runner, const ModifierState& state) {
    if (!is_fade(kind, state)) {
        return 1.0;
    }
    const double left = seconds_left(runner, state);
    return state.phase == ModifierPhase::rising ? std::clamp(1.0 - left / kind.fade_in, 0.0, 1.0)
                                                : std::clamp(left / kind.fade_out, 0.0, 1.0);
}

/// Sorted by what can be told of each, so that equal sets lie equally.
void sort(RunnerState& runner) {
    const auto key = [](const ModifierState& state) {
        return std::tuple(state.strength == 0, state.modifier, state.phase != ModifierPhase::over,
                          state.source, state.strength, state.phase, std::uint8_t{state.stacks},
                          word_of(state.stamp));
    };
    std::sort(runner.modifiers.begin(), runner.modifiers.end(),
              [&](const ModifierState& a, const ModifierState& b) { return key(a) < key(b); });
    runner.modifier_count = static_cast<std::uint8_t>(
        std::count_if(runner.modifiers.begin(), runner.modifiers.end(),
                      [](const ModifierState& state) { return state.strength != 0; }));
}

/// The place of a granter; of a shared modifier, the one that it has.
ModifierState* find(const ChartData& chart, RunnerState& runner, std::uint8_t modifier, std::uint8_t source) {
    const bool shared = is_shared(chart.modifiers[modifier]);
    for (ModifierState& state : runner.modifiers) {
        if (state.strength != 0 && state.modifier == modifier && (shared || state.source == source) &&
            state.phase != ModifierPhase::over) {
            return &state;
        }
    }
    return nullptr;
}

/// From the start of its time, or from where a fade stands.
void begin(const CompiledModifier& kind, const RunnerState& runner, ModifierState& state, double progress,
           double seconds) {
    state.phase = ModifierPhase::rising;
    state.timed = false;
    if (kind.build > 0.0) {
        if (state.stacks < kind.most) {
            set_end(runner, state, state.stacks == 0 ? kind.first : kind.build);
        } else {
            state.phase = ModifierPhase::holding;
        }
    } else if (kind.fade_in > 0.0 && progress < 1.0) {
        set_end(runner, state, kind.fade_in * (1.0 - progress));
    } else {
        state.phase = ModifierPhase::holding;
        if (seconds > 0.0) {
            set_end(runner, state, seconds);
        }
    }
}

/// Returns false if the modifier is over at once.
bool release(const CompiledModifier& kind, const RunnerState& runner, ModifierState& state) {
    if (state.phase == ModifierPhase::falling) {
        return true;
    }
    if (!is_active(state)) {
        return false;
    }
    const double progress = progress_of(kind, runner, state);
    state.phase = ModifierPhase::falling;
    if (kind.shed > 0.0) {
        set_end(runner, state, kind.shed);
    } else if (kind.fade_out > 0.0 && progress > 0.0) {
        set_end(runner, state, kind.fade_out * progress);
    } else {
        return false;
    }
    return true;
}

double next_due(const ChartData& chart, const RunnerState& runner, const ModifierState& state) {
    if (!state.timed) {
        return never;
    }
    const double end = time_of(state.stamp, runner.clock);
    const double steps = is_fade(kind_of(chart, state), state) ? steps_left(end - runner.clock) : 1.0;
    return end - std::max(0.0, steps - 1.0) * fade_step;
}

/// A modifier has begun, or has one stack more.
void tell_begin(Instant& instant, ModifierState& state) {
    state.untold = false;
    instant.emit(state.stacks > 1 ? EventKind::stacked : EventKind::began, state.modifier, state.stacks);
}

/// What is due of one modifier. Returns false if it is over.
bool step(Instant& instant, const CompiledModifier& kind, ModifierState& state) {
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

/// Whether a grant finds room. `state` is the place that it would repeat, if there is one.
bool has_room(const CompiledModifier& kind, const RunnerState& runner, const ModifierState* state,
              std::uint8_t source) {
    if (state == nullptr) {
        return runner.modifiers.back().strength == 0;
    }
    // Who has granted what ends by itself need not be known.
    const bool must_be_noted =
        is_shared(kind) && kind.seconds == 0.0 && state->phase < ModifierPhase::falling;
    return !must_be_noted || is_holder(runner, *state, source) || runner.holders.back().strength == 0;
}

}  // namespace

bool grant_modifier(const ChartData& chart, RunnerState& runner, std::uint8_t modifier, std::uint8_t source,
                    std::uint8_t strength) {
    const CompiledModifier& kind = chart.modifiers[modifier];
    const double seconds = kind.seconds;
    const CooldownRates rates = cooldown_rates(chart, runner);
    ModifierState* state =
        kind.stacking == Stacking::separate ? nullptr : find(chart, runner, modifier, source);
    if (!has_room(kind, runner, state, source)) {
        return false;
    }
    if (state != nullptr && is_shared(kind) && state->phase < ModifierPhase::falling) {
        add_holder(runner, *state, source, strength);
        strength = state->strength;
    }
    if (state == nullptr) {
        state = &runner.modifiers.back();
        *state = ModifierState();
        state->modifier = modifier;
        state->source = source;
        state->strength = strength;
        state->stacks = kind.first > 0.0 ? 0 : 1;
        state->untold = state->stacks > 0;
        begin(kind, runner, *state, 0.0, seconds);
    } else {
        const double progress = progress_of(kind, runner, *state);
        const bool weaker = kind.stacking == Stacking::strongest && strength < state->strength &&
                            state->phase != ModifierPhase::falling;
        const bool adds_up =
            kind.stacking == Stacking::extend && state->phase == ModifierPhase::holding && state->timed;
        if (kind.stacking == Stacking::count && kind.build <= 0.0 && state->stacks < kind.most) {
            ++state->stacks;
            state->untold = true;
        }
        if (state->phase == ModifierPhase::falling) {
            state->source = source;
        }
        state->strength = weaker ? state->strength : strength;
        const bool starts_again = seconds > 0.0 || state->phase == ModifierPhase::falling;
        if (!weaker && starts_again) {
            const double left = adds_up ? std::max(0.0, seconds_left(runner, *state)) : 0.0;
            begin(kind, runner, *state, progress,
                  seconds > 0.0 ? std::min(seconds + left, longest_wait) : 0.0);
        }
    }
    sort(runner);
    rescale_cooldowns(chart, runner, rates);
    return true;
}

bool release_modifier(const ChartData& chart, RunnerState& runner, std::uint8_t modifier, std::uint8_t source,
                      bool at_once) {
    const CooldownRates rates = cooldown_rates(chart, runner);
    const bool shared = is_shared(chart.modifiers[modifier]);
    bool any = false;
    for (ModifierState& state : runner.modifiers) {
        if (state.strength == 0 || state.modifier != modifier || (!shared && state.source != source) ||
            state.phase == ModifierPhase::over) {
            continue;
        }
        const Hold hold = shared ? drop_holder(runner, state, source) : Hold::last;
        any = any || hold != Hold::none;
        if (hold == Hold::last && (at_once || !release(kind_of(chart, state), runner, state))) {
            state.phase = ModifierPhase::over;
            state.timed = false;
        }
    }
    sort(runner);
    rescale_cooldowns(chart, runner, rates);
    return any;
}

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

bool advance_modifiers(Instant& instant) {
    const ChartData& chart = instant.chart;
    RunnerState& runner = instant.runner;
    if (runner.modifier_count == 0) {
        return false;
    }
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
        changed = changed || is_fade(kind, state);  // another step, perhaps
        const bool due =
            state.timed && time_of(state.stamp, runner.clock) <= runner.clock + instant_width.value;
        if (state.phase != ModifierPhase::over && !due) {
            continue;
        }
        changed = true;
        if (!step(instant, kind, state)) {
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
        sort(runner);
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
        const ModifierState* state = find(chart, runner, i, chart_source);
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
