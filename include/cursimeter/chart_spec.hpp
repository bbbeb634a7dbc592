#pragma once

#include <cursimeter/units.hpp>
#include <initializer_list>
#include <optional>
#include <string>
#include <vector>

/// The chart as a person writes it: plain values, in C++ or in a file (cursimeter/chartfile). Every
/// member is described, with unit, range and default, in docs/chart-reference.md, which is generated
/// from the same table (src/core/chart/chart_keys.hpp) that checks these values.
///
/// An empty optional means "not said": a state that is `like` another takes it over from there, and
/// otherwise the default holds. `compile` (cursimeter/chart.hpp) turns a spec into a `Chart`.
namespace cursimeter {

/// A condition: any one of its clauses must hold; a clause holds when all its terms do. No clause at
/// all means "always". Terms are text such as "sprint on", "not moving" or "stamina >= 10".
struct Condition {
    std::vector<std::vector<std::string>> any_of;

    Condition() = default;
    /// One clause: all of these terms.
    Condition(std::initializer_list<std::string> terms) {
        if (terms.size() > 0) {
            any_of.emplace_back(terms);
        }
    }
    /// Several clauses: any of these lists.
    explicit Condition(std::vector<std::vector<std::string>> clauses) : any_of(std::move(clauses)) {}
    friend bool operator==(const Condition&, const Condition&) = default;
};

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

/// How full another meter is scales this one: factors at fractions of that meter's capacity, straight in
/// between, clamped at the ends.
struct ScaleSpec {
    std::string by{};
    std::optional<std::vector<double>> at{};       ///< fractions, rising
    std::optional<std::vector<double>> factors{};  ///< as many
    friend bool operator==(const ScaleSpec&, const ScaleSpec&) = default;
};

struct RefillSpec {
    double rate = 0.0;                             ///< per second
    double wait = 0.0;                             ///< s after the last drain
    std::optional<std::vector<std::string>> in{};  ///< states in which it refills; all, if not said
    std::optional<Condition> when{};               ///< always, if not said
    std::vector<ScaleSpec> scale{};
    friend bool operator==(const RefillSpec&, const RefillSpec&) = default;
};

/// The latch that keeps a drained meter from being used again at once: spent from the level `at`,
/// until the level `until` has been refilled.
struct SpentSpec {
    double at = 0.0;
    double until = 0.0;
    /// Whether states that drain this meter are barred while it is spent.
    bool bars = true;
    std::optional<std::string> grants{};  ///< modifier that begins when the latch closes
    friend bool operator==(const SpentSpec&, const SpentSpec&) = default;
};

/// A level with a name.
struct LevelSpec {
    std::string name{};
    double level = 0.0;
    friend bool operator==(const LevelSpec&, const LevelSpec&) = default;
};

struct MeterSpec {
    std::string name{};
    double capacity = 0.0;
    std::optional<double> start{};  ///< level at spawn; the capacity if not said
    std::optional<RefillSpec> refill{};
    std::optional<SpentSpec> spent{};
    std::vector<ScaleSpec> drain_scale{};
    std::vector<LevelSpec> thresholds{};  ///< levels that are told of when they are crossed
    std::optional<std::string> was{};     ///< its name in the version before; see carry_over
    friend bool operator==(const MeterSpec&, const MeterSpec&) = default;
};

/// How charges of a cooldown come back.
enum class Recharge : unsigned char { one, all };
/// When a cooldown begins: as the state that uses it is entered, or left.
enum class Begins : unsigned char { entry, end };

/// A wait before something may be used again.
struct CooldownSpec {
    std::string name{};
    double seconds = 0.0;               ///< for each charge, or for all together
    int charges = 1;                    ///< uses before it must be waited for
    Recharge recharge = Recharge::one;  ///< one charge after the other, or all at once
    Begins begins = Begins::entry;
    std::optional<std::string> also{};  ///< another cooldown that begins with this one: a common lock-out
    std::optional<std::string> was{};   ///< its name in the version before; see carry_over
    friend bool operator==(const CooldownSpec&, const CooldownSpec&) = default;
};

/// What a further grant of a modifier does that is at work already.
enum class Stacking : unsigned char {
    refresh,    ///< its time starts again
    extend,     ///< its seconds are added to what is left
    count,      ///< one stack more, up to `most`, and the time starts again
    strongest,  ///< the stronger of the two stays
    separate,   ///< both are at work, each with its own time
};

/// One quantity that a modifier changes: "speed", "gain", "jump", "gravity", "steer", "burst",
/// "turn", "drain.<meter>", "refill.<meter>", "cooldown.<cooldown>".
struct AffectSpec {
    std::string what{};
    std::optional<double> adds{};      ///< in the unit of the quantity
    std::optional<double> times{};     ///< factor
    std::optional<double> sets{};      ///< this value instead
    std::optional<double> at_least{};  ///< no less than this
    std::optional<double> at_most{};   ///< no more than this
    friend bool operator==(const AffectSpec&, const AffectSpec&) = default;
};

/// A timed, stackable change to named quantities.
struct ModifierSpec {
    std::string name{};
    std::optional<double> seconds{};       ///< until it fades out; until removed, if not said
    double fade_in = 0.0, fade_out = 0.0;  ///< s
    Stacking stacking = Stacking::refresh;
    int most = 1;                            ///< stacks, for count
    std::optional<Condition> while_holds{};  ///< at work by itself while this holds
    std::optional<double> build{}, shed{};   ///< s per stack, gained while it holds and lost afterwards
    double first = 0.0;                      ///< s until the first stack of `build`
    std::optional<std::string> then{};       ///< modifier that follows when it ends
    std::vector<AffectSpec> affects{};
    std::optional<std::string> was{};  ///< its name in the version before; see carry_over
    friend bool operator==(const ModifierSpec&, const ModifierSpec&) = default;
};

/// How an action that is held at the end of a ban goes on: at once, or after another press.
enum class Resume : unsigned char { held, press };

/// A ban that the game puts into force and lifts: conversation, cut-scene, stun, menu.
struct BlockSpec {
    std::string name{};
    std::vector<std::string> bans{};  ///< actions, states, "movement"
    Resume resume = Resume::press;
    std::optional<std::string> was{};  ///< its name in the version before; see carry_over
    friend bool operator==(const BlockSpec&, const BlockSpec&) = default;
};

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

struct GainSpec {
    std::optional<GainLaw> law{};
    // ramp: m/s^2 while speeding up, slowing down, and without input
    std::optional<double> up{}, down{}, idle{};
    // ease: seconds in which the difference to the target halves
    std::optional<double> up_half_life{}, down_half_life{}, idle_half_life{};
    // curve
    std::optional<std::vector<CurvePoint>> up_curve{}, down_curve{}, idle_curve{};
    friend bool operator==(const GainSpec&, const GainSpec&) = default;
};

/// An amount of a named meter, per second or per metre.
struct RateSpec {
    std::string meter{};
    double rate = 0.0;
    friend bool operator==(const RateSpec&, const RateSpec&) = default;
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
    std::optional<bool> low{};                       ///< the body is low
    std::optional<bool> again{};                     ///< may be entered from itself
    std::optional<double> wind{};                    ///< part of the wind of zones that carries it
    std::optional<Condition> enter{};                ///< always, if not said
    std::optional<Condition> stay{};                 ///< as `enter` without its momentary terms, if not said
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

/// One kind of character.
struct ChartSpec {
    std::string name{};
    std::vector<std::string> rank{};  ///< states in the order in which they are tried
    BodySpec body;
    InputSpec input;
    std::vector<std::string> zones{};  ///< kinds of zones that conditions can tell apart
    std::vector<ActionSpec> actions{};
    std::vector<MeterSpec> meters{};
    std::vector<CooldownSpec> cooldowns{};
    std::vector<ModifierSpec> modifiers{};
    std::vector<BlockSpec> blocks{};
    std::vector<StateSpec> states{};
    friend bool operator==(const ChartSpec&, const ChartSpec&) = default;
};

}  // namespace cursimeter
