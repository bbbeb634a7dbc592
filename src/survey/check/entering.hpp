#pragma once

#include "survey/check/fact_solver.hpp"

namespace cursimeter::survey {

/// What a way into a state says of the moment after it was taken: entering may lift off, change the speed, pay and use up.
[[nodiscard]] AllOf just_entered(const detail::ChartData& chart, std::uint8_t state,
                                 const detail::Clause& way);
/// Whether a state may be entered without a press, and its `stay` not hold then.
[[nodiscard]] bool is_left_at_once(const detail::ChartData& chart, const FactSolver& solver,
                                   std::uint8_t state);
/// Whether its `stay` may end while it could be entered again without a press. Then it is held back for `shortest_return`, and states that
/// come after it in rank are taken, which may stay for longer.
[[nodiscard]] bool may_be_held_back(const detail::ChartData& chart, const FactSolver& solver,
                                    std::uint8_t state);

}  // namespace cursimeter::survey
