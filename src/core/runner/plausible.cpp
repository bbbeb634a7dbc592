#include "core/runner/plausible.hpp"

#include <cmath>

#include "core/runner/charges.hpp"
#include "core/runner/timers.hpp"

namespace cursimeter::detail {
namespace {

/// Whether only things that the chart has are set: waits, charges, meters, actions, blocks.
bool fits_lists(const ChartData& chart, const RunnerState& state) {
    const auto below = [](std::size_t count) { return (std::uint64_t{1} << count) - 1; };
    const std::uint64_t waits = below(timer::buffer_first) |
                                below(chart.buffered_count) << timer::buffer_first |
                                below(chart.cooldowns.size()) << timer::cooldown_first |
                                below(chart.meters.size()) << timer::refill_first;
    const std::uint64_t meters = below(chart.meters.size()), actions = below(chart.actions.size());
    bool fits = (state.ticking & ~waits) == 0 &&
                ((state.held | state.on | state.held_by_game | state.toggles) & ~actions) == 0 &&
                ((state.flowing | state.draining | state.spent | state.by_distance | state.levels_moved) &
                 ~meters) == 0;
    for (std::size_t i = 0; i < limits::cooldowns; ++i) {
        const unsigned used = charges_used(state, i);
        fits = fits && used <= (i < chart.cooldowns.size() ? chart.cooldowns[i].charges : 0U);
    }
    for (std::size_t i = chart.blocks.size(); i < state.blocks.size(); ++i) {
        fits = fits && state.blocks[i] == 0;
    }
    return fits;
}

}  // namespace

namespace {

/// Of whatever is added and multiplied in a tick: finite, and so far from the largest number that no tick leads out of them.
bool is_sane(double value) {
    return std::fabs(value) <= 1e15;
}
bool is_sane(const glm::dvec3& value) {
    return is_sane(value.x) && is_sane(value.y) && is_sane(value.z);
}

/// What the world said last.
bool fits_around(const Surroundings& around) {
    bool fits = around.barrier_count <= around.barriers.size() && is_sane(around.gradient.x) &&
                is_sane(around.gradient.y) && is_sane(double{around.pace});
    for (int axis = 0; axis < 3; ++axis) {
        fits = fits && is_sane(double{around.wall_normal[axis]}) && is_sane(double{around.wind[axis]});
    }
    return fits;
}

}  // namespace

bool plausible(const ChartData& chart, const RunnerState& state) {
    bool fits = fits_lists(chart, state) && state.chart_tag == chart.tag &&
                state.state < chart.states.size() && fits_around(state.around) &&
                state.segment <= SegmentKind::ease && state.trend <= Trend::falling &&
                state.segment_end <= SegmentEnd::landing && std::fabs(state.clock) < 1e9 &&
                state.clock >= 0.0 && state.lag >= 0.0F && state.lag <= 1e-6F;
    for (std::size_t i = 0; i < state.modifiers.size(); ++i) {
        const ModifierState& modifier = state.modifiers[i];
        fits = fits && (modifier.strength != 0) == (i < state.modifier_count);
        fits = fits && modifier.phase <= ModifierPhase::over &&
               (modifier.strength == 0 || modifier.modifier < chart.modifiers.size());
    }
    for (const Holder& holder : state.holders) {
        fits = fits && (holder.strength == 0 || holder.modifier < chart.modifiers.size());
    }
    for (std::size_t i = 0; i < chart.meters.size(); ++i) {
        fits = fits && state.above[i] <= chart.meters[i].marks.size() && is_sane(state.scales[i]) &&
               is_sane(state.meters[i].level) && is_sane(state.meters[i].rate);
    }
    for (const glm::vec2& fading : state.fading) {
        fits = fits && is_sane(double{fading.x}) && is_sane(double{fading.y});
    }
    fits = fits && is_sane(state.position) && is_sane(state.velocity) && is_sane(state.acceleration);
    for (const double value :
         {state.speed, state.distance, state.move_forward, state.move_side, state.look_yaw, state.look_pitch,
          state.facing.x, state.facing.y, state.wanted.x, state.wanted.y, state.state_since, state.floor,
          state.landed_at, state.scaled_until, double{state.lag}, state.switched_at, state.metered_at,
          state.stride}) {
        fits = fits && is_sane(value);
    }
    return fits && !std::isnan(state.segment_due) && !std::isnan(state.condition_due) &&
           !std::isnan(state.next_due);
}

}  // namespace cursimeter::detail
