#pragma once

#include <algorithm>

#include "core/chart/chart_data.hpp"

/// Waits: a push that fades, a press that is buffered, a cooldown. A runner keeps the time at which each
/// is over as a stamp of four bytes: the low 32 bits of its clock in units of 2^-22 s. Stamps wrap round
/// every 1,024 s, so a wait may last half of that, and one that is over must be stopped: what ticks is
/// always ahead of the clock.
namespace cursimeter::detail {

namespace timer {
inline constexpr unsigned coyote = 0;      // "footing" is lost
inline constexpr unsigned retry = 1;       // a state that was barred for an instant is tried again
inline constexpr unsigned dwell = 2;       // zones may change again
inline constexpr unsigned push_first = 3;  // a push has faded
inline constexpr unsigned buffer_first = push_first + limits::pushes;         // a press is forgotten
inline constexpr unsigned cooldown_first = buffer_first + limits::buffers;    // a cooldown is over
inline constexpr unsigned refill_first = cooldown_first + limits::cooldowns;  // a meter's refill begins
static_assert(refill_first + limits::meters == limits::timers && limits::timers <= 32);
}  // namespace timer

inline constexpr double stamps_per_second = 4194304.0;  // 2^22
inline constexpr double longest_wait = 500.0;           ///< s

[[nodiscard]] inline std::int64_t ticks_of(double time) {
    return static_cast<std::int64_t>(time * stamps_per_second + 0.5);  // clocks are never negative
}
[[nodiscard]] inline std::uint32_t stamp_of(double time) {
    return static_cast<std::uint32_t>(static_cast<std::uint64_t>(ticks_of(time)));
}
/// The time that a stamp means, within 512 s of `clock`.
[[nodiscard]] inline double time_of(std::uint32_t stamp, double clock) {
    const std::int64_t now = ticks_of(clock);
    const auto ahead =
        static_cast<std::int32_t>(stamp - static_cast<std::uint32_t>(static_cast<std::uint64_t>(now)));
    return static_cast<double>(now + ahead) / stamps_per_second;
}

[[nodiscard]] inline bool ticks(const RunnerState& runner, unsigned timer) {
    return (runner.ticking >> timer & 1U) != 0;
}
inline void start_timer(RunnerState& runner, unsigned timer, double seconds) {
    runner.timers[timer] = stamp_of(runner.clock + seconds);
    runner.ticking = runner.ticking | 1U << timer;
}
inline void stop_timer(RunnerState& runner, unsigned timer) {
    runner.ticking = runner.ticking & ~(1U << timer);
}
/// When a timer that ticks is over, on the runner's clock.
[[nodiscard]] inline double timer_due(const RunnerState& runner, unsigned timer) {
    return time_of(runner.timers[timer], runner.clock);
}
/// When the next timer is over; `never` if none ticks.
[[nodiscard]] inline double next_timer_due(const RunnerState& runner) {
    double due = never;
    for (unsigned i = 0; runner.ticking >> i != 0; ++i) {
        if (ticks(runner, i)) {
            due = std::min(due, timer_due(runner, i));
        }
    }
    return due;
}

}  // namespace cursimeter::detail
