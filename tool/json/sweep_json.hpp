#pragma once

#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/survey/sweep.hpp>
#include <nlohmann/json.hpp>
#include <vector>

namespace cursimeter::tool {

/// `preferences` are two, or none.
[[nodiscard]] nlohmann::ordered_json sweep_json(const ChartFile& chart, const survey::SweepPlan& plan,
                                                const std::vector<survey::SweepRow>& rows,
                                                const std::vector<survey::Preference>& preferences);

}  // namespace cursimeter::tool
