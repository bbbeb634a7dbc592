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
std::uint64_t presses_of(const ChartData& chart, int clause) {
    const Clause& asked = chart.clauses[static_cast<std::size_t>(clause)];
    return asked.care.fixed & asked.want.fixed & fact::momentary;
}

}  // namespace

Choice choose(const ChartData& chart, std::uint8_t current, const Facts& before, const Facts& now,
              std::uint32_t barred) {
    Choice choice;
    choice.state = current;
    for (const std::uint8_t candidate : chart.rank) {
        const CompiledState& state = chart.states[candidate];
        if (candidate == current && !state.again) {
            if (holding_clause(chart, state.stay, now) != -1) {
                return choice;
            }
            continue;
        }
        const int clause = (state.from >> current & 1U) != 0 ? holding_clause(chart, state.enter, now) : -1;
        // A state is entered from itself by a press only: whatever else holds, holds on.
        const bool anew = candidate == current && state.again && clause >= 0 &&
                          presses_of(chart, clause) != 0 && (barred >> candidate & 1U) == 0;
        if (candidate == current && !anew) {
            if (holding_clause(chart, state.stay, now) != -1) {
                return choice;
            }
            continue;
        }
        if (clause == -1) {
            continue;
        }
        if ((barred >> candidate & 1U) != 0) {
            choice.barred = true;
            continue;
        }
        choice.state = candidate;
        choice.change = true;
        choice.cause.kind = CauseKind::follows;
        std::uint16_t term = 0;
        if (clause >= 0) {
            const Clause& entered = chart.clauses[static_cast<std::size_t>(clause)];
            choice.used_up = presses_of(chart, clause);
            if (became_true(chart, entered, before, now, term)) {
                choice.cause = {CauseKind::enter, term};
            }
        }
        const CompiledCondition& stay = chart.states[current].stay;
        if (choice.cause.kind == CauseKind::follows && candidate != current &&
            holding_clause(chart, stay, now) == -1) {
            choice.cause = {CauseKind::stay, failed_stay_term(chart, stay, before, now)};
        }
        return choice;
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
