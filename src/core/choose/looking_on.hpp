#pragma once

#include <cursimeter/intent.hpp>
#include <cursimeter/report.hpp>
#include <cursimeter/terrain.hpp>

#include "core/choose/choose.hpp"

/// Looking on while states are chosen: for tools that explain a run. A tick that nobody watches pays one test of a
/// pointer at each instant.
namespace cursimeter::detail {

/// One choice among the states, as it was made.
struct Choosing {
    double clock = 0.0;      ///< s, on the runner's clock
    std::uint8_t state = 0;  ///< the one it was in
    Facts before, now;
    std::uint64_t barred = 0;  ///< bit per state that was left too lately to come back
    Bans bans;
    Choice choice;
};

struct ChoiceWatch {
    void* to = nullptr;
    void (*tell)(void* to, const Choosing& choosing) = nullptr;
};

/// `advance`, watched (or not, with a watch that has no `tell`): the same run, bit for bit.
[[nodiscard]] Report advance_watched(const Chart& chart, Runner& runner, const Intent& intent,
                                     const Terrain* terrain, Seconds dt, const ChoiceWatch& watch) noexcept;

/// The choice as it would be made at the runner's present moment, told without the runner's being touched. A change that is
/// due at a tick's end is worked at the start of the next.
void look_on_now(const Chart& chart, const Runner& runner, const ChoiceWatch& watch) noexcept;

}  // namespace cursimeter::detail
