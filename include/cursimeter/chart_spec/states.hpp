#pragma once

#include <cursimeter/chart_spec/condition.hpp>
#include <cursimeter/chart_spec/meters.hpp>
#include <cursimeter/units.hpp>
#include <optional>
#include <string>
#include <vector>

/// Ways of moving.
namespace cursimeter {

enum class StateKind : unsigned char { ground, air, slide, burst, fly, wall };

/// Speeds in m/s by direction relative to the facing, blended as an ellipse in between.
struct SpeedSpec {
    std::optional<double> forward{};
    std::optional<double> side{};  ///< forward's if not said
    std::optional<double> back{};  ///< side's if not said
    friend bool operator==(const SpeedSpec&, const SpeedSpec&) = default;
};

/// How the real speed approaches the speed target. Only the keys of the chosen law are read.
enum class GainLaw : unsigned char { instant, ramp, ease, curve };

/// A key point of a gain curve: this fraction of the full speed after this many seconds.
struct CurvePoint {
    double seconds = 0.0;
    double fraction = 0.0;
    friend bool operator==(const CurvePoint&, const CurvePoint&) = default;
};

/// How the velocity comes to another direction: along an arc, since the law holds for all of it; or at once, so that the law
/// changes the speed alone.
enum class Turning : unsigned char { arc, at_once };

struct GainSpec {
    std::optional<GainLaw> law{};
    std::optional<Turning> turn{};
    // ramp: m/s^2 while speeding up, slowing down, and without input
    std::optional<double> up{}, down{}, idle{};
    // ease: seconds in which the difference to the target halves
    std::optional<double> up_half_life{}, down_half_life{}, idle_half_life{};
    // curve
    std::optional<std::vector<CurvePoint>> up_curve{}, down_curve{}, idle_curve{};
    friend bool operator==(const GainSpec&, const GainSpec&) = default;
};

/// What slopes do to the speed target of a ground state: its factor straight up and straight down the
/// steepest ground that can be walked on, in proportion to the sine of the incline in between.
struct SlopeSpec {
    std::optional<double> up{}, down{};
    friend bool operator==(const SlopeSpec&, const SlopeSpec&) = default;
};

/// Motion through the air. The speed table of the state is the limit of steering.
struct AirSpec {
    std::optional<double> rise_gravity{};  ///< m/s^2
    std::optional<double> fall_gravity{};  ///< m/s^2
    std::optional<double> terminal{};      ///< m/s of falling at most
    std::optional<double> steer{};         ///< m/s^2 towards the wanted direction
    std::optional<double> brake{};         ///< m/s^2 while no move is wanted
    friend bool operator==(const AirSpec&, const AirSpec&) = default;
};

/// A jump on entering the state.
struct LaunchSpec {
    std::optional<std::vector<double>> heights{};  ///< m, of the first jump, the second ...
    std::optional<double> least{};                 ///< m, if its key is released at once
    std::optional<std::string> by{};               ///< the action whose release cuts the jump short
    std::optional<Degrees> away{};                 ///< off a wall: direction, 90 straight away from it
    std::optional<double> away_speed{};            ///< m/s in that direction
    friend bool operator==(const LaunchSpec&, const LaunchSpec&) = default;
};

struct SlideSpec {
    std::optional<double> boost{};        ///< m/s added on entry
    std::optional<double> boost_limit{};  ///< m/s; the boost goes no further
    std::optional<double> friction{};     ///< m/s^2
    std::optional<double> slope{};        ///< part of gravity's pull along the slope that counts
    std::optional<double> top{};          ///< m/s at most
    friend bool operator==(const SlideSpec&, const SlideSpec&) = default;
};

/// Where a burst may go: the move wanted, the facing, the look with its pitch, the velocity, away from
/// the wall at hand.
enum class Along : unsigned char { input, facing, look, velocity, away };

/// The speed after a burst: what the next state aims for, what it is, none.
enum class After : unsigned char { target, keep, stop };

struct BurstSpec {
    std::optional<std::vector<Along>> along{};  ///< the first that has a direction
    std::optional<double> speed{};              ///< m/s, or
    std::optional<double> metres{};
    std::optional<double> seconds{};
    std::optional<After> after{};
    std::optional<bool> gravity{};
    friend bool operator==(const BurstSpec&, const BurstSpec&) = default;
};

struct FlySpec {
    std::optional<bool> by_look{};      ///< moving forward follows the look's pitch
    std::optional<std::string> up{};    ///< action
    std::optional<std::string> down{};  ///< action
    std::optional<double> climb{};      ///< m/s while `up` is on
    std::optional<double> dive{};       ///< m/s while `down` is on
    std::optional<double> sink{};       ///< m/s always: a glide
    friend bool operator==(const FlySpec&, const FlySpec&) = default;
};

struct WallSpec {
    std::optional<double> reach{};        ///< m between body and wall
    std::optional<double> least_speed{};  ///< m/s along the wall, to begin
    std::optional<Degrees> most_angle{};  ///< between the velocity and the wall, to begin
    std::optional<double> seconds{};      ///< at most
    std::optional<double> climb{};        ///< m/s upward at the start
    std::optional<double> gravity{};      ///< m/s^2 at the start
    std::optional<double> growth{};       ///< m/s^2 per second
    friend bool operator==(const WallSpec&, const WallSpec&) = default;
};

struct StateSpec {
    std::string name{};
    std::optional<std::string> like{};  ///< takes over from this state what is not said here
    std::optional<StateKind> kind{};
    SpeedSpec speed;
    GainSpec gain;
    SlopeSpec slope;
    AirSpec air;
    LaunchSpec launch;
    SlideSpec slide;
    BurstSpec burst;
    FlySpec fly;
    WallSpec wall;
    std::optional<bool> low{};         ///< the body is low
    std::optional<bool> again{};       ///< may be entered from itself
    std::optional<double> wind{};      ///< part of the wind of zones that carries it
    std::optional<Condition> enter{};  ///< always, if not said
    std::optional<Condition> stay{};   ///< if not said: `enter` without terms on presses, releases, time
    std::optional<std::vector<std::string>> from{};  ///< any state, if not said
    std::vector<RateSpec> cost{};                    ///< taken from meters on entry
    std::optional<std::string> cooldown{};           ///< begins on entry; the state waits for it
    std::vector<RateSpec> drain{};                   ///< per second
    std::vector<RateSpec> drain_per_metre{};
    std::optional<double> stride{};  ///< m from one footstep to the next, on the ground; none, if not said
    std::optional<double> drain_above{};  ///< m/s of real speed; slower than this drains nothing
    std::optional<std::string> was{};     ///< its name in the version before; see carry_over
    friend bool operator==(const StateSpec&, const StateSpec&) = default;
};

}  // namespace cursimeter
