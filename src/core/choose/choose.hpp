#pragma once

#include <cursimeter/chart.hpp>

#include "core/chart/chart_data.hpp"
#include "core/want/blocks.hpp"

/// Reading conditions: which clause holds, which state is taken, and why.
namespace cursimeter::detail {

/// What `choose` found.
struct Choice {
    std::uint8_t state = 0;
    bool change = false;
    bool barred = false;  ///< a state would have been taken, had it not been left so lately
    std::uint8_t barred_state = 0;
    Cause cause{};
    std::uint64_t used_up = 0;  ///< momentary facts that brought the state about
};

/// Tries the states in rank order. `before` are the facts of the previous instant (for the cause),
/// `barred` the states that were left too lately to come back, `bans` what blocks forbid.
[[nodiscard]] Choice choose(const ChartData& chart, const RunnerState& runner, const Facts& before,
                            const Facts& now, std::uint64_t barred, const Bans& bans);

/// Why a press brings no state about: the first state in rank that asks for it, and what keeps it out.
struct Refusing {
    std::uint8_t state = 0;
    Cause cause{};
};
[[nodiscard]] std::optional<Refusing> refusal_of(const ChartData& chart, const RunnerState& runner,
                                                 const Facts& now, std::uint64_t press);

/// The state to begin in: the first in rank whose `enter` holds and that may follow any state.
[[nodiscard]] std::uint8_t choose_first(const ChartData& chart, const Facts& facts);

}  // namespace cursimeter::detail
