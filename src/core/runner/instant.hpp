#pragma once

#include <cursimeter/report.hpp>

#include "core/chart/chart_data.hpp"

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
    bool facts_changed = false;       ///< facts may differ from those last gathered
    bool wanted_changed = false;      ///< the wanted velocity must be computed anew
    bool turned = false;              ///< the wanted velocity must be turned into the world anew
    bool levels_changed = false;      ///< a meter's level made a jump
    bool rates_changed = false;       ///< a meter's refill may begin
    bool modifiers_changed = false;   ///< a modifier came, went or changed its strength
    glm::dvec3 ground_velocity{0.0};  ///< m/s, of the moving ground underfoot
    After after_burst = After::keep;
    const ChoiceWatch* watch = nullptr;  ///< see choose/looking_on.hpp

    void emit(EventKind kind, std::uint8_t subject, double value = 0.0, Cause cause = {});
    void emit_crossed(std::uint8_t meter, std::uint8_t threshold, bool rising, double level);
};

}  // namespace cursimeter::detail
