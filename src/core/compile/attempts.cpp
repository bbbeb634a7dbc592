#include "core/chart/facts.hpp"
#include "core/compile/compile.hpp"

namespace cursimeter::detail {

namespace {

/// What is tried from a state, in rank order; for `calm`, but what only a press brings about.
class Attempts {
  public:
    Attempts(ChartData& chart, std::uint8_t current, bool calm)
        : chart_(chart), current_(current), calm_(calm) {}

    Range add_all() {
        const std::size_t first = chart_.attempts.size();
        for (const std::uint8_t candidate : chart_.rank) {
            const CompiledState& state = chart_.states[candidate];
            if ((candidate != current_ || state.again) && (state.from >> current_ & 1U) != 0) {
                add(state.enter, candidate, false);
            }
            if (candidate == current_) {
                add(state.stay, candidate, true);
            }
        }
        return range_from(first, chart_.attempts);
    }

    template <class T>
    static Range range_from(std::size_t first, const std::vector<T>& all) {
        return {static_cast<std::uint32_t>(first), static_cast<std::uint32_t>(all.size() - first)};
    }

  private:
    void add(const CompiledCondition& condition, std::uint8_t state, bool keeps) {
        // A state is entered from itself by a press only: whatever else holds, holds on.
        const bool anew = state == current_ && !keeps;
        if (condition.clause_count == 0 && !anew) {
            chart_.attempts.push_back({CommonPattern(), always_holds, state, keeps});
        }
        for (std::uint16_t i = 0; i < condition.clause_count; ++i) {
            const auto clause = static_cast<std::int16_t>(condition.first_clause + i);
            const Clause& asked = chart_.clauses[static_cast<std::size_t>(clause)];
            const std::uint64_t presses = presses_of(asked);
            chart_.asked_presses |= keeps ? 0 : presses;
            const bool by_press = presses != 0 && !keeps;
            if ((!anew || by_press) && !(calm_ && by_press)) {
                chart_.attempts.push_back({CommonPattern(asked), clause, state, keeps});
            }
        }
    }

    ChartData& chart_;
    std::uint8_t current_;
    bool calm_;
};

/// What those attempts wait for that changes by itself.
Range add_watchings(ChartData& chart, const Range& attempts) {
    const std::size_t first = chart.watchings.size();
    for (const Attempt& attempt : attempts.of(chart.attempts)) {
        if (attempt.clause == always_holds) {
            continue;
        }
        const Clause& clause = chart.clauses[static_cast<std::size_t>(attempt.clause)];
        const DerivedFacts crossed = clause.care.derived & chart.crossing_bits;
        if (crossed.any()) {
            chart.watchings.push_back({CommonPattern(sudden_part(chart, clause)), attempt.clause, crossed});
        }
    }
    return Attempts::range_from(first, chart.watchings);
}

}  // namespace

void compile_attempts(ChartData& chart) {
    for (std::uint8_t current = 0; current < chart.states.size(); ++current) {
        CompiledState& from = chart.states[current];
        from.attempts = Attempts(chart, current, false).add_all();
        from.calm_attempts = Attempts(chart, current, true).add_all();
        from.watchings = add_watchings(chart, from.attempts);
        from.calm_watchings = add_watchings(chart, from.calm_attempts);
    }
}

}  // namespace cursimeter::detail
