#pragma once

#include <string>

#include "scene/results.hpp"

namespace cursimeter::tool {

/// Draws a run over time, 1280 x 800: states, speed against its target, meters with their latches,
/// keys and events, all on one time axis. The file's ending chooses PNG or SVG.
void draw_timeline(const RunResult& result, const std::string& file);

}  // namespace cursimeter::tool
