#pragma once

#include <string>

#include "scene/match_file.hpp"

namespace cursimeter::tool {

/// A match that was played again, for a program: one JSON object.
[[nodiscard]] std::string match_json(const MatchResult& result, const std::string& file);

}  // namespace cursimeter::tool
