#include "core/choose/choose.hpp"

#include "core/chart/facts.hpp"

namespace cursimeter::detail {

namespace {

bool holds_in_full(const ChartData& chart, const Attempt& attempt, const Facts& facts) {
    return chart.clauses[static_cast<std::size_t>(attempt.clause)].holds(facts);
}

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

/// What bans a fact, if its term fails for a block only.
Bans banned_fact(const Term& term) {
    Bans what;
    if (!term.derived && !term.negated && term.bit < fact::on_first + limits::actions) {
        what.actions = ActionMask{1} << (term.bit - fact::on_first);
    } else if (!term.derived && term.bit >= fact::moving && term.bit <= fact::moving_backward) {
        what.movement = !term.negated;
    }
    return what;
}

Cause cause_of(const ChartData& chart, const RunnerState& runner, const Attempt& taken, const Facts& before,
               const Facts& now) {
    std::uint16_t term = 0;
    const std::uint8_t current = runner.state;
    const int ban = block_against(chart, runner, {0, StateMask{1} << current, false});
    if (ban >= 0) {
        return {CauseKind::blocked, static_cast<std::uint16_t>(ban)};
    }
    if (taken.clause >= 0 &&
        became_true(chart, chart.clauses[static_cast<std::size_t>(taken.clause)], before, now, term)) {
        return {CauseKind::enter, term};
    }
    const CompiledCondition& stay = chart.states[current].stay;
    if (taken.state != current && holding_clause(chart, stay, now) == -1) {
        const std::uint16_t failed = failed_stay_term(chart, stay, before, now);
        const int reason = block_against(chart, runner, banned_fact(chart.terms[failed]));
        return reason >= 0 ? Cause{CauseKind::blocked, static_cast<std::uint16_t>(reason)}
                           : Cause{CauseKind::stay, failed};
    }
    return {CauseKind::follows, 0};
}

}  // namespace

Choice choose(const ChartData& chart, const RunnerState& runner, const Facts& before, const Facts& now,
              std::uint64_t barred, const Bans& bans) {
    const std::uint8_t current = runner.state;
    Choice choice;
    choice.state = current;
    const CompiledState& from = chart.states[current];
    const CommonFacts common(now);
    const bool calm = (common.momentary & chart.asked_presses) == 0;
    for (const Attempt& attempt : (calm ? from.calm_attempts : from.attempts).of(chart.attempts)) {
        if (!attempt.holds(common) || (attempt.wide && !holds_in_full(chart, attempt, now)) ||
            (bans.states >> attempt.state & 1U) != 0) {
            continue;
        }
        if (attempt.keeps) {
            break;
        }
        const bool pressed = presses_of(attempt) != 0;
        if (!pressed && (barred >> attempt.state & 1U) != 0) {
            if (!choice.barred) {
                choice.barred = true;
                choice.barred_state = attempt.state;
            }
            continue;
        }
        choice.state = attempt.state;
        choice.change = true;
        choice.used_up = presses_of(attempt);
        choice.cause = cause_of(chart, runner, attempt, before, now);
        break;
    }
    return choice;
}

std::optional<Refusing> refusal_of(const ChartData& chart, const RunnerState& runner, const Facts& now,
                                   std::uint64_t press) {
    for (const std::uint8_t candidate : chart.rank) {
        const CompiledState& state = chart.states[candidate];
        for (std::uint16_t i = 0; i < state.enter.clause_count; ++i) {
            const Clause& clause = chart.clauses[static_cast<std::size_t>(state.enter.first_clause) + i];
            if ((presses_of(clause) & press) == 0) {
                continue;
            }
            if (candidate == runner.state && !state.again) {
                return Refusing{candidate, {CauseKind::from, candidate}};  // it cannot be entered from itself
            }
            const int ban = block_against(chart, runner, {0, StateMask{1} << candidate, false});
            if (ban >= 0) {
                return Refusing{candidate, {CauseKind::blocked, static_cast<std::uint16_t>(ban)}};
            }
            if ((state.from >> runner.state & 1U) == 0) {
                continue;
            }
            for (std::uint16_t k = 0; k < clause.term_count; ++k) {
                const auto term = static_cast<std::uint16_t>(clause.first_term + k);
                const Term& asked = chart.terms[term];
                const bool is_press = asked.is_momentary() && (press >> (asked.bit % 64U) & 1U) != 0;
                if (!is_press && !asked.holds(now)) {
                    return Refusing{candidate, {CauseKind::fails, term}};
                }
            }
        }
    }
    return std::nullopt;
}

std::uint8_t choose_first(const ChartData& chart, const Facts& facts) {
    const StateMask any = ~StateMask{0};
    for (const std::uint8_t candidate : chart.rank) {
        const CompiledState& state = chart.states[candidate];
        if (state.from == any && holding_clause(chart, state.enter, facts) != -1) {
            return candidate;
        }
    }
    return chart.rank.back();
}

}  // namespace cursimeter::detail
