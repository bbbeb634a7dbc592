#include "core/conditions.hpp"

#include "core/facts.hpp"

namespace cursimeter::detail {
namespace {

/// The first term of the current state's `stay` that fails now, in the clause that held before if
/// there is one.
std::uint16_t failed_stay_term(const ChartData& chart, const CompiledCondition& stay, const Facts& before,
                               const Facts& now) {
    int clause = holding_clause(chart, stay, before);
    if (clause < 0) {
        clause = stay.first_clause;
    }
    const Clause& failed = chart.clauses[static_cast<std::size_t>(clause)];
    for (std::uint16_t i = 0; i < failed.term_count; ++i) {
        const auto term = static_cast<std::uint16_t>(failed.first_term + i);
        if (!chart.terms[term].holds(now)) {
            return term;
        }
    }
    return failed.first_term;
}

/// The term of a clause that holds now and did not before.
bool became_true(const ChartData& chart, const Clause& clause, const Facts& before, const Facts& now,
                 std::uint16_t& term) {
    for (std::uint16_t i = 0; i < clause.term_count; ++i) {
        term = static_cast<std::uint16_t>(clause.first_term + i);
        if (chart.terms[term].holds(now) && !chart.terms[term].holds(before)) {
            return true;
        }
    }
    return false;
}

/// The presses and releases that a clause asks for.
std::uint64_t presses_of(const Facts& care, const Facts& want) {
    return care.fixed & want.fixed & fact::momentary;
}

Cause cause_of(const ChartData& chart, std::uint8_t current, const Attempt& taken, const Facts& before,
               const Facts& now) {
    std::uint16_t term = 0;
    if (taken.clause >= 0 &&
        became_true(chart, chart.clauses[static_cast<std::size_t>(taken.clause)], before, now, term)) {
        return {CauseKind::enter, term};
    }
    const CompiledCondition& stay = chart.states[current].stay;
    if (taken.state != current && holding_clause(chart, stay, now) == -1) {
        return {CauseKind::stay, failed_stay_term(chart, stay, before, now)};
    }
    return {CauseKind::follows, 0};
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
                chart.attempts.push_back({{}, {}, always_holds, state, keeps});
            }
            for (std::uint16_t i = 0; i < condition.clause_count; ++i) {
                const auto clause = static_cast<std::int16_t>(condition.first_clause + i);
                const Clause& asked = chart.clauses[static_cast<std::size_t>(clause)];
                if (!anew || presses_of(asked.care, asked.want) != 0) {
                    chart.attempts.push_back({asked.care, asked.want, clause, state, keeps});
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
    }
}

Choice choose(const ChartData& chart, std::uint8_t current, const Facts& before, const Facts& now,
              std::uint32_t barred) {
    Choice choice;
    choice.state = current;
    const CompiledState& from = chart.states[current];
    const Attempt* const end = chart.attempts.data() + from.first_attempt + from.attempt_count;
    for (const Attempt* attempt = end - from.attempt_count; attempt != end; ++attempt) {
        if (!attempt->holds(now)) {
            continue;
        }
        if (attempt->keeps) {
            break;
        }
        if ((barred >> attempt->state & 1U) != 0) {
            choice.barred = choice.barred || attempt->state != current;
            continue;
        }
        choice.state = attempt->state;
        choice.change = true;
        choice.used_up = presses_of(attempt->care, attempt->want);
        choice.cause = cause_of(chart, current, *attempt, before, now);
        break;
    }
    return choice;
}

std::uint8_t choose_first(const ChartData& chart, const Facts& facts) {
    const std::uint32_t any = ~std::uint32_t{0};
    for (const std::uint8_t candidate : chart.rank) {
        const CompiledState& state = chart.states[candidate];
        if (state.from == any && holding_clause(chart, state.enter, facts) != -1) {
            return candidate;
        }
    }
    return chart.rank.back();
}

}  // namespace cursimeter::detail
