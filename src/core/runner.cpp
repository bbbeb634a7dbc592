#include <cmath>
#include <cursimeter/report.hpp>
#include <cursimeter/runner.hpp>

#include "core/aim.hpp"
#include "core/conditions.hpp"
#include "core/instant.hpp"

namespace cursimeter {

Runner spawn(const Chart& chart, const Placement& placement) {
    const detail::ChartData& data = chart.data();
    Runner runner;
    detail::RunnerState& state = detail::RunnerAccess::state(runner);
    const glm::dvec3& at = placement.position;
    if (!std::isfinite(at.x) || !std::isfinite(at.y) || !std::isfinite(at.z) ||
        !detail::take_look(state, placement.yaw, 0.0)) {
        throw ChartError({{"placement", "is not finite", "give a position in m and a yaw in rad", {}, 0, 0}});
    }
    state.position = at;
    state.chart_tag = data.tag;
    state.toggles = data.toggles;
    state.meter_count = static_cast<std::uint8_t>(data.meters.size());
    state.leg_due = state.crossing_due = state.other_due = state.retry_due = detail::never;
    state.mark.fill(detail::no_mark);
    for (std::size_t i = 0; i < data.meters.size(); ++i) {
        const detail::CompiledMeter& meter = data.meters[i];
        state.meters[i].level = meter.start;
        state.meters[i].due = detail::never;
        if (meter.spent && meter.start <= meter.spent->at) {
            state.spent = static_cast<std::uint8_t>(state.spent | 1U << i);
        }
    }
    state.facts = detail::gather(data, state, 0, detail::meter_facts(data, state));
    state.state = detail::choose_first(data, state.facts);
    return runner;
}

MeterReading read_meter(const Chart& chart, const Runner& runner, MeterId meter) {
    const detail::RunnerState& state = detail::RunnerAccess::state(runner);
    const double level = state.meters.at(meter.index).level;
    return {level, level / chart.data().meters.at(meter.index).capacity,
            (state.spent >> meter.index & 1U) != 0};
}

void set_press_mode(Runner& runner, ActionId action, PressMode mode) {
    if (runner.press_mode(action) == mode || action.index >= limits::actions) {
        return;
    }
    detail::RunnerState& state = detail::RunnerAccess::state(runner);
    const auto mask = static_cast<std::uint16_t>(1U << action.index);
    state.toggles = static_cast<std::uint16_t>(state.toggles ^ mask);
    const bool down = (state.held & mask) != 0;
    state.on = static_cast<std::uint16_t>(down ? state.on | mask : state.on & ~mask);
    state.stale = true;
    state.next_due = state.clock;
}

std::string_view to_string(EventKind kind) {
    switch (kind) {
        case EventKind::left:
            return "left";
        case EventKind::entered:
            return "entered";
        case EventKind::pressed:
            return "pressed";
        case EventKind::released:
            return "released";
        case EventKind::draining:
            return "draining";
        case EventKind::rested:
            return "rested";
        case EventKind::emptied:
            return "emptied";
        case EventKind::filled:
            return "filled";
        case EventKind::spent:
            return "spent";
        case EventKind::recovered:
            return "recovered";
    }
    return "unknown";
}

EventSubject subject_of(EventKind kind) {
    switch (kind) {
        case EventKind::left:
        case EventKind::entered:
            return EventSubject::state;
        case EventKind::pressed:
        case EventKind::released:
            return EventSubject::action;
        default:
            return EventSubject::meter;
    }
}

const std::string& subject_name(const Chart& chart, const Event& event) {
    switch (subject_of(event.kind)) {
        case EventSubject::state:
            return chart.name(StateId{event.subject});
        case EventSubject::action:
            return chart.name(ActionId{event.subject});
        case EventSubject::meter:
            break;
    }
    return chart.name(MeterId{event.subject});
}

}  // namespace cursimeter
