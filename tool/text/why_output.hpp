#pragma once

#include <cursimeter/survey/why.hpp>
#include <string>

namespace cursimeter::tool {

/// "taken", "no: stamina >= 10 does not hold"; `current` is the state that the runner is in.
[[nodiscard]] std::string standing_text(const Chart& chart, const survey::Standing& standing,
                                        StateId current);

}  // namespace cursimeter::tool
