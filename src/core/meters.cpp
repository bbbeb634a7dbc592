#include "core/meters.hpp"

#include <algorithm>

#include "core/leg.hpp"

namespace cursimeter::detail {
namespace {

/// Seconds until a meter that drains by the metre has lost `amount`, on a leg whose speed changes;
/// `never` if that is not before the leg's end. The loss is monotone and has a closed form, so bisection
/// finds the time to the last bit in a bounded number of steps.
double time_to_lose(double amount, const Drain& drain, const LegShape& leg, double end) {
    const auto lost = [&](double t) { return drain.per_second * t + drain.per_metre * path_length(leg, t); };
    if (!(end < never) || lost(end) < amount) {
        return never;
    }
    double low = 0.0, high = end;
    for (int step = 0; step < 64; ++step) {
        const double middle = 0.5 * (low + high);
        if (middle <= low || middle >= high) {
            break;
        }
        (lost(middle) < amount ? low : high) = middle;
    }
    return high;
}

double time_to_drain(const ChartData& chart, const RunnerState& runner, const Drain& drain, double amount) {
    if (drain.per_metre == 0.0) {
        return amount / drain.per_second;
    }
    if (runner.leg == LegKind::steady) {
        const double rate = drain.per_second + drain.per_metre * runner.speed;
        return rate > 0.0 ? amount / rate : never;
    }
    return time_to_lose(amount, drain, shape_of(chart, runner), runner.leg_due - runner.clock);
}

/// The next mark on the way up, and when it is reached.
void plan_rise(const CompiledMeter& compiled, const RunnerState& runner, MeterState& meter,
               std::uint8_t& mark) {
    for (std::size_t k = 0; k < compiled.marks.size(); ++k) {
        if (compiled.marks[k].from > meter.level) {
            mark = static_cast<std::uint8_t>(k);
            meter.due = runner.clock + (compiled.marks[k].from - meter.level) / meter.rate;
            return;
        }
    }
}

/// The next mark on the way down, and when it is reached.
void plan_fall(const ChartData& chart, const RunnerState& runner, std::size_t index, MeterState& meter,
               std::uint8_t& mark) {
    const CompiledMeter& compiled = chart.meters[index];
    const Drain& drain = chart.states[runner.state].drains[index];
    for (std::size_t k = compiled.marks.size(); k-- > 0;) {
        if (compiled.marks[k].from <= meter.level) {
            mark = static_cast<std::uint8_t>(k);
            meter.due =
                runner.clock + time_to_drain(chart, runner, drain, meter.level - compiled.marks[k].below);
            return;
        }
    }
}

}  // namespace

void lose_by_distance(const ChartData& chart, RunnerState& runner, double travelled) {
    write_levels(chart, runner);
    for (std::size_t i = 0; i < runner.meter_count; ++i) {
        if ((runner.by_distance >> i & 1U) != 0) {
            const double lost = chart.states[runner.state].drains[i].per_metre * travelled;
            runner.meters[i].level = std::max(0.0, runner.meters[i].level - lost);
        }
    }
}

std::uint8_t drained_meters(const ChartData& chart, const RunnerState& runner) {
    const CompiledState& state = chart.states[runner.state];
    if (state.drain_gate && (runner.facts.derived >> *state.drain_gate & 1U) == 0) {
        return 0;
    }
    return state.drained;
}

void set_rates(const ChartData& chart, RunnerState& runner, std::uint8_t drained) {
    const CompiledState& state = chart.states[runner.state];
    runner.flowing = 0;
    runner.by_distance = 0;
    for (std::size_t i = 0; i < runner.meter_count; ++i) {
        MeterState& meter = runner.meters[i];
        const CompiledMeter& compiled = chart.meters[i];
        const auto mask = static_cast<std::uint8_t>(1U << i);
        const auto set = [mask](std::uint8_t& bits, bool on) {
            bits = static_cast<std::uint8_t>(on ? bits | mask : bits & ~mask);
        };
        const bool drains = (drained & mask) != 0;
        meter.rate = 0.0;
        if (drains && meter.level > 0.0) {
            meter.rate = -state.drains[i].per_second;
            set(runner.by_distance, state.drains[i].per_metre > 0.0);
        }
        if (!drains && (runner.draining & mask) != 0 && compiled.refill_rate > 0.0) {
            meter.due = runner.clock + compiled.refill_wait;
            set(runner.waiting, compiled.refill_wait > 0.0);
        }
        if (drains) {
            set(runner.waiting, false);
        } else if ((runner.waiting & mask) == 0 && meter.level < compiled.capacity) {
            meter.rate = compiled.refill_rate;
        }
        set(runner.flowing, meter.rate != 0.0 || (runner.by_distance & mask) != 0);
    }
    runner.draining = drained;
}

void plan_meters(const ChartData& chart, RunnerState& runner) {
    for (std::size_t i = 0; i < runner.meter_count; ++i) {
        MeterState& meter = runner.meters[i];
        runner.mark[i] = no_mark;
        if ((runner.waiting >> i & 1U) != 0) {
            continue;  // `due` is the end of the wait
        }
        meter.due = never;
        if (meter.rate > 0.0) {
            plan_rise(chart.meters[i], runner, meter, runner.mark[i]);
        } else if ((runner.flowing >> i & 1U) != 0) {
            plan_fall(chart, runner, i, meter, runner.mark[i]);
        }
    }
}

}  // namespace cursimeter::detail
