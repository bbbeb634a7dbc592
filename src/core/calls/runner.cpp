#include <algorithm>
#include <cmath>
#include <cursimeter/report.hpp>
#include <cursimeter/runner.hpp>

#include "core/chart/facts.hpp"
#include "core/choose/choose.hpp"
#include "core/choose/gather.hpp"
#include "core/contact/pushes.hpp"
#include "core/contact/surroundings.hpp"
#include "core/motion/aim.hpp"
#include "core/numbers/space.hpp"
#include "core/runner/instant.hpp"
#include "core/runner/levels.hpp"
#include "core/runner/pair.hpp"
#include "core/runner/timers.hpp"
#include "core/runner/wake.hpp"
#include "core/want/move_and_look.hpp"

namespace cursimeter {

namespace {

void take_placement(detail::RunnerState& state, const Placement& placement) {
    const glm::dvec3& at = placement.position;
    if (!std::isfinite(at.x) || !std::isfinite(at.y) || !std::isfinite(at.z) ||
        !detail::take_look(state, placement.yaw, 0.0)) {
        throw ChartError({{"placement", "is not finite", "give a position in m and a yaw in rad", {}, 0, 0}});
    }
    state.position = at;
    state.floor = at.z;
}

/// s until a timer is over; 0 if it does not tick.
double left_of(const detail::RunnerState& state, unsigned timer) {
    return detail::ticks(state, timer) ? std::max(0.0, detail::timer_due(state, timer) - state.clock) : 0.0;
}

}  // namespace

void place(const Chart& chart, Runner& runner, const Placement& placement) {
    detail::RunnerState& state = detail::paired(chart, runner, "place");
    take_placement(state, placement);
    detail::write_levels(chart.data(), state);
    state.velocity = state.acceleration = glm::dvec3(0.0);
    state.speed = 0.0;
    state.segment = detail::SegmentKind::steady;
    state.trend = detail::Trend::constant;
    for (std::size_t i = 0; i < limits::pushes; ++i) {
        detail::end_push(state, i);
    }
    const std::uint8_t zones = state.around.zones;
    state.around = {};
    state.around.zones = zones;
    state.last_wall = 0;
    state.segment_due = state.next_due = state.clock;
    state.segment_end = detail::SegmentEnd::replan;
    state.stale = true;
}

Runner spawn(const Chart& chart, const Placement& placement) {
    const detail::ChartData& data = chart.data();
    Runner runner;
    detail::RunnerState& state = detail::RunnerAccess::state(runner);
    take_placement(state, placement);
    state.chart_tag = data.tag;
    state.toggles = data.toggles;
    state.meter_count = static_cast<std::uint8_t>(data.meters.size()) & 15U;
    state.segment_due = state.condition_due = detail::never;
    for (std::size_t i = 0; i < data.meters.size(); ++i) {
        const detail::CompiledMeter& meter = data.meters[i];
        state.meters[i].level = meter.start;
        state.above[i] = detail::marks_at_or_below(meter, meter.start);
        if (meter.spent && meter.start <= meter.spent->at) {
            state.spent = static_cast<detail::MeterMask>(state.spent | 1U << i);
        }
    }
    const detail::Facts facts = detail::gather(data, state, 0, detail::meter_facts(data, state));
    state.derived = facts.derived;
    state.lasting = detail::fact::lasting_of(facts.fixed);
    state.state = detail::choose_first(data, facts);
    return runner;
}

double Runner::speed_target() const {
    return detail::length_of(state_.wanted);
}

glm::dvec3 carrying_velocity(const Chart& chart, const Runner& runner) {
    return detail::carrying_velocity(chart.data(), detail::paired(chart, runner, "carrying_velocity"));
}

glm::dvec3 ground_normal(const Runner& runner) {
    return detail::ground_normal(detail::RunnerAccess::state(runner).around);
}

Seconds cooldown_left(const Chart& chart, const Runner& runner, CooldownId cooldown) {
    const detail::RunnerState& state = detail::paired(chart, runner, "cooldown_left");
    static_cast<void>(chart.name(cooldown));  // throws for an id of another chart
    return Seconds{left_of(state, detail::timer::cooldown_first + cooldown.index)};
}

Waits read_waits(const Chart& chart, const Runner& runner) {
    const detail::RunnerState& state = detail::paired(chart, runner, "read_waits");
    const detail::ChartData& data = chart.data();
    const auto left = [&](unsigned timer) { return left_of(state, timer); };
    Waits waits;
    waits.coyote = left(detail::timer::coyote);
    waits.landing = left(detail::timer::landing);
    for (unsigned i = 0; i < data.buffered_count; ++i) {
        waits.buffers[data.buffered[i]] = left(detail::timer::buffer_first + i);
    }
    for (unsigned i = 0; i < data.meters.size(); ++i) {
        waits.refills[i] = left(detail::timer::refill_first + i);
    }
    for (unsigned i = 0; i < data.cooldowns.size(); ++i) {
        waits.cooldowns[i] = left(detail::timer::cooldown_first + i);
    }
    return waits;
}

bool push(Runner& runner, const Push& push) {
    if (!detail::is_push(push)) {
        throw ChartError({{"push",
                           "has a value that is out of range",
                           "a finite direction, strength 0 to 10000 m/s, lift 0 to 1, seconds 0 to 300",
                           {},
                           0,
                           0}});
    }
    return detail::apply_push(detail::RunnerAccess::state(runner), push);
}

MeterReading read_meter(const Chart& chart, const Runner& runner, MeterId meter) {
    const detail::RunnerState& state = detail::paired(chart, runner, "read_meter");
    const detail::CompiledMeter& compiled = detail::named(chart.data().meters, meter.index, "meter");
    const double level = detail::level_now(chart.data(), state, meter.index);
    bool spent = (state.spent >> meter.index & 1U) != 0;
    if (compiled.spent) {  // at a tick's end a latch that closes now is told of in the next tick
        spent = level <= compiled.spent->at || (spent && level < compiled.spent->until);
    }
    return {level, level / compiled.capacity, spent};
}

void set_press_mode(Runner& runner, ActionId action, PressMode mode) {
    if (runner.press_mode(action) == mode || action.index >= limits::actions) {
        return;
    }
    detail::RunnerState& state = detail::RunnerAccess::state(runner);
    const detail::ActionMask mask = key_bit(action);
    state.toggles ^= mask;
    const bool down = (state.held & mask) != 0;
    state.on = down ? state.on | mask : state.on & ~mask;
    wake(state);
}

}  // namespace cursimeter
