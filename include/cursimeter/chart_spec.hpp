#pragma once

#include <cursimeter/units.hpp>
#include <initializer_list>
#include <optional>
#include <string>
#include <vector>

/// The chart as a person writes it: plain values, in C++ or in a file (cursimeter/chartfile). Every
/// member is described, with unit, range and default, in docs/chart-reference.md, which is generated
/// from the same table (src/core/chart_keys.hpp) that checks these values.
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
    std::string name;
    /// The chart's choice; a player may override it at run time (`set_press_mode`).
    PressMode press = PressMode::hold;
    friend bool operator==(const ActionSpec&, const ActionSpec&) = default;
};

struct RefillSpec {
    double rate = 0.0;  ///< per second
    double wait = 0.0;  ///< s after the last drain
    friend bool operator==(const RefillSpec&, const RefillSpec&) = default;
};

/// The latch that keeps a drained meter from being used again at once: spent from the level `at`,
/// until the level `until` has been refilled.
struct SpentSpec {
    double at = 0.0;
    double until = 0.0;
    /// Whether states that drain this meter are barred while it is spent.
    bool bars = true;
    friend bool operator==(const SpentSpec&, const SpentSpec&) = default;
};

struct MeterSpec {
    std::string name;
    double capacity = 0.0;
    std::optional<double> start;  ///< level at spawn; the capacity if not said
    std::optional<RefillSpec> refill;
    std::optional<SpentSpec> spent;
    friend bool operator==(const MeterSpec&, const MeterSpec&) = default;
};

enum class StateKind : unsigned char { ground };

/// Speeds in m/s by direction relative to the facing, blended as an ellipse in between.
struct SpeedSpec {
    std::optional<double> forward;
    std::optional<double> side;  ///< forward's if not said
    std::optional<double> back;  ///< side's if not said
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
    std::optional<GainLaw> law;
    // ramp: m/s^2 while speeding up, slowing down, and without input
    std::optional<double> up, down, idle;
    // ease: seconds in which the difference to the target halves
    std::optional<double> up_half_life, down_half_life, idle_half_life;
    // curve
    std::optional<std::vector<CurvePoint>> up_curve, down_curve, idle_curve;
    friend bool operator==(const GainSpec&, const GainSpec&) = default;
};

/// An amount of a named meter, per second or per metre.
struct RateSpec {
    std::string meter;
    double rate = 0.0;
    friend bool operator==(const RateSpec&, const RateSpec&) = default;
};

struct StateSpec {
    std::string name;
    std::optional<std::string> like;  ///< takes over from this state what is not said here
    std::optional<StateKind> kind;
    SpeedSpec speed;
    GainSpec gain;
    std::optional<Condition> enter;                ///< always, if not said
    std::optional<Condition> stay;                 ///< as `enter` without its momentary terms, if not said
    std::optional<std::vector<std::string>> from;  ///< any state, if not said
    std::vector<RateSpec> drain;                   ///< per second
    std::vector<RateSpec> drain_per_metre;
    std::optional<double> drain_above;  ///< m/s of real speed; slower than this drains nothing
    friend bool operator==(const StateSpec&, const StateSpec&) = default;
};

/// One kind of character.
struct ChartSpec {
    std::string name;
    std::vector<std::string> rank;  ///< states in the order in which they are tried
    InputSpec input;
    std::vector<ActionSpec> actions;
    std::vector<MeterSpec> meters;
    std::vector<StateSpec> states;
    friend bool operator==(const ChartSpec&, const ChartSpec&) = default;
};

}  // namespace cursimeter
