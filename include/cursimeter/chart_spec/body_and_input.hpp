#pragma once

#include <cursimeter/units.hpp>
#include <optional>
#include <string>

/// The body, how the intent is read, and what the player can press.
namespace cursimeter {

/// The character's body: an upright capsule whose lowest point is the runner's position, and how it
/// stands on the ground.
struct BodySpec {
    double radius = 0.35;                ///< m
    double height = 1.8;                 ///< m, of the whole capsule
    std::optional<double> low_height{};  ///< m, of states with a low body; 0.6 of the height if not said
    double step_height = 0.35;           ///< m; what it walks over without slowing down
    Degrees slope_limit{50.0};           ///< steeper ground is a wall
    double stick_speed = 12.0;           ///< m/s; up to this speed it keeps to ground that falls away
    double gravity = 20.0;               ///< m/s^2, where a state says no other
    double coyote = 0.0;                 ///< s for which "footing" lasts after the ground was left
    friend bool operator==(const BodySpec&, const BodySpec&) = default;
};

/// How the intent is read.
struct InputSpec {
    /// "moving forward" holds while the move points within this angle of straight ahead, "moving
    /// backward" within it of straight back, "moving sideways" in between.
    Degrees forward_within{60.0};
    friend bool operator==(const InputSpec&, const InputSpec&) = default;
};

/// hold: on while the key is down. toggle: each press switches on or off.
enum class PressMode : unsigned char { hold, toggle };

struct ActionSpec {
    std::string name{};
    /// The chart's choice; a player may override it at run time (`set_press_mode`).
    PressMode press = PressMode::hold;
    /// s; how long a press waits for a state that it can bring about.
    double buffer = 0.0;
    std::optional<std::string> was{};  ///< its name in the version before; see carry_over
    friend bool operator==(const ActionSpec&, const ActionSpec&) = default;
};

}  // namespace cursimeter
