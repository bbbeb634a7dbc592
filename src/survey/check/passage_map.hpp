#pragma once

#include <cstdint>

#include "survey/check/fact_solver.hpp"

/// Which state can follow which: the core's choice among states, as a question to the solver.
namespace cursimeter::survey {

/// What limits the moments that are asked about.
enum class When : std::uint8_t {
    any,     ///< any moment
    steady,  ///< no key goes down or up, the present state was entered just now, and none before it is held back
};

class PassageMap {
  public:
    explicit PassageMap(const detail::ChartData& chart);

    /// A moment at which a runner in `from` takes `to`, or nothing. `also` must hold besides.
    [[nodiscard]] std::optional<Knowledge> find(std::uint8_t from, std::uint8_t to, When when,
                                                const AllOf& also = {}) const;
    /// Everything that must hold for it, one list for each way into `to`; none if it cannot be.
    [[nodiscard]] std::vector<AllOf> demands(std::uint8_t from, std::uint8_t to, When when) const;
    [[nodiscard]] bool leads(std::uint8_t from, std::uint8_t to) const {
        return (leads_[from] >> to & 1U) != 0;
    }
    /// Bit per state that a runner can be spawned in.
    [[nodiscard]] detail::StateMask begins() const { return begins_; }
    /// Bit per state that some run can be in.
    [[nodiscard]] detail::StateMask reachable() const { return reachable_; }
    [[nodiscard]] const FactSolver& solver() const { return solver_; }

  private:
    void find_ways();
    void add_left_for_brief_ones();
    void find_beginnings();
    void find_reachable();

    const detail::ChartData& chart_;
    FactSolver solver_;
    detail::StateMask held_back_ = 0;  ///< bit per state that may have to wait although it could be entered
    detail::StateMask brief_ =
        0;  ///< bit per state that may be left at once: whatever was before it has to wait
    std::vector<detail::StateMask> leads_;  ///< by state: bit per state that may follow
    detail::StateMask begins_ = 0, reachable_ = 0;
};

}  // namespace cursimeter::survey
