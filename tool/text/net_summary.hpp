#pragma once

#include <string>

#include "scene/results.hpp"

namespace cursimeter::tool {

/// For a person.
[[nodiscard]] std::string net_summary(const NetResult& net);

}  // namespace cursimeter::tool
