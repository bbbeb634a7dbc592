#pragma once

#include <string>

#include "scene/results.hpp"

namespace cursimeter::tool {

/// Draws a run's path over its course, 1280 x 800: from the side and from above, in as many rows as give
/// the largest scale, coloured by state, with a mark at every state change and the legs' times. The file's
/// ending chooses PNG or SVG.
void draw_map(const RunResult& result, const std::string& file);

}  // namespace cursimeter::tool
