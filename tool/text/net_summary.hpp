#pragma once

#include <string>

#include "scene/results.hpp"

namespace cursimeter::tool {

/// For a person.
[[nodiscard]] std::string net_summary(const NetResult& net);
[[nodiscard]] std::string peers_summary(const PeersResult& peers);

}  // namespace cursimeter::tool
