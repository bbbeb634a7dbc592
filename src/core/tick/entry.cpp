#include "core/tick/entry.hpp"

#include <algorithm>
#include <cmath>
#include <cursimeter/numbers/detmath.hpp>

#include "core/contact/surroundings.hpp"
#include "core/effects/cooldowns.hpp"
#include "core/effects/meters.hpp"
#include "core/effects/modifiers.hpp"
#include "core/kinds/kind.hpp"
#include "core/motion/aim.hpp"
#include "core/motion/footsteps.hpp"
#include "core/motion/segment.hpp"
#include "core/runner/timers.hpp"

namespace cursimeter::detail {
namespace {

void pay(Instant& instant, const CompiledState& state) {
    for (std::uint8_t i = 0; i < instant.runner.meter_count; ++i) {
        if (state.costs[i] <= 0.0) {
            continue;
        }
        move_level(instant, i, instant.runner.meters[i].level - state.costs[i]);
        hold_refill(instant.chart, instant.runner, i);  // a cost is a drain of no length
    }
}

}  // namespace

void enter_state(Instant& instant, std::uint8_t entered, Cause cause, Price price) {
    RunnerState& runner = instant.runner;
    const CompiledState& before = instant.chart.states[runner.state];
    const CompiledState& state = instant.chart.states[entered];
    instant.emit(EventKind::left, runner.state, runner.distance);
    if (before.cooldown != no_cooldown) {
        leave_cooldown(instant.chart, runner, before.cooldown);
    }
    if (before.traits.after) {
        instant.after_burst = *before.traits.after;
    }
    runner.around.cornered = false;
    carry_stride(runner, before, state);
    runner.state = entered;
    runner.state_since = runner.clock;
    runner.cut = false;
    instant.emit(EventKind::entered, runner.state, runner.distance, cause);
    instant.dirty.note(Changed::control);
    if (instant.after_burst == After::stop) {
        set_velocity(runner, {0.0, 0.0, 0.0});
    } else if (instant.after_burst == After::target) {
        plan_wanted(instant.chart, runner);
        set_velocity(runner, target_of(instant.chart, runner));
    }
    instant.after_burst = After::keep;

    if (price == Price::full) {
        pay(instant, state);
    }
    if (price == Price::full && state.cooldown != no_cooldown) {
        use_charge(instant.chart, runner, state.cooldown);
    }
    if (const auto enter = row_of(state.kind).enter) {
        enter(instant, state);
    }
    if (state.launch.count > 0) {
        launch(instant, state);
    }
}

}  // namespace cursimeter::detail
