#include "core/effects/grants.hpp"

#include <algorithm>
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

}  // namespace

void sort_modifiers(RunnerState& runner) {
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

ModifierState* granted_place(const ChartData& chart, RunnerState& runner, std::uint8_t modifier,
                             std::uint8_t source) {
    const bool shared = is_shared(chart.modifiers[modifier]);
    for (ModifierState& state : runner.modifiers) {
        if (state.strength != 0 && state.modifier == modifier && (shared || state.source == source) &&
            state.phase != ModifierPhase::over) {
            return &state;
        }
    }
    return nullptr;
}

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

bool grant_modifier(const ChartData& chart, RunnerState& runner, std::uint8_t modifier, std::uint8_t source,
                    std::uint8_t strength) {
    const CompiledModifier& kind = chart.modifiers[modifier];
    const double seconds = kind.seconds;
    const CooldownRates rates = cooldown_rates(chart, runner);
    ModifierState* state =
        kind.stacking == Stacking::separate ? nullptr : granted_place(chart, runner, modifier, source);
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
    sort_modifiers(runner);
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
    sort_modifiers(runner);
    rescale_cooldowns(chart, runner, rates);
    return any;
}

}  // namespace cursimeter::detail
