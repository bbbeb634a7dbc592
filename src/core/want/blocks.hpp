#pragma once

#include "core/chart/chart_data.hpp"

/// Blocks: bans that the game puts into force and lifts, each counted by itself.
namespace cursimeter::detail {

/// What is banned now, all blocks in force together.
struct Bans {
    ActionMask actions = 0;
    StateMask states = 0;
    bool movement = false;
};
[[nodiscard]] Bans bans_in_force(const ChartData& chart, const RunnerState& runner);
[[nodiscard]] inline Bans bans_of(const ChartData& chart, const RunnerState& runner) {
    return chart.blocks.empty() ? Bans{} : bans_in_force(chart, runner);
}

/// The actions that are on and not banned, a bit each.
[[nodiscard]] inline ActionMask on_now(const ChartData& chart, const RunnerState& runner) {
    return (runner.on | runner.held_by_game) & ~bans_of(chart, runner).actions;
}
/// The first block in force that bans an action (a bit), a state (a bit) or movement; -1 if none does.
[[nodiscard]] int block_against(const ChartData& chart, const RunnerState& runner, const Bans& what);
/// Whether a press now is of no effect even if the key is still down when the ban ends.
[[nodiscard]] bool forgets_press(const ChartData& chart, const RunnerState& runner, std::uint8_t action);

/// Puts a block into force once more. Returns how often it is in force then, or -1, with nothing changed, if
/// its count is full.
int begin_block(const ChartData& chart, RunnerState& runner, std::uint8_t block);
/// Lifts it once. Returns how often it is still in force, or -1 if it was not.
int end_block(const ChartData& chart, RunnerState& runner, std::uint8_t block);

}  // namespace cursimeter::detail
