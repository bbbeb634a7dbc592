#pragma once

#include <optional>
#include <vector>

#include "survey/check/passage_map.hpp"
#include "survey/require/speed_limits.hpp"

/// How fast a runner can be in each state, by whatever ways lead there, as long as nothing but itself makes it faster.
namespace cursimeter::survey {

class Speeds {
  public:
    /// `limits` by state.
    Speeds(const detail::ChartData& chart, const PassageMap& map, std::vector<VisitLimits> limits);

    /// Bit per state that some run can be in; states that only a speed out of reach would lead to are none.
    [[nodiscard]] detail::StateMask reachable() const { return reachable_; }
    [[nodiscard]] const Fastest& entered(std::uint8_t state) const { return entered_[state]; }
    [[nodiscard]] const Fastest& kept(std::uint8_t state) const { return kept_[state]; }
    /// What that says of the facts about speeds, all through a visit.
    [[nodiscard]] AllOf during(std::uint8_t state) const;

  private:
    /// What is known of a way into a state; it stays so, since speeds only grow.
    struct Way {
        bool open = false;   ///< some moment takes it
        bool aloft = false;  ///< and one at which the runner is in the air
    };
    struct Ways {
        std::vector<Way> all;  ///< in the order of the clauses of `enter`
        /// How much was ruled out by speeds where they come from, when the solver was last asked.
        std::optional<std::size_t> ruled_out;
    };
    void open_ways(std::uint8_t from, std::uint8_t to, Ways& ways) const;
    bool follow(std::uint8_t from, std::uint8_t to, bool without_end);

    const detail::ChartData& chart_;
    const PassageMap& map_;
    std::vector<VisitLimits> limits_;
    detail::StateMask reachable_ = 0;
    std::vector<Fastest> entered_, kept_;  ///< by state
    std::vector<Ways> ways_;               ///< by from * states + to
};

}  // namespace cursimeter::survey
