#pragma once

#include <string>

#include "scene/results.hpp"

namespace cursimeter::tool {

/// For a person.
[[nodiscard]] std::string summary_text(const RunResult& result);

}  // namespace cursimeter::tool
