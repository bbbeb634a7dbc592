#pragma once

#include "core/chart/chart_data.hpp"
#include "core/runner/timers.hpp"

/// What the modifiers at work make of a number of the chart. Nothing is ever multiplied into a stored value: every
/// reading starts from the chart's number, so that after everything has ended it is the chart's again, bit for bit.
///
/// Composition: (base + all adds) x all factors, then what is set (of several, the lowest), then the limits
/// (at_most after at_least). Modifiers are kept sorted, so the order of granting cannot show. Strength and
/// fade scale an amount: adds in proportion, a factor f as 1 + (f - 1) w. A cooldown's pace does not fade.
namespace cursimeter::detail {

/// A fade goes in slices of this length, s, counted back from its end, each with the value of its middle: the
/// same slices at any tick rate.
inline constexpr double fade_slice = 1.0 / 50.0;

[[nodiscard]] inline const CompiledModifier& kind_of(const ChartData& chart, const ModifierState& state) {
    return chart.modifiers[state.modifier];
}

/// What a granter may ask for, as a part of the chart's amounts.
inline constexpr double least_strength = 0.01, most_strength = 2.55;

/// Whether grants by several sources count once, at the strongest, and not each for itself.
[[nodiscard]] inline bool counts_once(const CompiledModifier& kind) {
    return kind.stacking != Stacking::count && kind.stacking != Stacking::separate;
}

[[nodiscard]] inline double seconds_left(const RunnerState& runner, const ModifierState& state) {
    return time_of(state.stamp, runner.clock) - runner.clock;
}

/// Slices of a fade that are not over yet, the present one included.
[[nodiscard]] inline double slices_left(double seconds) {
    return static_cast<double>(static_cast<std::int64_t>(seconds / fade_slice + (1.0 - 1e-4)));
}

/// Whether it changes anything: the first stack has come, and it was not removed since the last tick.
[[nodiscard]] inline bool is_active(const ModifierState& state) {
    return state.stacks > 0 && state.phase != ModifierPhase::over;
}

/// Whether the phase is a fade; otherwise stacks come and go in it.
[[nodiscard]] inline bool is_fade(const CompiledModifier& kind, const ModifierState& state) {
    return state.phase == ModifierPhase::rising
               ? kind.fade_in > 0.0
               : state.phase == ModifierPhase::falling && kind.fade_out > 0.0;
}

/// The number that holds now in place of the chart's `base`.
[[nodiscard]] double modified_by_any(const ChartData& chart, const RunnerState& runner, unsigned measure,
                                     double base);
[[nodiscard]] inline double modified(const ChartData& chart, const RunnerState& runner, unsigned measure,
                                     double base) {
    return runner.modifier_count == 0 ? base : modified_by_any(chart, runner, measure, base);
}
/// What one modifier, with all its sources and stacks, makes of a measure now.
struct Amount {
    double adds = 0.0, times = 1.0;
    double weight = 0.0;  ///< strength times fade
};
[[nodiscard]] Amount amount_of(const ChartData& chart, const RunnerState& runner, std::uint8_t modifier,
                               unsigned measure);
/// Whether anything at work changes this measure.
[[nodiscard]] bool is_modified(const ChartData& chart, const RunnerState& runner, unsigned measure);
/// The part of a modifier's amount that counts now: strength times fade.
[[nodiscard]] double weight_of(const ChartData& chart, const RunnerState& runner, const ModifierState& state);

/// Bits of the modifiers at work that terms read.
void add_modifier_facts(const ChartData& chart, const RunnerState& runner, DerivedFacts& facts);

}  // namespace cursimeter::detail
