#pragma once

#include <cstdint>
#include <cursimeter/detail/runner_state.hpp>
#include <optional>
#include <string>
#include <vector>

#include "core/chart/facts.hpp"

/// Compiled conditions: terms, clauses, and what is tried from each state.
namespace cursimeter::detail {

/// The bit of a derived fact; none if no term reads it.
using DerivedBit = std::optional<std::uint8_t>;
inline void set(DerivedFacts& facts, const DerivedBit& bit) {
    if (bit) {
        facts.set(*bit);
    }
}

/// Whether all the facts that are cared for are as they are wanted.
[[nodiscard]] bool matches_in_full(const Facts& facts, const Facts& care, const Facts& want);
[[nodiscard]] inline bool matches(const Facts& facts, const Facts& care, const Facts& want) {
    const auto differs = [](const auto& have, const auto& wanted, const auto& cared, std::size_t word) {
        return (have.words[word] ^ wanted.words[word]) & cared.words[word];
    };
    // Nearly everything that fails does so in the first words.
    return (differs(facts.fixed, want.fixed, care.fixed, 0) |
            differs(facts.fixed, want.fixed, care.fixed, 1) |
            differs(facts.derived, want.derived, care.derived, 0)) == 0 &&
           matches_in_full(facts, care, want);
}

/// One term of a condition: a fact that must be set, or must not.
struct Term {
    bool derived = false;  ///< in which part of Facts
    std::uint8_t bit = 0;
    bool negated = false;
    std::string text;
    std::string path;

    [[nodiscard]] bool is_momentary() const { return !derived && fact::is_momentary(bit); }
    [[nodiscard]] bool is_set(const Facts& facts) const {
        return derived ? facts.derived.test(bit) : facts.fixed.test(bit);
    }
    void set(Facts& facts, bool value) const {
        if (derived) {
            value ? facts.derived.set(bit) : facts.derived.clear(bit);
        } else {
            value ? facts.fixed.set(bit) : facts.fixed.clear(bit);
        }
    }
    [[nodiscard]] bool holds(const Facts& facts) const { return is_set(facts) != negated; }
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
    Facts care, want;  ///< of what changes at instants only
    DerivedFacts crossed;
    friend bool operator==(const Watching&, const Watching&) = default;
};

/// Stands for the clause of a condition that always holds.
inline constexpr std::int16_t always_holds = -2;

/// The presses and releases that a clause asks for.
[[nodiscard]] inline std::uint64_t presses_of(const Facts& care, const Facts& want) {
    return fact::momentary_of(care.fixed & want.fixed);
}

}  // namespace cursimeter::detail
