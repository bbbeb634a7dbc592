#pragma once

#include "core/chart/chart_data.hpp"

/// What a state makes of a runner's speed, from above: on level ground that does not move, with no push and no zone that makes it faster.
namespace cursimeter::survey {

/// The fastest that a runner's own velocity can be, m/s. Infinite where there is no bound.
struct Fastest {
    double level = 0.0;  ///< along the ground
    double up = 0.0, down = 0.0;
    double whole = 0.0;  ///< as `speed` in conditions: level and up or down together

    /// The faster of both, each by itself.
    void widen(const Fastest& other);
    /// The whole is what level, up and down come to.
    void put_together();
    friend bool operator==(const Fastest&, const Fastest&) = default;
};

/// What is known of the visits of a state, apart from speeds.
struct VisitLimits {
    double longest = 0.0;  ///< s; infinite if there is no bound
    bool aloft = true;     ///< in the air for longer than a state that was just left is held back
};

/// Just after a state was entered from another, in which it was at most as fast as `before`.
[[nodiscard]] Fastest entered_at(const detail::ChartData& chart, std::uint8_t from, std::uint8_t to,
                                 Fastest before);
/// All through a visit that began so.
[[nodiscard]] Fastest kept_at(const detail::ChartData& chart, std::uint8_t state, Fastest entered,
                              const VisitLimits& limits);

/// m/s^2 by which a state slows down all the while if it stays on the ground and nobody steers; 0 if that is not certain.
[[nodiscard]] double slowing_of(const detail::ChartData& chart, std::uint8_t state);

/// What modifiers, of any strength and number that may be at work, make of a number of the chart at most.
[[nodiscard]] double most_modified(const detail::ChartData& chart, unsigned measure, double base);

}  // namespace cursimeter::survey
