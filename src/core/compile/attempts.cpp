#include "core/chart/facts.hpp"
#include "core/compile/compile.hpp"

namespace cursimeter::detail {

namespace {

void compile_watchings(ChartData& chart, CompiledState& from) {
    from.first_watching = static_cast<std::uint16_t>(chart.watchings.size());
    for (std::size_t i = 0; i < from.attempt_count; ++i) {
        const Attempt& attempt = chart.attempts[from.first_attempt + i];
        chart.asked_presses |= attempt.keeps ? 0 : presses_of(attempt);
        const DerivedFacts crossed = attempt.care.derived & chart.crossing_bits;
        if (crossed.any()) {
            const Facts care{attempt.care.fixed, attempt.care.derived & chart.settled_bits};
            const Facts want{attempt.want.fixed, attempt.want.derived & chart.settled_bits};
            chart.watchings.push_back({pattern_of(care, want), crossed});
        }
    }
    from.watching_count = static_cast<std::uint16_t>(chart.watchings.size() - from.first_watching);
}

}  // namespace

void compile_attempts(ChartData& chart) {
    for (std::uint8_t current = 0; current < chart.states.size(); ++current) {
        CompiledState& from = chart.states[current];
        from.first_attempt = static_cast<std::uint16_t>(chart.attempts.size());
        const auto add = [&](const CompiledCondition& condition, std::uint8_t state, bool keeps) {
            // A state is entered from itself by a press only: whatever else holds, holds on.
            const bool anew = state == current && !keeps;
            if (condition.clause_count == 0 && !anew) {
                chart.attempts.push_back({{}, always_holds, state, keeps});
            }
            for (std::uint16_t i = 0; i < condition.clause_count; ++i) {
                const auto clause = static_cast<std::int16_t>(condition.first_clause + i);
                const Clause& asked = chart.clauses[static_cast<std::size_t>(clause)];
                if (!anew || presses_of(asked) != 0) {
                    chart.attempts.push_back({asked, clause, state, keeps});
                }
            }
        };
        for (const std::uint8_t candidate : chart.rank) {
            const CompiledState& state = chart.states[candidate];
            if ((candidate != current || state.again) && (state.from >> current & 1U) != 0) {
                add(state.enter, candidate, false);
            }
            if (candidate == current) {
                add(state.stay, candidate, true);
            }
        }
        from.attempt_count = static_cast<std::uint16_t>(chart.attempts.size() - from.first_attempt);
        compile_watchings(chart, from);
    }
}

}  // namespace cursimeter::detail
