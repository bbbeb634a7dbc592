#pragma once

#include <array>
#include <cstdint>
#include <cursimeter/ids.hpp>
#include <glm/vec2.hpp>
#include <glm/vec3.hpp>

/// The layout of Runner. It is visible because a Runner is a value; reach it through Runner's
/// functions, since members come and go between versions.
namespace cursimeter::detail {

/// What is true about a runner. `fixed` has one layout for all charts (see src/core/facts.hpp);
/// `derived` holds the comparisons and latches that the chart's own terms read.
struct Facts {
    std::uint64_t fixed = 0;
    std::uint64_t derived = 0;
    friend bool operator==(const Facts&, const Facts&) = default;
};

/// The law of motion between two instants.
enum class LegKind : std::uint8_t { steady, ramp, ease };

/// Whether the speed rises or falls along the leg.
enum class Trend : std::uint8_t { level, rising, falling };

struct MeterState {
    double level = 0.0;
    double rate = 0.0;  ///< per second; negative while draining. A drain by the metre comes on top
    double due = 0.0;   ///< runner clock at which `mark` is reached, or at which a wait ends
};

struct RunnerState {
    // Read or written by every tick.
    double clock = 0.0;
    double next_due = 0.0;  ///< the earliest of leg_due, crossing_due and other_due
    glm::dvec3 position{0.0};
    glm::dvec3 velocity{0.0};
    glm::dvec2 acceleration{0.0};  ///< of a ramp leg
    double speed = 0.0;
    double distance = 0.0;
    double move_forward = 0.0, move_side = 0.0;  ///< as last given, unmended
    double look_yaw = 0.0, look_pitch = 0.0;     ///< as last given, unmended
    std::uint32_t held = 0;
    std::uint32_t chart_tag = 0;
    LegKind leg = LegKind::steady;
    Trend trend = Trend::level;
    bool straight = true;  ///< the leg's velocity keeps its line
    bool idle = true;      ///< no move wanted
    std::uint8_t state = 0;
    std::uint8_t meter_count = 0;
    std::uint8_t flowing = 0;      ///< bit per meter whose level is changing
    std::uint8_t by_distance = 0;  ///< bit per meter that is draining by the metre
    std::array<MeterState, limits::meters> meters{};

    // Read or written at instants.
    Facts facts;
    glm::dvec2 facing{1.0, 0.0};
    glm::dvec2 wanted{0.0};  ///< velocity aimed for, ahead and to the right of the facing, m/s
    double target_speed = 0.0;
    double leg_due = 0.0;           ///< end of the leg
    double leg_last_squared = 0.0;  ///< square of the speed at the leg's end
    double crossing_due = 0.0;      ///< the speed crosses a value that something reads
    double other_due = 0.0;         ///< a meter's mark, a wait's end, a time in the state that a term reads
    double retry_due = 0.0;         ///< when a state that was barred for an instant is tried again
    double state_since = 0.0;
    std::uint16_t on = 0;
    std::uint16_t toggles = 0;
    std::uint8_t draining = 0;  ///< bit per meter
    std::uint8_t waiting = 0;   ///< bit per meter whose refill has not begun
    std::uint8_t spent = 0;     ///< bit per meter
    std::uint8_t moving = 0;    ///< what the move wanted now says: the facts from fact::moving on
    bool leg_arrives = false;   ///< the leg ends on its target
    bool stale = true;          ///< facts must be gathered before time goes on
    std::array<std::uint8_t, limits::meters> mark{};  ///< index of the mark that is next reached
};

struct RunnerAccess;

}  // namespace cursimeter::detail
