#pragma once

#include "picture/sweep.hpp"

namespace cursimeter::tool {

/// Draws two figures of a sweep against each other, 1280 x 800: every row a dot, those that no other beats joined by a line, the chart as
/// it is marked. The file's ending chooses PNG or SVG.
void draw_front(const SweepPicture& sweep, const survey::Preference& across, const survey::Preference& up,
                const std::string& file);

}  // namespace cursimeter::tool
