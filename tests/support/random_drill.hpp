#pragma once

#include <random>

#include "support/bearer.hpp"

namespace support {

/// A drill of random presses, moves and turns at random times. Press times, directions and looks are
/// arbitrary doubles, so coincidences are only those that the chart itself brings about.
inline DrillSpec random_drill(std::mt19937& random, const Chart& chart, double seconds, double pause = 1.0) {
    std::uniform_real_distribution<double> unit(0.0, 1.0);
    DrillSpec drill;
    drill.name = "random";
    drill.seconds = seconds;
    std::vector<bool> down(chart.action_count());
    for (double at = pause * unit(random); at < seconds; at += pause * unit(random)) {
        StepSpec step;
        step.at = at;
        for (std::uint8_t i = 0; i < chart.action_count(); ++i) {
            if (unit(random) < 0.4) {
                (down[i] ? step.release : step.hold).push_back(chart.name(ActionId{i}));
                down[i] = !down[i];
            }
        }
        if (unit(random) < 0.5) {
            const double angle = unit(random) < 0.5 ? 0.0 : 6.283 * unit(random);
            const double length = unit(random) < 0.25 ? 0.0 : unit(random) < 0.6 ? 1.0 : unit(random);
            step.move = Move{length * std::cos(angle), length * std::sin(angle)};
        }
        if (unit(random) < 0.3) {
            step.look = LookSpec{Degrees{360.0 * unit(random)}, Degrees{0.0}};
        }
        drill.steps.push_back(step);
    }
    return drill;
}

/// Ends of ticks of random lengths from 1 to 100 ms.
inline std::vector<double> random_ticks(std::mt19937& random, double seconds) {
    std::uniform_real_distribution<double> length(0.001, 0.1);
    std::vector<double> ends;
    for (double at = length(random); at < seconds; at += length(random)) {
        ends.push_back(at);
    }
    ends.push_back(seconds);
    return ends;
}

}  // namespace support
