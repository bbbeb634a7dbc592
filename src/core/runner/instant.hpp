#pragma once

#include <cursimeter/report.hpp>

#include "core/chart/chart_data.hpp"
#include "core/runner/dirty.hpp"

/// The instant at hand: what every rule that acts at an instant is given.
namespace cursimeter::detail {

struct ChoiceWatch;

/// The instant being worked on.
struct Instant {
    const ChartData& chart;
    RunnerState& runner;
    Report& report;
    double at = 0.0;                  ///< s after the tick's start
    std::uint64_t momentary = 0;      ///< keys pressed and released at this very instant
    DerivedFacts crossed{};           ///< facts about speeds that change at this instant
    std::uint64_t expired = 0;        ///< presses whose buffer is over, as in `momentary`
    Dirty dirty{};                    ///< what must be found anew
    glm::dvec3 ground_velocity{0.0};  ///< m/s, of the moving ground underfoot
    After after_burst = After::keep;
    const ChoiceWatch* watch = nullptr;  ///< see choose/looking_on.hpp

    void emit(EventKind kind, std::uint8_t subject, double value = 0.0, Cause cause = {});
    void emit_crossed(std::uint8_t meter, std::uint8_t threshold, bool rising, double level);
};

}  // namespace cursimeter::detail
