#pragma once

#include <cursimeter/survey/figures.hpp>
#include <string>
#include <vector>

namespace cursimeter::tool {

/// Three decimals, "-" where there is none.
[[nodiscard]] std::string figure_text(const survey::Figure& figure);
/// For a person.
[[nodiscard]] std::string figure_table(const std::vector<survey::Figure>& figures);

}  // namespace cursimeter::tool
