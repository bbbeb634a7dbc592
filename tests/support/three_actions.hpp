#pragma once

#include <cursimeter/controls/controls.hpp>

#include "support/bearer.hpp"

namespace support {

/// The bearer with a dash, and a lamp that is switched.
inline ChartSpec three_actions() {
    ChartSpec spec = bearer();
    spec.actions.push_back({.name = "dash"});
    spec.actions.push_back({.name = "lamp", .press = PressMode::toggle});
    return spec;
}

/// Keys that are down after everything that was gathered for the tick.
inline std::uint32_t held_after(Controls& controls, double dt = 0.05) {
    controls.next_tick(Seconds{dt});
    return controls.intent().held;
}

}  // namespace support
