#pragma once

#include <algorithm>
#include <bit>
#include <cursimeter/intent.hpp>
#include <cursimeter/report.hpp>
#include <cursimeter/terrain.hpp>
#include <cursimeter/units.hpp>

#include "core/motion/footsteps.hpp"
#include "core/runner/instant.hpp"
#include "core/tick/follow_segment.hpp"
#include "core/want/keys.hpp"

/// The tick that `advance` and `propose` share (src/core/tick/loop.cpp).
namespace cursimeter::detail {

/// What is asked about contacts: a terrain, or nothing, where they stay as they are.
struct World {
    const Terrain* terrain = nullptr;
    glm::dvec3 ground_velocity{0.0};  ///< m/s, without a terrain
};

/// 0 if runner and intent belong to the chart.
[[nodiscard]] inline std::uint64_t what_is_foreign(const ChartData& chart, const RunnerState& runner,
                                                   const Intent& intent) {
    return (runner.chart_tag ^ chart.tag) | (intent.naming != 0 ? intent.naming ^ chart.naming : 0);
}
/// Whether the tick may begin; notes its length.
[[nodiscard]] inline bool begin_tick(const ChartData& chart, const RunnerState& runner, const Intent& intent,
                                     Seconds dt, Report& report) {
    if (!(dt.value >= 0.0) || what_is_foreign(chart, runner, intent) != 0) [[unlikely]] {
        report.refusal = !(dt.value >= 0.0)              ? Refusal::bad_dt
                         : runner.chart_tag != chart.tag ? Refusal::foreign_chart
                                                         : Refusal::foreign_intent;
        return false;
    }
    report.dt_shortened = dt.value > longest_tick.value;
    report.seconds = std::min(dt.value, longest_tick.value);
    return true;
}
/// What in the intent differs from the last one: 0 if nothing does. Bits are compared, which takes one branch: where they
/// differ and the values do not, the tick finds that out by itself.
inline std::uint64_t differs(double a, double b) {
    return std::bit_cast<std::uint64_t>(a) ^ std::bit_cast<std::uint64_t>(b);
}
inline std::uint64_t how_look_is_new(const RunnerState& runner, const Intent& intent) {
    return differs(intent.look.yaw, runner.look_yaw) | differs(intent.look.pitch, runner.look_pitch);
}
inline std::uint64_t what_else_is_new(const RunnerState& runner, const Intent& intent) {
    const unsigned faces_movement = intent.facing == Facing::movement ? 1U : 0U;
    return differs(intent.move.forward, runner.move_forward) | differs(intent.move.side, runner.move_side) |
           (intent.held ^ runner.held) | (faces_movement ^ runner.faces_movement) | intent.changes.size() |
           (intent.focus != nullptr ? 1U : 0U);
}
inline bool looks_as_before(const RunnerState& runner, const Intent& intent) {
    return how_look_is_new(runner, intent) == 0;
}
inline bool else_as_before(const RunnerState& runner, const Intent& intent) {
    return what_else_is_new(runner, intent) == 0;
}

/// From open ground to a world, or back. The open ground lies where the runner stands, or at height 0.
void change_world(RunnerState& runner, bool open);
/// A tick with instants, or in a world, once its start was taken in. Changes are worked in order.
void advance_cut(Instant& instant, const Intent& intent, const World& world, double dt);

/// Lets dt seconds pass in a world at once, along a straight line, if nothing happens in them (tick/straight.cpp). Returns
/// false, and changes nothing, otherwise.
[[nodiscard]] bool go_straight(Instant& instant, const Terrain& terrain, double dt);

/// A tick that is not quiet: at once where only the aim has moved, otherwise from instant to instant. `turned`: the
/// look was taken in already.
inline void advance_busy(const ChartData& chart, RunnerState& runner, const Intent& intent,
                         const World& world, double dt, Report& report, const ChoiceWatch* choices = nullptr,
                         bool turned = false) {
    Instant instant{chart, runner, report};
    instant.dirty.note(Changed::look, turned);
    instant.watch = choices;
    instant.ground_velocity = world.ground_velocity;
    instant.momentary = runner.momentary;
    runner.momentary = 0;
    // A border of two ticks is nothing that happens; what the start brings is.
    const bool news =
        turned || runner.stale || !else_as_before(runner, intent) || !looks_as_before(runner, intent);
    reach_by_segment(instant, runner.clock + (news ? instant_width.value : 0.0));
    take_start(instant, intent);
    const bool whole = intent.changes.empty() && intent.focus == nullptr;
    const bool done = whole && (world.terrain == nullptr ? follow_turn(instant, dt)
                                                         : go_straight(instant, *world.terrain, dt));
    if (!done) {
        advance_cut(instant, intent, world, dt);
    }
}

}  // namespace cursimeter::detail
