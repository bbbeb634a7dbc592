#pragma once

#include <compare>
#include <cstdint>

/// Units of the library: metres, seconds, metres per second. Angles are degrees where people write
/// them (charts, drills) and radians where code computes with them. Quantities that are easily taken
/// for one another are types of their own, so that a count of ticks cannot be passed as seconds.
namespace cursimeter {

/// A length of time, in seconds.
struct Seconds {
    double value = 0.0;
    explicit constexpr Seconds(double seconds = 0.0) : value(seconds) {}
    friend constexpr auto operator<=>(Seconds, Seconds) = default;
};

/// An angle as people write it, in degrees. Converted once, when a chart is compiled.
struct Degrees {
    double value = 0.0;
    explicit constexpr Degrees(double degrees = 0.0) : value(degrees) {}
    friend constexpr auto operator<=>(Degrees, Degrees) = default;
    /// The same angle in radians.
    [[nodiscard]] constexpr double radians() const { return value * 0.017453292519943295; }
};

/// The longest tick that `advance` simulates in one call.
inline constexpr Seconds longest_tick{0.1};

/// Instants that are closer together than this count as one, so that a key released exactly when a
/// meter runs out gives the same run whichever of the two rounding puts first.
inline constexpr Seconds instant_width{1e-9};

/// A state that was left does not come back sooner than this by itself, which is by meters, speeds, times and contacts alone:
/// so states that undo each other's conditions change at the same calm pace at every tick rate. Whatever comes from
/// outside (a key, a move, a zone, a push) lets it come back at once.
inline constexpr Seconds shortest_return{0.01};

}  // namespace cursimeter
