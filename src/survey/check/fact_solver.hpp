#pragma once

#include <initializer_list>
#include <optional>
#include <vector>

#include "core/chart/chart_data.hpp"
#include "core/chart/facts.hpp"

/// Reasoning over a chart's facts: is there a moment at which these hold together? Exact: the facts are the bits
/// that the core compares, and what ties them to one another (levels in order, a latch to its meter, directions to
/// moving) is known, so a search over the bits with unit propagation decides it.
namespace cursimeter::survey {

inline constexpr unsigned derived_first = detail::fact::count;

/// A fact that must be set, or must not. Numbers below `derived_first` are bits of Facts::fixed, the others of Facts::derived.
struct Literal {
    std::uint16_t fact = 0;
    bool set = true;
    [[nodiscard]] Literal operator!() const { return {fact, !set}; }
    friend bool operator==(const Literal&, const Literal&) = default;
};
/// One of these at least: one of `set` is set, or one of `clear` is clear.
struct AnyOf {
    detail::Facts set, clear;

    AnyOf() = default;
    AnyOf(std::initializer_list<Literal> literals) {
        for (const Literal literal : literals) {
            add(literal);
        }
    }
    void add(Literal literal) {
        detail::Facts& facts = literal.set ? set : clear;
        literal.fact < derived_first ? facts.fixed.set(literal.fact)
                                     : facts.derived.set(literal.fact - derived_first);
    }
};
/// All of these.
using AllOf = std::vector<AnyOf>;

inline void append(AllOf& all, const AllOf& more) {
    all.insert(all.end(), more.begin(), more.end());
}

[[nodiscard]] inline Literal derived(std::size_t bit, bool set) {
    return {static_cast<std::uint16_t>(derived_first + bit), set};
}

[[nodiscard]] inline Literal literal_of(const detail::Term& term) {
    return {static_cast<std::uint16_t>(term.bit + (term.derived ? derived_first : 0U)), !term.negated};
}

/// What is known about facts.
struct Knowledge {
    detail::Facts known, set;
    [[nodiscard]] bool knows(unsigned fact) const { return test(known, fact); }
    [[nodiscard]] bool is_set(unsigned fact) const { return test(set, fact); }
    /// Learns which of the facts in `which` are set.
    void learn(const detail::Facts& which, bool are_set);

  private:
    [[nodiscard]] static bool test(const detail::Facts& facts, unsigned fact) {
        return fact < derived_first ? facts.fixed.test(fact) : facts.derived.test(fact - derived_first);
    }
};

class FactSolver {
  public:
    explicit FactSolver(const detail::ChartData& chart);
    /// A moment at which all of these hold, or nothing if there is none.
    [[nodiscard]] std::optional<Knowledge> solve(const AllOf& wanted) const;
    [[nodiscard]] bool possible(const AllOf& wanted) const { return solve(wanted).has_value(); }

  private:
    AllOf always_;
};

/// That a clause does not hold: one of its terms fails.
[[nodiscard]] AnyOf failing(const detail::ChartData& chart, const detail::Clause& clause);
/// The terms of a clause, as facts that must hold.
[[nodiscard]] AllOf terms_of(const detail::ChartData& chart, const detail::Clause& clause);
/// That no clause of a condition holds; nothing if it always does.
[[nodiscard]] std::optional<AllOf> none_of(const detail::ChartData& chart,
                                           const detail::CompiledCondition& condition);
/// The clauses of a condition, each as its terms; one empty list for a condition that always holds.
[[nodiscard]] std::vector<AllOf> ways_of(const detail::ChartData& chart,
                                         const detail::CompiledCondition& condition);

}  // namespace cursimeter::survey
