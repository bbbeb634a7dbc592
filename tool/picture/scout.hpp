#pragma once

#include <cursimeter/survey/scout.hpp>
#include <optional>
#include <string>

#include "scene/results.hpp"

namespace cursimeter::tool {

/// What a search found, for drawing.
struct ScoutPicture {
    const Chart& chart;
    const Course* course = nullptr;  ///< null: open ground
    std::string subject;             ///< what was looked for
    double cell = 0.5;               ///< m
    const survey::Scouted& found;
    const survey::Run* way = nullptr;  ///< null: none
};

/// Draws all places that were reached over the course, 1280 x 800, coloured by the time it takes to get there, and the way to the
/// goal. The file's ending chooses PNG or SVG.
void draw_scout(const ScoutPicture& picture, const std::string& file);

}  // namespace cursimeter::tool
