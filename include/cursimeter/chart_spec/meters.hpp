#pragma once

#include <cursimeter/chart_spec/condition.hpp>
#include <optional>
#include <string>
#include <vector>

/// Bounded quantities such as stamina.
namespace cursimeter {

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
    std::vector<LevelSpec> thresholds{};  ///< levels whose crossing is an event
    std::optional<std::string> was{};     ///< its name in the version before; see carry_over
    friend bool operator==(const MeterSpec&, const MeterSpec&) = default;
};

/// An amount of a named meter, per second or per metre.
struct RateSpec {
    std::string meter{};
    double rate = 0.0;
    friend bool operator==(const RateSpec&, const RateSpec&) = default;
};

}  // namespace cursimeter
