#pragma once

#include <optional>

#include "survey/check/fact_solver.hpp"
#include "survey/require/speeds.hpp"

/// What is so all through a visit of a state, whatever is pressed: from its conditions, its cost, its drains and its cooldown. It is
/// never claimed too much: where modifiers or scales have a say, nothing is said, and of speeds only what is handed in.
namespace cursimeter::survey {

class Visits {
  public:
    /// `restless` are states that are known to come and go many times a second; those that may be left in the instant in which they are
    /// entered are found besides. `speeds` may be null: then nothing is known of them.
    Visits(const detail::ChartData& chart, const FactSolver& solver, detail::StateMask restless,
           const Speeds* speeds);

    /// Moments at which a runner is in the state, each as what holds then; the longest stretch that fits none of them is 10 ms, for which
    /// a state that was just left is held back. States that come and go are held back again and again: what lasts meanwhile counts.
    [[nodiscard]] std::vector<AllOf> settled(std::uint8_t state) const;
    /// Levels, latches and cooldowns during a visit, from what entering asks for, and speeds.
    [[nodiscard]] AllOf during(std::uint8_t state) const;
    /// s; the longest visit while `given` holds all along. Nothing if there is no bound, or if the state need not be left after it.
    [[nodiscard]] std::optional<double> longest(std::uint8_t state, const AllOf& given = {}) const;

  private:
    struct Range {
        double least = 0.0, most = 0.0;
    };
    [[nodiscard]] Range level_at_entry(std::uint8_t state, std::uint8_t meter) const;
    [[nodiscard]] bool may_begin(std::uint8_t state) const;
    [[nodiscard]] bool asks_for(std::uint8_t state, Literal literal) const;
    [[nodiscard]] std::optional<double> longest_by(std::uint8_t state, const detail::Clause& clause) const;
    [[nodiscard]] bool is_modified(unsigned measure) const;
    [[nodiscard]] std::optional<AllOf> none_takes_over(std::uint8_t state) const;

    [[nodiscard]] bool slows_throughout(std::uint8_t state) const;
    [[nodiscard]] AllOf speeds_during(std::uint8_t state) const;

    const detail::ChartData& chart_;
    const FactSolver& solver_;
    const Speeds* speeds_;
    detail::StateMask restless_ = 0;
};

}  // namespace cursimeter::survey
