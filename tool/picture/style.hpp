#pragma once

#include <array>
#include <cmath>
#include <cursimeter/ids.hpp>

#include "picture/canvas.hpp"

/// One look for all pictures.
namespace cursimeter::tool {

inline constexpr Colour paper{0.985, 0.975, 0.95};
inline constexpr Colour panel{1.0, 0.998, 0.99};
inline constexpr Colour ink{0.11, 0.16, 0.21};
inline constexpr Colour faint{0.42, 0.46, 0.50};
inline constexpr Colour grid{0.87, 0.85, 0.81};
inline constexpr Colour lantern{0.90, 0.56, 0.0};
inline constexpr Colour sea{0.0, 0.40, 0.64};
inline constexpr Colour alarm{0.80, 0.30, 0.0};

/// Told apart by colour-blind readers too (after Okabe and Ito 2008; the second half differs in lightness);
/// every picture says the same again in words or by place.
inline constexpr std::array<Colour, 12> state_colours{{{0.0, 0.447, 0.698},
                                                       {0.90, 0.60, 0.0},
                                                       {0.0, 0.62, 0.45},
                                                       {0.80, 0.475, 0.655},
                                                       {0.337, 0.706, 0.914},
                                                       {0.835, 0.369, 0.0},
                                                       {0.35, 0.35, 0.35},
                                                       {0.55, 0.78, 0.25},
                                                       {0.45, 0.25, 0.60},
                                                       {0.75, 0.72, 0.20},
                                                       {0.0, 0.25, 0.35},
                                                       {0.65, 0.65, 0.65}}};

inline Colour colour_of(StateId state) {
    return state_colours[state.index % state_colours.size()];
}

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
