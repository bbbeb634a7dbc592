#pragma once

#include <cstddef>
#include <cstdint>
#include <cursimeter/advance.hpp>
#include <utility>

#include "core/motion/segment.hpp"
#include "core/tick/tick.hpp"
#include "core/tick/turning.hpp"

/// The tick on open ground, and its shortest way: most ticks bring nothing new and hold no instant, and then the segment goes on.
/// It leaves out taking the intent in (which is what it was), the search for what is due (nothing is before the tick's
/// end) and the facts (nothing that changes them has changed). Ticks in which only the look has moved have a short way of
/// their own, tick/turning.cpp; everything else is tick/loop.cpp. tests/core/tick/test_quick_paths.cpp compares them.
namespace cursimeter::detail {

inline constexpr std::uintptr_t cache_line = 64;  ///< bytes

/// Asks for lines of memory that will be read soon. Harmless for any address: a hint.
template <std::uintptr_t Lines>
inline void expect(std::uintptr_t address) {
#if defined(__GNUC__)
    [&]<std::uintptr_t... Line>(std::integer_sequence<std::uintptr_t, Line...>) {
        // Past an array's end there is nothing to point at. NOLINTNEXTLINE(performance-no-int-to-ptr)
        (__builtin_prefetch(reinterpret_cast<const void*>(address + cache_line * Line), 1), ...);
    }
    (std::make_integer_sequence<std::uintptr_t, Lines>());
#endif
}

/// Runners between one and the one that is asked for: about a microsecond of ticks. Of 1 to 24, measured with 100,000
/// runners, 12 and more were equal, 3 took half as long again.
inline constexpr std::uintptr_t expected_ahead = 16;

/// Runners of a crowd lie in one array and are advanced one after the other, so what a later tick will read
/// is asked for now: 100,000 of them do not fit into the caches, and waiting for one takes longer than its
/// tick. Quiet ticks read the first two lines, and the third while the speed changes, which is in two of five: asked for in
/// every tick it saves a seventh of the time of 100,000 runners, and costs 1,000 nothing.
inline void expect_later_runner(const RunnerState& runner) {
    expect<3>(reinterpret_cast<std::uintptr_t>(&runner) + expected_ahead * sizeof(RunnerState));
}
/// Where one turns, those after it do: a mouse moves in every tick. The fourth line is what turning reads besides.
inline void expect_later_turn(const RunnerState& runner) {
    expect<1>(reinterpret_cast<std::uintptr_t>(&runner) + expected_ahead * sizeof(RunnerState) +
              3 * cache_line);
    static_assert(offsetof(RunnerState, around) + offsetof(Surroundings, barriers) <= 4 * cache_line);
}

/// How a tick went, for who moves many runners and would know which go on so (core/crowd).
enum class Went : std::uint8_t {
    otherwise,  ///< none of these
    evenly,     ///< nothing was new or due, and the segment went on at an even speed
    looking,    ///< the same, but for the look, which counts for nothing now
    round,      ///< nothing was new but the look, which was followed at full speed
};

/// A quiet tick on a segment on which the speed changes, or where footsteps are told of.
void glide_on(const ChartData& chart, RunnerState& runner, Report& report);
/// A tick in which nothing is new but the look, as with a mouse, or in which something is due (tick/turning.cpp).
Went advance_on(const ChartData& chart, RunnerState& runner, const Intent& intent, Report& report,
                const ChoiceWatch* watch);
/// One of these in which the look was taken in, but not followed yet.
Went advance_turning(const ChartData& chart, RunnerState& runner, const Intent& intent, Report& report,
                     const ChoiceWatch* watch, Turn turn);
/// A tick that must be cut, or may have to be. `turned`: the look was taken in already.
void advance_busily(const ChartData& chart, RunnerState& runner, const Intent& intent, bool turned,
                    Report& report, const ChoiceWatch* watch);
/// Any other tick.
void advance_unquietly(const ChartData& chart, RunnerState& runner, const Intent& intent, Seconds dt,
                       Report& report, const ChoiceWatch* watch);

/// A tick on open ground. Whatever is new is one mask, so that a quiet tick takes few branches.
inline Went advance_on_open_ground(const ChartData& data, RunnerState& state, const Intent& intent,
                                   Seconds dt, Report& report, const ChoiceWatch* watch) {
    const std::uint64_t news = what_else_is_new(state, intent) | std::uint64_t{state.in_world} |
                               what_is_foreign(data, state, intent);
    const double seconds = dt.value;
    if (news == 0 && seconds >= 0.0 && seconds <= longest_tick.value) [[likely]] {
        report.seconds = seconds;
        if (!looks_as_before(state, intent) || !(state.clock + seconds < state.next_due)) {
            return advance_on(data, state, intent, report, watch);
        } else if (glides_plainly(state) && !data.has_strides) [[likely]] {
            const glm::dvec3 before = state.position;
            glide_plainly(state, seconds);
            report.displacement = state.position - before;
            return Went::evenly;
        } else {
            glide_on(data, state, report);
        }
    } else {
        advance_unquietly(data, state, intent, dt, report, watch);
    }
    return Went::otherwise;
}

/// The same in a world; no short way but tick/straight.cpp.
void advance_in_world(const ChartData& data, RunnerState& state, const Intent& intent, const Terrain& terrain,
                      Seconds dt, Report& report, const ChoiceWatch* watch);

}  // namespace cursimeter::detail
