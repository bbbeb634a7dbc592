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
    bool barred = false;  ///< a state would have been taken, had it not been entered in this instant already
    Cause cause{};
    std::uint64_t used_up = 0;  ///< momentary facts that brought the state about
};

/// The first clause that holds: its index, or -1 if none does. For a condition without clauses, which
/// always holds, `always_holds`.
inline constexpr std::int16_t always_holds = -2;
[[nodiscard]] inline int holding_clause(const ChartData& chart, const CompiledCondition& condition,
                                        const Facts& facts) {
    if (condition.clause_count == 0) {
        return always_holds;
    }
    for (int i = 0; i < condition.clause_count; ++i) {
        const int clause = condition.first_clause + i;
        if (chart.clauses[static_cast<std::size_t>(clause)].holds(facts)) {
            return clause;
        }
    }
    return -1;
}

/// Lays out what is tried from each state, so that choosing is one walk along a list.
void compile_attempts(ChartData& chart);

/// Tries the states in rank order. `before` are the facts of the previous instant (for the cause),
/// `barred` the states that were entered in this instant already, `bans` what blocks forbid.
[[nodiscard]] Choice choose(const ChartData& chart, const RunnerState& runner, const Facts& before,
                            const Facts& now, std::uint32_t barred, const Bans& bans);

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
