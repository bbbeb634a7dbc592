#pragma once

#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/survey/check.hpp>
#include <string>
#include <vector>

namespace cursimeter::tool {

/// For a person; `proofs` are the names of the drills that were written, empty where there is none.
[[nodiscard]] std::string findings_text(const std::string& file, const ChartFile& chart,
                                        const std::vector<survey::Finding>& findings,
                                        const std::vector<std::string>& proofs);

}  // namespace cursimeter::tool
