#include <algorithm>
#include <bit>
#include <cmath>
#include <cstdint>
#include <cursimeter/advance.hpp>
#include <optional>

#include "core/choose/looking_on.hpp"
#include "core/motion/aim.hpp"
#include "core/motion/footsteps.hpp"
#include "core/motion/leg.hpp"
#include "core/runner/instant.hpp"
#include "core/runner/wake.hpp"
#include "core/tick/tick.hpp"
#include "core/tick/turning.hpp"
#include "core/tick/work_instant.hpp"
#include "core/want/keys.hpp"
#include "core/want/move_and_look.hpp"
#include "core/world/traveller.hpp"

/// The tick, from top to bottom.
///
/// Between two instants every rate is constant and motion has a closed form, so a tick is: let time
/// pass to the next instant, work the instant, go on. Most ticks hold no instant and take the straight
/// path in `advance`. What is due is kept as absolute times on the runner's clock, found when a leg or
/// a rate begins; so a tick that is cut elsewhere meets the same instants.
///
/// Instants within `instant_width` of each other are one. To keep that true across the border of two
/// ticks, what is due within that width of a tick's end is left to the next tick, where it meets the
/// input of that tick's start. Only ends of legs, which no condition can see, are worked at once.
namespace cursimeter {
namespace {

using detail::RunnerState;
using detail::Turn;

/// Time of a change on the runner's clock, moved into the tick and behind the changes before it.
double change_time_of(const Change& change, const RunnerState& runner, double begin, double dt,
                      Report& report) {
    const double width = instant_width.value;
    const double time = begin + change.at;
    if (!(time >= runner.clock - width) || !(change.at <= dt + width)) {
        report.intent_mended = true;
    }
    return time >= runner.clock ? std::min(time, begin + dt) : runner.clock;
}

/// Whether the intent holds what the last one did. Bits are compared, which takes one branch: where they
/// differ and the values do not, the tick finds that out by itself.
inline std::uint64_t differs(double a, double b) {
    return std::bit_cast<std::uint64_t>(a) ^ std::bit_cast<std::uint64_t>(b);
}
inline bool looks_as_before(const RunnerState& runner, const Intent& intent) {
    return (differs(intent.look.yaw, runner.look_yaw) | differs(intent.look.pitch, runner.look_pitch)) == 0;
}
inline bool else_as_before(const RunnerState& runner, const Intent& intent) {
    const unsigned faces_movement = intent.facing == Facing::movement ? 1U : 0U;
    return (differs(intent.move.forward, runner.move_forward) | differs(intent.move.side, runner.move_side) |
            (intent.held ^ runner.held) | (faces_movement ^ runner.faces_movement) | intent.changes.size() |
            (intent.focus != nullptr ? 1U : 0U)) == 0;
}

inline constexpr std::uintptr_t cache_line = 64;  ///< bytes

/// Asks for lines of memory that will be read soon. Harmless for any address: a hint.
inline void expect(std::uintptr_t address, std::uintptr_t lines) {
#if defined(__GNUC__)
    for (std::uintptr_t line = 0; line < lines; ++line) {
        // Past an array's end there is nothing to point at. NOLINTNEXTLINE(performance-no-int-to-ptr)
        __builtin_prefetch(reinterpret_cast<const void*>(address + cache_line * line), 1);
    }
#endif
}

/// Runners between one and the one that is asked for: about a microsecond of ticks. Of 1 to 24, measured with 100,000
/// runners, 12 and more were equal, 3 took half as long again.
inline constexpr std::uintptr_t expected_ahead = 16;

/// Runners of a crowd lie in one array and are advanced one after the other, so what a later tick will read
/// is asked for now: 100,000 of them do not fit into the caches, and waiting for one takes longer than its
/// tick. Quiet ticks read the first two lines, and the third while the speed changes; asking for that one in every tick
/// cost more than it gave.
inline void expect_later_runner(const Runner& runner) {
    expect(reinterpret_cast<std::uintptr_t>(&runner) + expected_ahead * sizeof(Runner), 2);
}
/// What only ticks with instants read.
inline void expect_rest(const RunnerState& runner) {
    expect(reinterpret_cast<std::uintptr_t>(&runner) + 3 * cache_line, sizeof(Runner) / cache_line - 3);
}

/// A world that leaves no time between its contacts, as in a wedge, is given up after this many in a tick.
constexpr std::size_t most_contacts = limits::instants_per_tick;

}  // namespace

namespace detail {

void advance_cut(Instant& instant, const Intent& intent, const World& world, double dt) {
    const ChartData& chart = instant.chart;
    RunnerState& runner = instant.runner;
    Report& report = instant.report;
    const double width = instant_width.value;
    const double begin = runner.clock;
    const double end = begin + dt;
    std::size_t next = 0;  // of the changes, the first not yet taken in
    double change_time = never;
    const auto find_change_time = [&] {
        change_time = next < intent.changes.size()
                          ? change_time_of(intent.changes[next], runner, begin, dt, report)
                          : never;
    };

    std::optional<detail::Traveller> traveller;
    if (world.terrain != nullptr) {
        traveller.emplace(instant, *world.terrain, begin);
        traveller->arrive();
    }
    instant.facts_changed = instant.facts_changed || runner.stale;
    find_change_time();

    // A focus is looked at anew at fixed times of the runner's clock.
    const double focus_begin =
        static_cast<double>(static_cast<std::int64_t>((begin + width) / focus_step)) * focus_step;
    double focus_time = intent.focus == nullptr        ? never
                        : focus_begin >= begin - width ? begin
                                                       : focus_begin + focus_step;

    std::size_t standstills = 0, contacts = 0;
    bool at_start = true;
    for (;;) {
        // 1. What happens now.
        instant.at = runner.clock - begin;
        detail::finish_leg(instant);
        const bool capped = report.instants >= limits::instants_per_tick;
        report.instants_capped = report.instants_capped || capped;
        while (next < intent.changes.size() && (capped || change_time <= runner.clock + width)) {
            detail::take_change(instant, intent.changes[next]);
            ++next;
            find_change_time();
        }
        if (focus_time <= runner.clock + width && runner.clock < end - width) {
            detail::take_focus(runner, *intent.focus, instant.at);
            instant.turned = true;
            focus_time =
                (static_cast<double>(static_cast<std::int64_t>((runner.clock + width) / focus_step)) + 1.0) *
                focus_step;
        }
        const bool left_to_next = !at_start && runner.clock >= end - width;
        const bool due = !capped && !left_to_next && runner.condition_due <= runner.clock + width;
        at_start = false;
        if (!instant.facts_changed && !due) {
            detail::continue_leg(instant);
        }
        if (instant.facts_changed || due) {
            detail::work_instant(instant);
            ++report.instants;
        }

        // 2. Let time pass to whatever comes next.
        double until =
            std::min({end, change_time, focus_time > runner.clock ? focus_time : never, runner.leg_due});
        const detail::StepWatch watch(chart, runner);
        const double condition_time = runner.condition_due;
        if (!capped && condition_time < end - width) {
            until = std::min(until, condition_time);
        }
        if (until > runner.clock && traveller) {
            const double seconds = until - runner.clock;
            if (traveller->pass(seconds) == seconds) {
                runner.clock = until;
            }
            detail::tell_steps(instant.chart, runner, report, watch, begin);
            if (++contacts > most_contacts) {
                detail::give_up_motion(instant);
                runner.clock = end;
                traveller->arrive();
            }
        } else if (until > runner.clock) {
            detail::glide(chart, runner, until - runner.clock);
            runner.clock = until;
            detail::tell_steps(chart, runner, report, watch, begin);
        } else if (runner.clock >= end && next >= intent.changes.size()) {
            break;
        } else if (++standstills > limits::instants_per_tick) {
            detail::arrive(chart, runner);  // legs of no length: rounding has the better of this chart
        }
    }
    if (report.instants_capped) {
        wake(runner);
    }
}

/// The open ground lies where the runner stands, or at height 0; in a world there is none.
void change_world(RunnerState& runner, bool open) {
    runner.in_world = !open;
    runner.floor = runner.around.grounded ? runner.position.z : 0.0;
    if (open) {
        const bool grounded = runner.around.grounded;
        runner.around = {};
        runner.around.grounded = grounded;
    }
    runner.leg_due = runner.clock;
    runner.leg_end = detail::LegEnd::replan;
    wake(runner);
}

}  // namespace detail

namespace {

/// Apart from `advance`, so that quiet ticks need not save the registers that it uses.
[[gnu::noinline]] void advance_unquietly(const detail::ChartData& chart, RunnerState& runner,
                                         const Intent& intent, bool turned, Report& report) {
    expect_rest(runner);
    detail::advance_busy(chart, runner, intent, {}, report.seconds, report, nullptr, turned);
}

[[gnu::noinline]] void glide_and_tell_steps(const detail::ChartData& chart, RunnerState& runner,
                                            Report& report) {
    const detail::StepWatch watch(chart, runner);
    detail::glide(chart, runner, report.seconds);
    detail::tell_steps(chart, runner, report, watch, watch.clock);
}

}  // namespace

Report advance(const Chart& chart, Runner& runner, const Intent& intent, Seconds dt) noexcept {
    Report report;
    const detail::ChartData& data = chart.data();
    RunnerState& state = detail::RunnerAccess::state(runner);
    if (!detail::begin_tick(data, state, dt, report)) [[unlikely]] {
        return report;
    }
    if (state.in_world) [[unlikely]] {
        detail::change_world(state, true);
    }
    expect_later_runner(runner);
    const glm::dvec3 before = state.position;

    // Most ticks bring nothing new, or nothing but a look that follows a mouse.
    const bool same = else_as_before(state, intent);
    const bool turned = same && !looks_as_before(state, intent);
    const Turn turn = turned ? take_turn(data, state, intent.look, report.seconds) : Turn::unheeded;
    if (same && turn == Turn::unheeded && state.clock + report.seconds < state.next_due) [[likely]] {
        if (data.has_strides) {
            glide_and_tell_steps(data, state, report);
        } else {
            detail::glide(data, state, report.seconds);
        }
    } else if (turn != Turn::followed) {
        advance_unquietly(data, state, intent, turned, report);
    }
    report.displacement = state.position - before;
    return report;
}

namespace detail {
namespace {

/// A tick that takes no short way.
Report advance_fully(const Chart& chart, Runner& runner, const Intent& intent, const Terrain* terrain,
                     Seconds dt, const ChoiceWatch* watch) noexcept {
    Report report;
    const ChartData& data = chart.data();
    RunnerState& state = RunnerAccess::state(runner);
    if (!begin_tick(data, state, dt, report)) {
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
    const RunnerState& state = RunnerAccess::state(runner);
    if (terrain == nullptr && else_as_before(state, intent) && looks_as_before(state, intent) &&
        state.clock + dt.value < state.next_due) {
        return advance(chart, runner, intent, dt);  // a quiet tick chooses nothing
    }
    return advance_fully(chart, runner, intent, terrain, dt, watch.tell != nullptr ? &watch : nullptr);
}

}  // namespace detail

Report advance(const Chart& chart, Runner& runner, const Intent& intent, const Terrain& terrain,
               Seconds dt) noexcept {
    return detail::advance_fully(chart, runner, intent, &terrain, dt, nullptr);
}

}  // namespace cursimeter
