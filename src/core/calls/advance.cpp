#include <algorithm>
#include <cstddef>
#include <cstdint>
#include <cursimeter/advance.hpp>
#include <utility>

#include "core/choose/gather.hpp"
#include "core/choose/looking_on.hpp"
#include "core/motion/footsteps.hpp"
#include "core/motion/leg.hpp"
#include "core/runner/levels.hpp"
#include "core/runner/timers.hpp"
#include "core/tick/tick.hpp"
#include "core/tick/turning.hpp"

/// The door of the tick, and its shortest way: most ticks bring nothing new and hold no instant, and then the leg goes on.
/// It leaves out taking the intent in (which is what it was), the search for what is due (nothing is before the tick's
/// end) and the facts (nothing that changes them has changed). Ticks in which only the look has moved have a short way of
/// their own, tick/turning.cpp; everything else is tick/loop.cpp. tests/core/tick/test_quick_paths.cpp compares them.
namespace cursimeter {
namespace {

using detail::looks_as_before;
using detail::RunnerState;
using detail::Surroundings;
using detail::Turn;
using detail::what_else_is_new;

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
/// What only ticks with instants read: up to the waits.
inline void expect_rest(const RunnerState& runner) {
    constexpr std::uintptr_t from = offsetof(RunnerState, derived) / cache_line;
    expect<offsetof(RunnerState, timers) / cache_line - from + 1>(reinterpret_cast<std::uintptr_t>(&runner) +
                                                                  from * cache_line);
}

/// A tick that must be cut, or may have to be.
inline void advance_busily(const detail::ChartData& chart, RunnerState& runner, const Intent& intent,
                           bool turned, Report& report, const detail::ChoiceWatch* watch) {
    expect_rest(runner);
    const glm::dvec3 before = runner.position;
    detail::advance_busy(chart, runner, intent, {}, report.seconds, report, watch, turned);
    report.displacement = runner.position - before;
}

/// A quiet tick on a leg on which the speed changes, or where footsteps are told of.
[[gnu::noinline]] void glide_on(const detail::ChartData& chart, RunnerState& runner, Report& report) {
    const glm::dvec3 before = runner.position;
    if (chart.has_strides) {
        const detail::StepsFrom start(chart, runner);
        detail::glide(chart, runner, report.seconds);
        detail::tell_steps(chart, runner, report, start, start.clock);
    } else {
        detail::glide(chart, runner, report.seconds);
    }
    report.displacement = runner.position - before;
}

/// A tick in which nothing is new but the look, as with a mouse, or in which something is due.
[[gnu::noinline]] void advance_on(const detail::ChartData& chart, RunnerState& runner, const Intent& intent,
                                  Report& report, const detail::ChoiceWatch* watch) {
    const bool turned = !looks_as_before(runner, intent);
    const double dt = report.seconds;
    if (turned) {
        expect_later_turn(runner);
        const glm::dvec3 before = runner.position;
        const Turn turn = take_turn(chart, runner, intent.look, dt);
        if (turn == Turn::followed) {
            report.displacement = runner.position - before;
            return;
        }
        if (turn == Turn::unheeded && runner.clock + dt < runner.next_due) {
            glide_on(chart, runner, report);
            return;
        }
    }
    advance_busily(chart, runner, intent, turned, report, watch);
}

/// Any other tick.
[[gnu::noinline]] void advance_unquietly(const detail::ChartData& chart, RunnerState& runner,
                                         const Intent& intent, Seconds dt, Report& report,
                                         const detail::ChoiceWatch* watch) {
    if (!detail::begin_tick(chart, runner, intent, dt, report)) [[unlikely]] {
        return;
    }
    if (runner.in_world) [[unlikely]] {
        detail::change_world(runner, true);
    }
    advance_busily(chart, runner, intent, false, report, watch);
}

/// A tick on open ground. Whatever is new is one mask, so that a quiet tick takes few branches.
inline Report advance_open(const Chart& chart, Runner& runner, const Intent& intent, Seconds dt,
                           const detail::ChoiceWatch* watch) noexcept {
    Report report;
    const detail::ChartData& data = chart.data();
    RunnerState& state = detail::RunnerAccess::state(runner);
    expect_later_runner(state);
    const std::uint64_t news = what_else_is_new(state, intent) | std::uint64_t{state.in_world} |
                               detail::what_is_foreign(data, state, intent);
    const double seconds = dt.value;
    if (news == 0 && seconds >= 0.0 && seconds <= longest_tick.value) [[likely]] {
        report.seconds = seconds;
        if (!looks_as_before(state, intent) || !(state.clock + seconds < state.next_due)) {
            advance_on(data, state, intent, report, watch);
        } else if (detail::glides_plainly(state) && !data.has_strides) [[likely]] {
            const glm::dvec3 before = state.position;
            detail::glide_plainly(state, seconds);
            report.displacement = state.position - before;
        } else {
            glide_on(data, state, report);
        }
    } else {
        advance_unquietly(data, state, intent, dt, report, watch);
    }
    return report;
}

}  // namespace

Report advance(const Chart& chart, Runner& runner, const Intent& intent, Seconds dt) noexcept {
    return advance_open(chart, runner, intent, dt, nullptr);
}

namespace detail {
namespace {

/// A tick that takes no short way.
Report advance_fully(const Chart& chart, Runner& runner, const Intent& intent, const Terrain* terrain,
                     Seconds dt, const ChoiceWatch* watch) noexcept {
    Report report;
    const ChartData& data = chart.data();
    RunnerState& state = RunnerAccess::state(runner);
    if (!begin_tick(data, state, intent, dt, report)) {
        return report;
    }
    if (state.in_world != (terrain != nullptr)) {
        change_world(state, terrain == nullptr);
    }
    const glm::dvec3 before = state.position;
    advance_busy(data, state, intent, {terrain, {}}, report.seconds, report, watch);
    report.displacement = state.position - before;
    return report;
}

}  // namespace

Report advance_watched(const Chart& chart, Runner& runner, const Intent& intent, const Terrain* terrain,
                       Seconds dt, const ChoiceWatch& watch) noexcept {
    const ChoiceWatch* told = watch.tell != nullptr ? &watch : nullptr;
    return terrain == nullptr ? advance_open(chart, runner, intent, dt, told)
                              : advance_fully(chart, runner, intent, terrain, dt, told);
}

void look_on_now(const Chart& chart, const Runner& runner, const ChoiceWatch& watch) noexcept {
    const ChartData& data = chart.data();
    RunnerState now = RunnerAccess::state(runner);
    catch_up_levels(data, now);
    const Facts facts = gather(data, now, 0, meter_facts(data, now));
    const std::uint64_t barred = is_lately(now, now.state_since) ? now.lately_left : 0;
    const Bans bans = bans_of(data, now);
    const Choice choice = choose(data, now, facts, facts, barred, bans);
    watch.tell(watch.to, {now.clock, now.state, facts, facts, barred, bans, choice});
}

}  // namespace detail

Report advance(const Chart& chart, Runner& runner, const Intent& intent, const Terrain& terrain,
               Seconds dt) noexcept {
    return detail::advance_fully(chart, runner, intent, &terrain, dt, nullptr);
}

}  // namespace cursimeter
