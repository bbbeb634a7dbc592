#pragma once

#include <string>

#include "scene/results.hpp"

namespace cursimeter::tool {

/// For a program: exactly one JSON object and a line's end.
[[nodiscard]] std::string net_json(const NetResult& net);
[[nodiscard]] std::string peers_json(const PeersResult& peers);

}  // namespace cursimeter::tool
