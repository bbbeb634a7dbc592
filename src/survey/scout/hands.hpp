#pragma once

#include <cstdint>
#include <cursimeter/drill/drill.hpp>
#include <vector>

/// What a search plays: hands that change at the starts of ticks, and nowhere else.
namespace cursimeter::survey {

/// How the hands are. Angles are whole degrees, so that a drill writes them as they are.
struct Hands {
    std::int16_t yaw = 0;    ///< degrees, -179 to 180
    std::int16_t pitch = 0;  ///< degrees
    std::uint8_t move = 0;   ///< 0: none; 1: ahead, then by eighths to the right
    std::uint32_t held = 0;  ///< bit per action
    friend bool operator==(const Hands&, const Hands&) = default;
};
[[nodiscard]] Move move_of(std::uint8_t move);
[[nodiscard]] Look look_of(const Hands& hands);
/// -179 to 180.
[[nodiscard]] std::int16_t whole_degrees(int degrees);

/// What changes from some hands to others, all at the start of a tick, as a drill's player hands it over.
void add_changes(std::vector<Change>& changes, const Hands& before, const Hands& after, std::size_t actions);

/// From the start of a tick on, the hands are so.
struct HandsAt {
    std::uint32_t tick = 0;
    Hands hands;
    friend bool operator==(const HandsAt&, const HandsAt&) = default;
};

/// Changes in order of time, one a tick at most, and the tick at whose end it is over.
struct Way {
    std::vector<HandsAt> changes;
    std::uint32_t end = 0;
};

/// The way as a drill, which plays the same bits at that rate. `start` is where the runner begins; all actions that a player may
/// set are set to hold.
[[nodiscard]] DrillSpec drill_of(const Way& way, const Chart& chart, const StartSpec& start, double rate);

}  // namespace cursimeter::survey
