#include "core/runner/amounts.hpp"

#include <algorithm>

#include "core/runner/holders.hpp"

/// What modifiers make of the chart's numbers.
namespace cursimeter::detail {
namespace {

/// 0 to 1. A fade that was cut short runs at the same pace as a whole one.
double fade_of(const CompiledModifier& kind, const RunnerState& runner, const ModifierState& state) {
    if (!is_fade(kind, state)) {
        return 1.0;
    }
    const double whole = state.phase == ModifierPhase::rising ? kind.fade_in : kind.fade_out;
    const double middle = (slices_left(seconds_left(runner, state)) - 0.5) * fade_slice;
    const double part = std::clamp(middle / whole, 0.0, 1.0);
    return state.phase == ModifierPhase::rising ? 1.0 - part : part;
}

}  // namespace

double weight_of(const ChartData& chart, const RunnerState& runner, const ModifierState& state) {
    return is_active(state)
               ? 0.01 * strength_of(runner, state) * fade_of(kind_of(chart, state), runner, state)
               : 0.0;
}

bool is_modified(const ChartData& chart, const RunnerState& runner, unsigned measure) {
    std::uint64_t measures = 0;
    for (const ModifierState& state : runner.modifiers) {
        if (state.strength == 0) {
            break;
        }
        measures |= kind_of(chart, state).measures;
    }
    return (measures >> measure & 1U) != 0;
}

namespace {

/// The weight with which a measure feels a modifier. A wait under way is rescaled when its pace changes, and for
/// that the pace before must be known: so cooldowns feel the phase, which changes at instants of its own, and
/// no fade, which changes with the clock.
double weight_on(const ChartData& chart, const RunnerState& runner, const ModifierState& state,
                 unsigned measure) {
    if (measure < measure::cooldown_first) {
        return weight_of(chart, runner, state);
    }
    const bool fades_out = state.phase == ModifierPhase::falling && is_fade(kind_of(chart, state), state);
    return fades_out || !is_active(state) ? 0.0 : 0.01 * strength_of(runner, state);
}

/// The places of the modifier that lies at `first`, up to the next modifier's, as one amount of a measure.
Amount amount_at(const ChartData& chart, const RunnerState& runner, std::size_t first, std::size_t& last,
                 unsigned measure) {
    const CompiledModifier& kind = kind_of(chart, runner.modifiers[first]);
    const std::size_t count = runner.modifier_count;
    Amount amount;
    amount.weight = weight_on(chart, runner, runner.modifiers[first], measure);
    unsigned stacks = runner.modifiers[first].stacks;
    last = first;
    if (counts_once(kind)) {  // at the strongest of its sources
        while (last + 1 < count && runner.modifiers[last + 1].modifier == runner.modifiers[first].modifier) {
            const ModifierState& other = runner.modifiers[++last];
            const double weight = weight_on(chart, runner, other, measure);
            if (weight * other.stacks > amount.weight * stacks) {
                amount.weight = weight;
                stacks = other.stacks;
            }
        }
    }
    amount.weight = stacks == 0 ? 0.0 : amount.weight;
    for (const Effect& effect : kind.effects) {
        if (effect.measure == measure) {
            amount.adds += effect.adds * amount.weight * stacks;
            const double once = std::max(0.0, 1.0 + (effect.times - 1.0) * amount.weight);
            for (unsigned stack = 0; effect.times != 1.0 && stack < stacks; ++stack) {
                amount.times *= once;
            }
        }
    }
    return amount;
}

}  // namespace

Amount amount_of(const ChartData& chart, const RunnerState& runner, std::uint8_t modifier, unsigned measure) {
    Amount total;
    for (std::size_t i = 0; i < runner.modifier_count; ++i) {
        if (runner.modifiers[i].modifier == modifier) {
            const Amount amount = amount_at(chart, runner, i, i, measure);
            total.adds += amount.adds;
            total.times *= amount.times;
        }
    }
    return total;
}

double modified_by_any(const ChartData& chart, const RunnerState& runner, unsigned measure, double base) {
    if (!is_modified(chart, runner, measure)) {
        return base;
    }
    double adds = 0.0, factor = 1.0, set = never, set_weight = 0.0, least = -never, most = never;
    for (std::size_t i = 0; i < runner.modifier_count; ++i) {
        const CompiledModifier& kind = kind_of(chart, runner.modifiers[i]);
        if ((kind.measures >> measure & 1U) == 0) {
            continue;
        }
        const Amount amount = amount_at(chart, runner, i, i, measure);
        adds += amount.adds;
        factor *= amount.times;
        for (const Effect& effect : kind.effects) {
            if (effect.measure != measure || amount.weight == 0.0) {
                continue;
            }
            if (effect.sets && *effect.sets < set) {
                set = *effect.sets;
                set_weight = std::min(amount.weight, 1.0);
            }
            least = std::max(least, effect.least);
            most = std::min(most, effect.most);
        }
    }
    double value = (base + adds) * factor;
    value = set < never ? value + (set - value) * set_weight : value;
    return std::max(0.0, std::min(std::max(value, least), most));
}

void add_modifier_facts(const ChartData& chart, const RunnerState& runner, DerivedFacts& facts) {
    for (const ModifierState& state : runner.modifiers) {
        if (state.strength == 0) {
            break;
        }
        if (is_active(state)) {
            set(facts, kind_of(chart, state).active_bit);
        }
    }
}

}  // namespace cursimeter::detail
