#pragma once

#include <string>
#include <vector>

#include "core/chart/chart_data.hpp"

namespace cursimeter::detail {

/// Fills `fresh`, which was spawned with `to` where `old` stands and looks, with what `old` has of `from`: by names, as
/// `carry_over` says. Of `from` only names, slots and numbers of things are read. Returns what could not be taken over, a line each.
[[nodiscard]] std::vector<std::string> carry_state(const ChartData& from, const RunnerState& old,
                                                   const ChartData& to, RunnerState& fresh);

}  // namespace cursimeter::detail
