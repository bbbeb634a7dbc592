#pragma once

#include "survey/check/fact_solver.hpp"

namespace cursimeter::survey {

/// What a way into a state says of the moment after it was taken: entering may lift off, change the speed, pay and use up.
[[nodiscard]] AllOf just_entered(const detail::ChartData& chart, std::uint8_t state,
                                 const detail::Clause& way);

}  // namespace cursimeter::survey
