#include "core/motion/footsteps.hpp"

#include <algorithm>
#include <cmath>

namespace cursimeter::detail {
namespace {

/// Steps that follow each other faster than this, per second, are not told of: nobody hears them apart.
constexpr double fastest_steps = 64.0;
/// Steps of one stretch of time that are looked at: a bound for a runner of hundreds of metres per second that stops.
constexpr std::int64_t most_steps = 512;

/// A step is told once this little is missing to it, in steps: far above rounding, so that a step that falls on an
/// instant or on a tick's border is told there whatever the rounding.
constexpr double step_rounding = 1e-9;

/// Whole steps in a number of steps. A runner out of a file or a packet may say that it has walked what is no number.
std::int64_t whole_steps(double steps) {
    return std::fabs(steps) < 1e15 ? static_cast<std::int64_t>(steps) : 0;
}

/// When a part of the way of `seconds` on a segment has been walked. The way grows evenly with time, so bisection
/// finds it to the last bit.
double time_of_part(const SegmentShape& shape, double part, double seconds) {
    const double wanted = part * path_length(shape, seconds);
    double low = 0.0, high = seconds;
    for (int i = 0; i < 60; ++i) {
        const double middle = 0.5 * (low + high);
        if (middle <= low || middle >= high) {
            break;
        }
        (path_length(shape, middle) < wanted ? low : high) = middle;
    }
    return high;
}

}  // namespace

void tell_steps_between(const CompiledState& state, const RunnerState& runner, Report& report,
                        const StepsFrom& start, double begin) {
    if (state.strides_per_metre <= 0.0) {
        return;
    }
    const double from = 2.0 * strides_at(runner, state, start.distance);
    const double to = 2.0 * strides_at(runner, state, runner.distance);
    auto step = whole_steps(from + step_rounding) + 1;
    const auto last = whole_steps(to + step_rounding);
    if (step > last) {
        return;
    }
    const double fastest_speed = fastest_steps / (2.0 * state.strides_per_metre);
    if (std::min(start.speed, runner.speed) > fastest_speed) {
        return;
    }
    const double seconds = runner.clock - start.clock;
    for (std::int64_t count = 0; step <= last && count < most_steps; ++step, ++count) {
        const double part = std::clamp((static_cast<double>(step) - from) / (to - from), 0.0, 1.0);
        const double time = start.shape ? time_of_part(*start.shape, part, seconds) : part * seconds;
        const double speed = start.shape ? speed_after(*start.shape, time) : start.speed;
        if (speed > fastest_speed) {
            continue;
        }
        if (report.event_count == report.event_table.size()) {
            ++report.events_lost;
            return;
        }
        report.event_table[report.event_count++] = {
            std::max(0.0, start.clock - begin + time), speed, EventKind::footstep, runner.state, {},
            static_cast<std::uint8_t>(step & 1),       false};
    }
}

bool may_step(const CompiledState& state, const RunnerState& runner, double most, double seconds) {
    const double from = 2.0 * strides_at(runner, state, runner.distance) + step_rounding;
    const double next = static_cast<double>(whole_steps(from) + 1);
    return from + 2.0 * state.strides_per_metre * most * seconds + step_rounding >= next;
}

void carry_stride(RunnerState& runner, const CompiledState& before, const CompiledState& after) {
    if (after.strides_per_metre <= 0.0) {
        return;
    }
    const double wanted = before.strides_per_metre > 0.0 ? strides_at(runner, before, runner.distance) : 0.0;
    const double offset = wanted - runner.distance * after.strides_per_metre;
    runner.stride = offset - std::floor(offset);
}

}  // namespace cursimeter::detail
