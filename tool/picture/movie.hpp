#pragma once

#include <string>

#include "scene/results.hpp"

namespace cursimeter::tool {

/// Draws a run as it moves: the body on its course from the side, 720 x 320, with its state, speed and meters, and the states
/// over time below. Some twelve seconds long at 15 pictures a second, so a longer run goes by faster, and says so.
void draw_movie(const RunResult& result, const std::string& file);

}  // namespace cursimeter::tool
