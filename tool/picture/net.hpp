#pragma once

#include <string>

#include "scene/results.hpp"

namespace cursimeter::tool {

/// Draws the first client's runner: the truth, what its owner saw and what the second client saw.
void draw_net(const NetResult& net, const std::string& file);

}  // namespace cursimeter::tool
