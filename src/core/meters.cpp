#include "core/meters.hpp"

#include "core/leg.hpp"

namespace cursimeter::detail {
namespace {

/// Seconds until a meter that also drains by the metre has lost `amount`, on a leg whose speed
/// changes; `never` if that is not before the leg's end. The loss is monotone and has a closed form,
/// so bisection finds the time to the last bit in a bounded number of steps.
double time_to_lose(double amount, const MeterState& meter, const LegShape& leg, double end) {
    const auto lost = [&](double t) {
        return -meter.rate * t - meter.per_metre * path_length(leg, t);
    };
    if (!(end < never) || lost(end) < amount) {
        return never;
    }
    double low = 0.0, high = end;
    for (int step = 0; step < 64 && low < high; ++step) {
        const double middle = 0.5 * (low + high);
        if (middle <= low || middle >= high) {
            break;
        }
        (lost(middle) < amount ? low : high) = middle;
    }
    return high;
}

double time_to_mark(const RunnerState& runner, const MeterState& meter, double amount) {
    if (meter.per_metre == 0.0) {
        return amount / -meter.rate;
    }
    if (runner.leg == LegKind::steady) {
        const double rate = -meter.rate - meter.per_metre * runner.speed;
        return rate > 0.0 ? amount / rate : never;
    }
    return time_to_lose(amount, meter, shape_of(runner), runner.leg_due - runner.clock);
}

}  // namespace

std::uint8_t drained_meters(const ChartData& chart, const RunnerState& runner) {
    const CompiledState& state = chart.states[runner.state];
    if (state.drain_gate && (runner.facts.derived >> *state.drain_gate & 1U) == 0) {
        return 0;
    }
    return state.drained;
}

void set_rates(const ChartData& chart, RunnerState& runner, std::uint8_t drained) {
    const CompiledState& state = chart.states[runner.state];
    runner.metered = false;
    for (std::size_t i = 0; i < runner.meter_count; ++i) {
        MeterState& meter = runner.meters[i];
        const CompiledMeter& compiled = chart.meters[i];
        meter.rate = 0.0;
        meter.per_metre = 0.0;
        if ((drained >> i & 1U) != 0) {
            if (meter.level > 0.0) {
                meter.rate = -state.drains[i].per_second;
                meter.per_metre = -state.drains[i].per_metre;
            }
        } else {
            if ((runner.draining >> i & 1U) != 0) {
                meter.refill_from = runner.clock + compiled.refill_wait;
            }
            if (meter.level < compiled.capacity &&
                runner.clock + instant_width.value >= meter.refill_from) {
                meter.rate = compiled.refill_rate;
            }
        }
        runner.metered = runner.metered || meter.rate != 0.0 || meter.per_metre != 0.0;
    }
    runner.draining = drained;
}

void plan_meters(const ChartData& chart, RunnerState& runner) {
    for (std::size_t i = 0; i < runner.meter_count; ++i) {
        MeterState& meter = runner.meters[i];
        const CompiledMeter& compiled = chart.meters[i];
        const bool draining = (runner.draining >> i & 1U) != 0;
        runner.mark[i] = no_mark;
        meter.due = never;
        if (meter.rate > 0.0) {
            for (std::size_t k = 0; k < compiled.marks.size(); ++k) {
                if (compiled.marks[k].from > meter.level) {
                    runner.mark[i] = static_cast<std::uint8_t>(k);
                    meter.due = runner.clock + (compiled.marks[k].from - meter.level) / meter.rate;
                    break;
                }
            }
        } else if (meter.rate < 0.0 || meter.per_metre < 0.0) {
            for (std::size_t k = compiled.marks.size(); k-- > 0;) {
                if (compiled.marks[k].from <= meter.level) {
                    const double amount = meter.level - compiled.marks[k].below;
                    runner.mark[i] = static_cast<std::uint8_t>(k);
                    meter.due = runner.clock + time_to_mark(runner, meter, amount);
                    break;
                }
            }
        } else if (!draining && compiled.refill_rate > 0.0 && meter.level < compiled.capacity) {
            meter.due = meter.refill_from;
        }
    }
}

}  // namespace cursimeter::detail
