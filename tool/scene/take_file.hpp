#pragma once

#include <cursimeter/survey/take.hpp>
#include <string>

#include "scene/scene.hpp"

namespace cursimeter::tool {

/// Runs the scene and records it, chart and course included.
void write_take(const Scene& scene, const std::string& file);
[[nodiscard]] survey::Take load_take(const std::string& file);
[[nodiscard]] survey::Take take_of(const std::string& bytes, const std::string& file);

}  // namespace cursimeter::tool
