#pragma once

#include <cstdint>
#include <cursimeter/detail/runner_state.hpp>
#include <string>
#include <vector>

#include "core/chart/facts.hpp"

/// Compiled conditions: terms, clauses, and what is tried from each state.
namespace cursimeter::detail {

/// Whether all the facts that are cared for are as they are wanted.
[[nodiscard]] inline bool matches(const Facts& facts, const Facts& care, const Facts& want) {
    return (((facts.fixed ^ want.fixed) & care.fixed) | ((facts.derived ^ want.derived) & care.derived)) == 0;
}

/// One term of a condition: a fact that must be set, or must not.
struct Term {
    bool derived = false;  ///< in which word of Facts
    std::uint8_t bit = 0;
    bool negated = false;
    std::string text;
    std::string path;

    [[nodiscard]] bool holds(const Facts& facts) const {
        const std::uint64_t word = derived ? facts.derived : facts.fixed;
        return ((word >> bit & 1U) != 0) != negated;
    }
    friend bool operator==(const Term&, const Term&) = default;
};

/// All terms of a clause at once: (facts & care) == want.
struct Clause {
    Facts care, want;
    std::uint16_t first_term = 0;
    std::uint16_t term_count = 0;

    [[nodiscard]] bool holds(const Facts& facts) const { return matches(facts, care, want); }
    friend bool operator==(const Clause&, const Clause&) = default;
};

/// Any of these clauses; none at all means always.
struct CompiledCondition {
    std::uint16_t first_clause = 0;
    std::uint16_t clause_count = 0;
    friend bool operator==(const CompiledCondition&, const CompiledCondition&) = default;
};

/// One clause by which a runner would take a state, or keep the one that it is in.
struct Attempt {
    Facts care, want;
    std::int16_t clause =
        0;  ///< index among the chart's clauses; always_holds for a condition without clauses
    std::uint8_t state = 0;
    bool keeps = false;  ///< a clause of the present state's `stay`

    [[nodiscard]] bool holds(const Facts& facts) const { return matches(facts, care, want); }
    friend bool operator==(const Attempt&, const Attempt&) = default;
};

/// Derived facts that change by themselves, on which a state change may wait: watched while everything else that
/// their clause asks for holds.
struct Watching {
    Facts care, want;           ///< of what changes at instants only
    std::uint64_t crossed = 0;  ///< derived facts
    friend bool operator==(const Watching&, const Watching&) = default;
};

/// Stands for the clause of a condition that always holds.
inline constexpr std::int16_t always_holds = -2;

/// The presses and releases that a clause asks for.
[[nodiscard]] inline std::uint64_t presses_of(const Facts& care, const Facts& want) {
    return care.fixed & want.fixed & fact::momentary;
}

}  // namespace cursimeter::detail
