#pragma once

#include <cursimeter/id_map.hpp>
#include <cursimeter/runner.hpp>
#include <string>
#include <vector>

namespace cursimeter {

/// A runner taken over into another chart, and what could not be.
struct CarriedOver {
    Runner runner;
    /// One line each: "state 'dash' is not in the new chart: 'walk' instead".
    std::vector<std::string> lost;
    /// Where the game's own ids are now.
    IdMap ids;
};

/// Takes a live runner over into another version of its chart, for tuning while the game runs. Place, motion,
/// clock, keys and pushes stay; state, meters, cooldowns, modifiers, blocks, zones and the player's press modes
/// are carried over by name, or by the name that the new chart says it had (`was`). Levels and charges above a new bound are cut down to it; time left in a wait stays.
/// What the new chart does not have is listed. Allocates; for between two ticks.
///
/// Whatever else holds ids of the old chart must be taken over as well: ids in the game by `CarriedOver::ids`, `Controls`
/// and `Blend` by their own `carry_over`, a `Drill` by making it again. Intents of controls and drills that were forgotten are
/// refused (`Refusal::foreign_intent`) if the charts' names differ.
[[nodiscard]] CarriedOver carry_over(const Chart& from, const Runner& runner, const Chart& to);

}  // namespace cursimeter
