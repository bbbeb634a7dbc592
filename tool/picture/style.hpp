#pragma once

#include <cmath>

#include "picture/canvas.hpp"

/// One look for all pictures.
namespace cursimeter::tool {

using tryout::alarm, tryout::colour_of, tryout::faint, tryout::grid, tryout::ink, tryout::lantern,
    tryout::panel, tryout::paper, tryout::sea, tryout::state_colours;

/// A picture's size.
inline constexpr double page_width = 1280.0, page_height = 800.0;

/// A round step that gives about `wanted` divisions of `span`.
inline double round_step(double span, double wanted) {
    const double raw = span / wanted;
    const double power = std::pow(10.0, std::floor(std::log10(raw)));
    for (const double factor : {1.0, 2.0, 5.0}) {
        if (factor * power >= raw) {
            return factor * power;
        }
    }
    return 10.0 * power;
}

}  // namespace cursimeter::tool
