#pragma once

#include <cursimeter/report.hpp>
#include <optional>

#include "core/chart/chart_data.hpp"
#include "core/motion/segment.hpp"

/// Footsteps follow the distance walked: a stride is two steps, and its phase goes on through changes of the
/// state, whose strides may be longer or shorter.
namespace cursimeter::detail {

/// Where a stretch of time between two instants begins.
struct StepsFrom {
    double clock, distance, speed;
    bool grounded;
    std::optional<SegmentShape> shape;  ///< of a segment on which the speed changes
    StepsFrom(const ChartData& chart, const RunnerState& runner)
        : clock(runner.clock),
          distance(runner.distance),
          speed(runner.speed),
          grounded(runner.around.grounded) {
        if (chart.has_strides && runner.segment != SegmentKind::steady) {
            shape = shape_of(chart, runner);
        }
    }
};

/// Strides since spawning, in whole and part.
[[nodiscard]] inline double strides_at(const RunnerState& runner, const CompiledState& state,
                                       double distance) {
    return distance * state.strides_per_metre + runner.stride;
}

void tell_steps_between(const CompiledState& state, const RunnerState& runner, Report& report,
                        const StepsFrom& start, double begin);
/// Tells of the steps since `start`, in a tick that began at `begin`. Where it stood then counts: what ends the stretch may
/// be a landing, or the loss of the ground.
inline void tell_steps(const ChartData& chart, const RunnerState& runner, Report& report,
                       const StepsFrom& start, double begin) {
    if (chart.has_strides && start.grounded) {
        tell_steps_between(chart.states[runner.state], runner, report, start, begin);
    }
}
/// Whether a foot may come down within `seconds` at speeds of up to `most`, m/s.
[[nodiscard]] bool may_step(const CompiledState& state, const RunnerState& runner, double most,
                            double seconds);
/// Keeps the phase where it is when one state follows another.
void carry_stride(RunnerState& runner, const CompiledState& before, const CompiledState& after);

}  // namespace cursimeter::detail
