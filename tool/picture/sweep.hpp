#pragma once

#include <cursimeter/survey/figures.hpp>
#include <cursimeter/survey/sweep.hpp>
#include <string>
#include <vector>

namespace cursimeter::tool {

struct SweepPicture {
    std::string chart;
    std::vector<survey::SweepAxis> axes;
    std::vector<std::string> units;          ///< of the axes
    std::vector<survey::Figure> figures;     ///< as the chart has them, for names and units
    std::vector<std::optional<double>> own;  ///< the chart's own values on the axes
    std::vector<survey::SweepRow> rows;
};

/// Draws a sweep, 1280 x 800: over one value a panel with a line for each figure, over two a heat map each. At most
/// six figures. The file's ending chooses PNG or SVG.
void draw_sweep(const SweepPicture& sweep, const std::string& file);

}  // namespace cursimeter::tool
