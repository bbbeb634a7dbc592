#pragma once

#include "picture/sweep.hpp"

namespace cursimeter::tool {

/// Draws how much each value of a sweep moves each figure, 1280 x 800: a bar for each, the longest first. At most six figures. The
/// file's ending chooses PNG or SVG.
void draw_sensitivities(const SweepPicture& sweep, const survey::SweepPlan& plan, const std::string& file);

}  // namespace cursimeter::tool
