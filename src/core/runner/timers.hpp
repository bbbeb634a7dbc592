#pragma once

#include <algorithm>
#include <bit>
#include <cstring>
#include <cursimeter/units.hpp>

#include "core/chart/chart_data.hpp"

/// Waits: a push that fades, a press that is buffered, a cooldown. A runner keeps the time at which each is over as a
/// stamp of seven bytes: its clock in units of 2^-46 s, 14 femtoseconds, which is what a clock of a few minutes can tell
/// apart, so a wait that ends at a round time meets whatever else happens then. Stamps wrap round every 1,024 s, so a wait
/// may last half of that, and one that is over must be stopped: what ticks is always ahead of the clock.
namespace cursimeter::detail {

namespace timer {
inline constexpr unsigned coyote = 0;      // "footing" is lost
inline constexpr unsigned hold_back = 1;   // a state that was held back may come back
inline constexpr unsigned dwell = 2;       // zones may change again
inline constexpr unsigned landing = 3;     // who has come down may take off by itself
inline constexpr unsigned push_first = 4;  // a push has faded
inline constexpr unsigned buffer_first = push_first + limits::pushes;         // a press is forgotten
inline constexpr unsigned cooldown_first = buffer_first + limits::buffers;    // a cooldown is over
inline constexpr unsigned refill_first = cooldown_first + limits::cooldowns;  // a meter's refill begins
static_assert(refill_first + limits::meters == limits::timers && limits::timers <= 64);
}  // namespace timer

inline constexpr double stamps_per_second = 0x1p46;
inline constexpr unsigned stamp_bits = 56;
inline constexpr double stamps_wrap = 1024.0;  ///< s
inline constexpr double longest_wait = 500.0;  ///< s

/// When the stamps last began anew, on the runner's clock.
[[nodiscard]] inline double wrap_before(double time) {
    return static_cast<double>(static_cast<std::int64_t>(time / stamps_wrap)) * stamps_wrap;
}
[[nodiscard]] inline std::int64_t ticks_of(double time) {
    return static_cast<std::int64_t>((time - wrap_before(time)) * stamps_per_second + 0.5);
}
[[nodiscard]] inline Stamp stamp_from(std::uint64_t word) {
    Stamp stamp;
    for (std::uint8_t& byte : stamp.bytes) {
        byte = static_cast<std::uint8_t>(word);
        word >>= 8U;
    }
    return stamp;
}
[[nodiscard]] inline std::uint64_t word_of(const Stamp& stamp) {
    if constexpr (std::endian::native == std::endian::little) {  // as the loop below, in three reads
        std::uint32_t low = 0;
        std::uint16_t middle = 0;
        std::memcpy(&low, stamp.bytes.data(), sizeof(low));
        std::memcpy(&middle, stamp.bytes.data() + sizeof(low), sizeof(middle));
        return std::uint64_t{low} | std::uint64_t{middle} << 32U | std::uint64_t{stamp.bytes[6]} << 48U;
    }
    std::uint64_t word = 0;
    for (unsigned i = 0; i < stamp.bytes.size(); ++i) {
        word |= std::uint64_t{stamp.bytes[i]} << (8U * i);
    }
    return word;
}
[[nodiscard]] inline Stamp stamp_of(double time) {
    return stamp_from(static_cast<std::uint64_t>(ticks_of(time)));
}
/// The time that a stamp means, within 512 s of `clock`.
[[nodiscard]] inline double time_of(const Stamp& stamp, double clock) {
    constexpr unsigned unused = 64 - stamp_bits;
    const std::int64_t now = ticks_of(clock);
    const std::uint64_t ahead = (word_of(stamp) - static_cast<std::uint64_t>(now)) << unused;
    return wrap_before(clock) +
           static_cast<double>(now + (static_cast<std::int64_t>(ahead) >> unused)) / stamps_per_second;
}

[[nodiscard]] inline bool ticks(const RunnerState& runner, unsigned timer) {
    return (runner.ticking >> timer & 1U) != 0;
}
inline void start_timer(RunnerState& runner, unsigned timer, double seconds) {
    runner.timers[timer] = stamp_of(runner.clock + seconds);
    runner.ticking |= TimerMask{1} << timer;
    runner.due_on_segment = true;  // condition_due does not know of it yet
}
inline void stop_timer(RunnerState& runner, unsigned timer) {
    runner.ticking &= ~(TimerMask{1} << timer);
}
/// When a timer that ticks is over, on the runner's clock.
[[nodiscard]] inline double timer_due(const RunnerState& runner, unsigned timer) {
    return time_of(runner.timers[timer], runner.clock);
}
/// When the next timer is over; `never` if none ticks.
[[nodiscard]] inline double next_timer_due(const RunnerState& runner) {
    double due = never;
    for (TimerMask left = runner.ticking; left != 0; left &= left - 1) {
        due = std::min(due, timer_due(runner, static_cast<unsigned>(std::countr_zero(left))));
    }
    return due;
}

/// Up to when what is due belongs to a tick of `seconds` in which something happens: the moment at hand reaches further than the
/// shortest ticks.
[[nodiscard]] inline double reach_of_tick(const RunnerState& runner, double seconds) {
    return runner.clock + std::max(seconds, instant_width.value);
}
/// Whether the present state has been on for so many seconds.
[[nodiscard]] inline bool has_lasted(const RunnerState& runner, double seconds) {
    return runner.clock + instant_width.value >= runner.state_since + seconds;
}
/// Whether something that changed at `since` may not change back by itself yet (`shortest_return`).
[[nodiscard]] inline bool is_lately(const RunnerState& runner, double since) {
    return runner.clock + instant_width.value < since + shortest_return.value;
}
/// Asks again when it may.
inline void wait_for_return(RunnerState& runner, double since) {
    const double due = since + shortest_return.value;
    if (!ticks(runner, timer::hold_back) || timer_due(runner, timer::hold_back) > due) {
        start_timer(runner, timer::hold_back, due - runner.clock);
    }
}

}  // namespace cursimeter::detail
