#pragma once

#include <string>
#include <vector>

#include "picture/canvas.hpp"

/// What curves and bars are told apart by.
namespace cursimeter::tool {

/// Who brought a change of state about: a bar for the player's keys, a diamond for the world and the runner's own state.
void draw_cause_mark(Canvas& canvas, PagePoint middle, double height, bool by_hand);
/// Says so above a panel's right end.
void draw_causes_legend(Canvas& canvas, const Box& box);

struct LegendEntry {
    std::string name;
    Colour colour;
    bool dashed;
};
/// Above a panel's right end, where no curve runs.
void draw_legend(Canvas& canvas, const Box& box, const std::vector<LegendEntry>& entries);

/// A picture's first line: a chart's name and what the picture shows of it, shortened to the page.
void draw_heading(Canvas& canvas, double left, const std::string& name, const std::string& what);

}  // namespace cursimeter::tool
