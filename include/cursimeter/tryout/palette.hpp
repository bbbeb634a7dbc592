#pragma once

#include <array>
#include <cursimeter/ids.hpp>

/// One look for pictures, panels and the window.
namespace cursimeter::tryout {

/// Each 0 to 1.
struct Colour {
    double red = 0.0, green = 0.0, blue = 0.0, alpha = 1.0;
    [[nodiscard]] constexpr Colour faded(double to) const { return {red, green, blue, to}; }
};

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

constexpr Colour colour_of(StateId state) {
    return state_colours[state.index % state_colours.size()];
}
/// Meters have lines of these, in the chart's order.
inline constexpr std::array<Colour, 4> meter_colours{lantern, sea, state_colours[2], state_colours[8]};
constexpr Colour colour_of(MeterId meter) {
    return meter_colours[meter.index % meter_colours.size()];
}

}  // namespace cursimeter::tryout
