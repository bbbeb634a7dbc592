#include "core/motion/footsteps.hpp"

#include <cmath>

namespace cursimeter::detail {
namespace {

/// More steps than this between two instants are not told of: nobody hears them apart.
constexpr std::int64_t most_steps = 8;

/// When a part of the way of `seconds` on a leg has been walked. The way grows evenly with time, so bisection
/// finds it to the last bit.
double time_of_part(const LegShape& shape, double part, double seconds) {
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
                        const StepWatch& watch, double begin) {
    if (state.strides_per_metre <= 0.0) {
        return;
    }
    const double from = 2.0 * strides_at(runner, state, watch.distance);
    const double to = 2.0 * strides_at(runner, state, runner.distance);
    auto step = static_cast<std::int64_t>(from) + 1;
    const auto last = static_cast<std::int64_t>(to);
    if (step > last) {
        return;
    }
    const double seconds = runner.clock - watch.clock;
    for (std::int64_t count = 0; step <= last && count < most_steps; ++step, ++count) {
        const double part = (static_cast<double>(step) - from) / (to - from);
        const double time = watch.shape ? time_of_part(*watch.shape, part, seconds) : part * seconds;
        if (report.event_count == report.event_table.size()) {
            ++report.events_lost;
            return;
        }
        report.event_table[report.event_count++] = {
            watch.clock - begin + time,
            watch.shape ? speed_after(*watch.shape, time) : watch.speed,
            EventKind::footstep,
            runner.state,
            {},
            static_cast<std::uint8_t>(step & 1),
            false};
    }
}

void carry_stride(RunnerState& runner, const CompiledState& before, const CompiledState& after) {
    if (after.strides_per_metre <= 0.0) {
        return;
    }
    const double wanted = before.strides_per_metre > 0.0 ? strides_at(runner, before, runner.distance) : 0.0;
    const double offset = wanted - runner.distance * after.strides_per_metre;
    const double part = offset - std::floor(offset);
    const auto nearest = static_cast<std::int32_t>(part * 65536.0 + 0.5);
    // The phase is kept in parts of 65,536. Rounding it must not cross a step, or that step would be told of
    // twice or not at all: then the next part to either side is taken.
    for (const std::int32_t aside : {0, 1, -1}) {
        runner.stride = static_cast<std::uint16_t>(static_cast<std::uint32_t>(nearest + aside) & 0xffffU);
        const double off = strides_at(runner, after, runner.distance) - wanted;
        const double rounding = off - std::floor(off + 0.5);
        if (std::floor(2.0 * (wanted + rounding)) == std::floor(2.0 * wanted)) {
            return;
        }
    }
}

}  // namespace cursimeter::detail
