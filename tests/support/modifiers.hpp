#pragma once

#include <catch2/catch.hpp>
#include <cursimeter/effects.hpp>

#include "support/play.hpp"

/// Charts with a modifier or a few.
namespace support {

inline ModifierSpec modifier(const std::string& name, std::optional<double> seconds, double times) {
    ModifierSpec spec;
    spec.name = name;
    spec.seconds = seconds;
    spec.affects = {{.what = "speed", .times = times}};
    return spec;
}

/// Walking at 2 m/s with no gain: the speed is the target.
inline ChartSpec plain(std::vector<ModifierSpec> modifiers) {
    ChartSpec spec = walker({.forward = 2.0});
    spec.modifiers = std::move(modifiers);
    return spec;
}

/// The speed after a tick of no length, which must be the target that `read_speed` tells.
inline double speed(const Chart& chart, Play& play) {
    play.settle();
    CHECK(near(read_speed(chart, play.runner()).target, play.runner().speed(), 1e-12));
    return play.runner().speed();
}

}  // namespace support
