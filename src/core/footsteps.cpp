#include "core/footsteps.hpp"

#include <cmath>

namespace cursimeter::detail {
namespace {

/// More steps than this between two instants are not told of: nobody hears them apart.
constexpr std::int64_t most_steps = 8;

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
    const double whole = runner.distance - watch.distance;
    const double gain = runner.speed - watch.speed;
    const double mean = 0.5 * (watch.speed + runner.speed);
    for (std::int64_t count = 0; step <= last && count < most_steps; ++step, ++count) {
        // The part of the way at which the foot comes down, and when: the speed is taken as linear, which it
        // is on straight ramps. d = v t + g t^2 / (2 T), by the form that does not cancel.
        const double part = (static_cast<double>(step) - from) / (to - from);
        const double way = mean > 0.0 ? part * mean : 0.0;  // in units of T
        const double root = std::sqrt(std::fmax(0.0, watch.speed * watch.speed + 2.0 * gain * way));
        const double time = watch.speed + root > 0.0 ? 2.0 * way / (watch.speed + root) : part;
        if (report.event_count == report.event_table.size()) {
            ++report.events_lost;
            return;
        }
        report.event_table[report.event_count++] = {watch.clock - begin + time * seconds,
                                                    whole > 0.0 ? root : 0.0,
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
    const double phase = before.strides_per_metre > 0.0 ? strides_at(runner, before, runner.distance) : 0.0;
    const double offset = phase - runner.distance * after.strides_per_metre;
    const double part = offset - std::floor(offset);
    runner.stride = static_cast<std::uint16_t>(static_cast<std::uint32_t>(part * 65536.0 + 0.5) & 0xffffU);
}

}  // namespace cursimeter::detail
