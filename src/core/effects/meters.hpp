#pragma once

#include "core/runner/instant.hpp"
#include "core/runner/levels.hpp"

/// Meters at instants: levels that reach their marks or are moved, latches, and what is told of it.
///
/// On which side of each mark a level lies is decided once, when the level passes it: `RunnerState::above` counts the
/// marks that lie at it or below. Facts, latches and events follow from that count, never from comparing a level anew,
/// so rounding cannot answer one question twice in two ways.
namespace cursimeter::detail {

/// When the meter reaches a mark that lies ahead, on the runner's clock.
[[nodiscard]] double mark_due(const ChartData& chart, const RunnerState& runner, std::size_t meter,
                              std::size_t index);
/// The earliest of those that are told of or `watched`; `never` if there is none.
[[nodiscard]] double next_mark_due(const ChartData& chart, const RunnerState& runner,
                                   const DerivedFacts& watched);

/// The one way to change a level at an instant: walks the marks between the level and `to`, closes and opens the latch,
/// tells `crossed`, `emptied`, `filled`, `spent` and `recovered`, and begins what a spent meter grants. A level that
/// comes within rounding of one that the chart names is put on it.
void move_level(Instant& instant, std::size_t meter, double to);
/// Tells of what the game has done to levels since the last instant, and closes and opens latches for it.
void take_levels(Instant& instant);
/// Puts every meter that reaches a mark now exactly on it. Marks that nobody watched were passed before: they are left
/// behind. Returns whether there was any.
bool reach_marks(Instant& instant);

/// Lets the refill wait from now on, after a drain or a cost.
void hold_refill(const ChartData& chart, RunnerState& runner, std::size_t meter);

/// Sets the rates that hold from now on, by state, real speed and waits, and tells of each meter that begins or ceases
/// to drain.
void refresh_rates(Instant& instant);
/// A level has jumped, or flows in another way: factors that follow it are found anew.
inline void forget_scales(const ChartData& chart, RunnerState& runner) {
    if (chart.has_scales) {
        runner.scaled_until = runner.clock;
    }
}
/// When factors that other meters set are read again; `never` if none changes.
[[nodiscard]] double next_scale_due(const ChartData& chart, const RunnerState& runner);

}  // namespace cursimeter::detail
