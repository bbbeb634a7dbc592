#pragma once

#include <cstdint>
#include <cursimeter/detail/runner_state.hpp>
#include <optional>
#include <span>
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

/// Facts that must be set and facts that must not, all at once: (facts & care) == want.
struct Pattern {
    Facts care, want;

    [[nodiscard]] bool holds(const Facts& facts) const {
        return !(((facts.fixed ^ want.fixed) & care.fixed).any() ||
                 ((facts.derived ^ want.derived) & care.derived).any());
    }
    friend bool operator==(const Pattern&, const Pattern&) = default;
};

/// The words in which nearly all facts lie: the first two of the fixed ones, the first of those derived.
struct CommonFacts {
    std::uint64_t lasting = 0, momentary = 0, derived = 0;

    CommonFacts() = default;
    explicit CommonFacts(const Facts& facts)
        : lasting(facts.fixed.words[0]), momentary(facts.fixed.words[1]), derived(facts.derived.words[0]) {}
    friend bool operator==(const CommonFacts&, const CommonFacts&) = default;
};

/// What a pattern asks of them, which nearly always is all: a search through many patterns reads these alone.
struct CommonPattern {
    CommonFacts care, want;
    bool wide = false;  ///< the pattern cares for other facts as well

    CommonPattern() = default;
    explicit CommonPattern(const Pattern& pattern) : care(pattern.care), want(pattern.want) {
        Facts rest = pattern.care;
        rest.fixed.words[0] = rest.fixed.words[1] = rest.derived.words[0] = 0;
        wide = rest.fixed.any() || rest.derived.any();
    }
    [[nodiscard]] bool holds(const CommonFacts& facts) const {
        return (((facts.lasting ^ want.lasting) & care.lasting) |
                ((facts.momentary ^ want.momentary) & care.momentary) |
                ((facts.derived ^ want.derived) & care.derived)) == 0;
    }
    friend bool operator==(const CommonPattern&, const CommonPattern&) = default;
};

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

/// All terms of a clause at once.
struct Clause : Pattern {
    std::uint16_t first_term = 0;
    std::uint16_t term_count = 0;

    friend bool operator==(const Clause&, const Clause&) = default;
};

/// Any of these clauses; none at all means always.
struct CompiledCondition {
    std::uint16_t first_clause = 0;
    std::uint16_t clause_count = 0;
    friend bool operator==(const CompiledCondition&, const CompiledCondition&) = default;
};

/// One clause by which a runner would take a state, or keep the one that it is in.
struct Attempt : CommonPattern {
    std::int16_t clause = 0;  ///< among the chart's clauses; always_holds for a condition without clauses
    std::uint8_t state = 0;
    bool keeps = false;  ///< a clause of the present state's `stay`

    friend bool operator==(const Attempt&, const Attempt&) = default;
};

/// Derived facts that change by themselves, on which a state change may wait: watched while everything else that
/// their clause asks for holds.
struct Watching : CommonPattern {  ///< of what changes at instants only
    std::int16_t clause = 0;
    DerivedFacts crossed;
    friend bool operator==(const Watching&, const Watching&) = default;
};

/// Some that lie one after the other.
struct Range {
    std::uint32_t first = 0, count = 0;

    template <class T>
    [[nodiscard]] std::span<const T> of(const std::vector<T>& all) const {
        return {all.data() + first, count};
    }
    friend bool operator==(const Range&, const Range&) = default;
};

/// Stands for the clause of a condition that always holds.
inline constexpr std::int16_t always_holds = -2;

/// The presses and releases that a clause asks for.
[[nodiscard]] inline std::uint64_t presses_of(const Pattern& asked) {
    return asked.care.fixed.words[1] & asked.want.fixed.words[1];
}
[[nodiscard]] inline std::uint64_t presses_of(const CommonPattern& asked) {
    return asked.care.momentary & asked.want.momentary;
}

}  // namespace cursimeter::detail
