#pragma once

#include <optional>
#include <vector>

#include "core/chart/chart_data.hpp"

/// Reasoning over a chart's facts: is there a moment at which these hold together? Exact: the facts are the bits
/// that the core compares, and what ties them to one another (levels in order, a latch to its meter, directions to
/// moving) is known, so a search over the bits with unit propagation decides it.
namespace cursimeter::survey {

/// A fact that must be set, or must not. Numbers 0 to 63 are Facts::fixed, 64 to 127 Facts::derived.
struct Literal {
    std::uint8_t fact = 0;
    bool set = true;
    [[nodiscard]] Literal operator!() const { return {fact, !set}; }
    friend bool operator==(const Literal&, const Literal&) = default;
};
/// One of these at least.
using AnyOf = std::vector<Literal>;
/// All of these.
using AllOf = std::vector<AnyOf>;

[[nodiscard]] inline Literal literal_of(const detail::Term& term) {
    return {static_cast<std::uint8_t>(term.bit + (term.derived ? 64 : 0)), !term.negated};
}

/// What is known about facts.
struct Knowledge {
    detail::Facts known, set;
    [[nodiscard]] bool knows(std::uint8_t fact) const {
        return ((fact < 64 ? known.fixed : known.derived) >> (fact & 63U) & 1U) != 0;
    }
    [[nodiscard]] bool is_set(std::uint8_t fact) const {
        return ((fact < 64 ? set.fixed : set.derived) >> (fact & 63U) & 1U) != 0;
    }
    void learn(Literal literal);
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

/// The terms of a clause, as facts that must hold.
[[nodiscard]] AllOf terms_of(const detail::ChartData& chart, const detail::Clause& clause);
/// That no clause of a condition holds; nothing if it always does.
[[nodiscard]] std::optional<AllOf> none_of(const detail::ChartData& chart,
                                           const detail::CompiledCondition& condition);
/// The clauses of a condition, each as its terms; one empty list for a condition that always holds.
[[nodiscard]] std::vector<AllOf> ways_of(const detail::ChartData& chart,
                                         const detail::CompiledCondition& condition);

}  // namespace cursimeter::survey
