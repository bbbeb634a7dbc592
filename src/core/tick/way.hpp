#pragma once

#include <algorithm>
#include <cmath>

#include "core/chart/chart_data.hpp"
#include "core/motion/aim.hpp"
#include "core/motion/arc.hpp"
#include "core/motion/segment.hpp"
#include "core/numbers/space.hpp"
#include "core/want/move_and_look.hpp"

/// The way from the velocity to the target, on level ground or in flight, which ticks with a turn go in one go (turning.cpp,
/// ramp_turn.cpp, eased_turn.cpp).
///
/// From the velocity v it is v + s g with the gap g, s from 0 to 1. The speed falls up to
/// s = -(v.g) / g^2, where the line comes nearest to standing still, at the rate for slowing down, and rises from there
/// at the rate for speeding up. Everything is kept in parts of the gap, so that the root of g^2 and the division by it do
/// not wait for each other.
namespace cursimeter::detail {

template <class Vector>
struct Way {
    Vector gap{0.0};
    double along = 0.0;    ///< v.g, m^2/s^2
    double across = 0.0;   ///< |v x g|, m^2/s^2
    double squared = 0.0;  ///< g^2
    double inverse = 0.0;  ///< 1 / g^2
    double size = 0.0;     ///< |g|, m/s
    double slowed = 0.0;   ///< s up to which the speed falls

    /// Whether the speed falls and rises again on the way.
    [[nodiscard]] bool dips() const { return slowed > 0.0 && slowed < 1.0; }
};

inline double area_of(const glm::dvec2& a, const glm::dvec2& b) {
    return std::fabs(a.x * b.y - a.y * b.x);
}
inline double area_of(const glm::dvec3& a, const glm::dvec3& b) {
    return length_of(cross(a, b));
}

template <class Vector>
inline Way<Vector> way_between(const Vector& velocity, const Vector& target) {
    Way<Vector> way;
    way.gap = target - velocity;
    way.squared = inner(way.gap, way.gap);
    way.along = inner(velocity, way.gap);
    way.across = area_of(velocity, way.gap);
    way.size = std::sqrt(way.squared);
    way.inverse = 1.0 / way.squared;
    const double falls = -way.along;
    way.slowed = falls > turning_gap * way.size ? std::min(falls * way.inverse, 1.0) : 0.0;
    return way;
}

/// The target on level ground.
inline glm::dvec2 level_target(const RunnerState& runner) {
    const auto [x, y] = level_target_of(runner.facing.x, runner.facing.y, runner.wanted.x, runner.wanted.y);
    return {x, y};
}

/// Whether a value that something compares lies from `low` to `high`, among the facts of `of` if that is given.
template <class Marks>
inline bool any_between(const Marks& marks, double low, double high, const DerivedFacts* of) {
    for (const auto& mark : marks) {
        if (mark.value >= low - turning_gap && mark.value <= high + turning_gap &&
            (of == nullptr || of->test(mark.bit))) {
            return true;
        }
    }
    return false;
}
/// The same of a speed, and of a vertical speed.
inline bool any_mark_between(const ChartData& chart, double low, double high,
                             const DerivedFacts* of = nullptr) {
    return any_between(chart.speed_marks, low, high, of);
}
inline bool any_rise_between(const ChartData& chart, double low, double high,
                             const DerivedFacts* of = nullptr) {
    return any_between(chart.rise_marks, low, high, of);
}

/// Whether the speed meets a value on the way that something reads.
template <class Vector>
inline bool meets_mark(const ChartData& chart, const RunnerState& runner, const Way<Vector>& way,
                       double target_speed) {
    const double low = std::min(runner.speed, target_speed), high = std::max(runner.speed, target_speed);
    if (!any_mark_between(chart, low - way.size, high)) {
        return false;  // as in most ticks, whether it dips or not
    }
    return any_mark_between(chart, way.dips() ? way.across / way.size : low, high, &runner.watched);
}

/// Has come to the target, and goes on so.
template <class Space>
inline void keep_target(const ChartData& chart, RunnerState& runner, const typename Space::Vector& target,
                        double target_speed) {
    runner.velocity = Space::in_space(target);
    runner.speed = target_speed;
    keep_velocity(runner);
    Space::plan_end(chart, runner);
}

/// The gain law's rates on the way: m/s^2 of a ramp, half-lives in s of an ease.
struct Rates {
    double down, down_inverse, up, up_inverse;
};

/// With what modifiers make of them.
[[nodiscard]] Rates modified_rates(const ChartData& chart, const RunnerState& runner, const GainRate& down,
                                   const GainRate& up);

inline Rates rates_of(const ChartData& chart, const RunnerState& runner, const CompiledGain& gain) {
    const GainRate& down = runner.idle ? gain.idle : gain.down;
    const GainRate& up = runner.idle ? gain.idle : gain.up;
    if (runner.modifier_count != 0) [[unlikely]] {
        return modified_rates(chart, runner, down, up);
    }
    return {down.value, down.inverse, up.value, up.inverse};
}

/// On level ground: velocities lie in its plane.
struct OnLevel {
    using Vector = glm::dvec2;
    static Vector velocity(const RunnerState& runner) { return flat(runner.velocity); }
    static Vector target(const ChartData& /*chart*/, const RunnerState& runner) {
        return level_target(runner);
    }
    static glm::dvec3 in_space(const Vector& vector) { return {vector.x, vector.y, 0.0}; }
    static void move(RunnerState& runner, const Vector& way) {
        runner.position.x += way.x;
        runner.position.y += way.y;
    }
    static bool may_go(const ChartData& /*chart*/, const RunnerState& /*runner*/, const Vector& /*target*/,
                       double /*dt*/) {
        return true;
    }
    static void plan_end(const ChartData& /*chart*/, RunnerState& /*runner*/) {}
};
/// In flight, over the open ground.
struct InFlight {
    using Vector = glm::dvec3;
    static Vector velocity(const RunnerState& runner) { return runner.velocity; }
    static Vector target(const ChartData& chart, const RunnerState& runner) {
        return target_of(chart, runner);
    }
    static glm::dvec3 in_space(const Vector& vector) { return vector; }
    static void move(RunnerState& runner, const Vector& way) { runner.position += way; }
    /// Whether it stays above the ground, and its vertical speed meets nothing that is watched.
    static bool may_go(const ChartData& chart, const RunnerState& runner, const Vector& target, double dt) {
        constexpr double clear =
            1e-6;  // m, so that it does not come down within an instant of the tick's end
        const double low = std::min(runner.velocity.z, target.z),
                     high = std::max(runner.velocity.z, target.z);
        return (runner.in_world || runner.position.z + std::min(low, 0.0) * dt > runner.floor + clear) &&
               !any_rise_between(chart, low, high, &runner.watched);
    }
    static void plan_end(const ChartData& chart, RunnerState& runner) { plan_landing(chart, runner); }
};

/// Lets dt seconds pass in the air, thrown. This and those below return false, and change nothing, where that takes a plan of
/// segments.
bool follow_thrown(const ChartData& chart, RunnerState& runner, const CompiledState& state, double dt);
/// On the way of a ramp: braking, speeding up and, once there, steadily.
template <class Space>
bool follow_ramp(const ChartData& chart, RunnerState& runner, const CompiledState& state, double dt);
/// On the way of an ease.
template <class Space>
bool follow_ease(const ChartData& chart, RunnerState& runner, const CompiledState& state, double dt);

}  // namespace cursimeter::detail
