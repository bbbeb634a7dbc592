#pragma once

#include <string>

#include "scene/match_file.hpp"

namespace cursimeter::tool {

/// A match that was played again, for a person.
[[nodiscard]] std::string match_summary(const MatchResult& result, const std::string& file);

}  // namespace cursimeter::tool
