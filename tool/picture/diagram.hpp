#pragma once

#include <string>

#include "scene/scene.hpp"

namespace cursimeter::tool {

/// The chart's states and the changes between them that its conditions allow, as a graph in the DOT language; those
/// that a run took are emphasised and counted. `run` may be null.
[[nodiscard]] std::string diagram_dot(const ChartFile& chart, const survey::Run* run);
/// Lays a graph out and returns it as "png" or "svg", 1280 x 800.
[[nodiscard]] std::string render_dot(const std::string& dot, const char* format);

}  // namespace cursimeter::tool
