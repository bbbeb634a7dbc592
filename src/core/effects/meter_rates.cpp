#include <algorithm>
#include <array>

#include "core/chart/facts.hpp"
#include "core/effects/meters.hpp"
#include "core/numbers/slice.hpp"
#include "core/runner/amounts.hpp"
#include "core/runner/timers.hpp"

/// How fast each meter flows, and in which direction.
namespace cursimeter::detail {

namespace {

/// The meters that the present state drains at the present speed, a bit each.
MeterMask drained_meters(const ChartData& chart, const RunnerState& runner) {
    const CompiledState& state = chart.states[runner.state];
    if (state.drain_gate && !runner.derived.test(*state.drain_gate)) {
        return 0;
    }
    return state.drained;
}

/// Factors that follow another meter are kept for a slice of the runner's clock, s, at their value for its middle. They are
/// found anew at the end of each slice and where a meter begins to flow in another way or its level jumps, never at any other
/// instant: so nothing depends on how many of those there are. While the other meter flows at one rate, that is exact at the end of
/// each slice where the factor is straight.
constexpr double scale_slice = 1.0 / 20.0;

double factor_at(const Scale& scale, double fraction) {
    if (fraction <= scale.at.front()) {
        return scale.factors.front();
    }
    for (std::size_t i = 1; i < scale.at.size(); ++i) {
        if (fraction <= scale.at[i]) {
            const double part = (fraction - scale.at[i - 1]) / (scale.at[i] - scale.at[i - 1]);
            return scale.factors[i - 1] + (scale.factors[i] - scale.factors[i - 1]) * part;
        }
    }
    return scale.factors.back();
}

double factor_of(const ChartData& chart, const RunnerState& runner, const std::vector<Scale>& scales) {
    double factor = 1.0;
    for (const Scale& scale : scales) {
        const MeterState& other = runner.meters[scale.by];
        const double middle = slice_at(runner.clock, scale_slice).middle - runner.clock;
        factor *= factor_at(scale, (other.level + other.rate * middle) / chart.meters[scale.by].capacity);
    }
    return factor;
}

bool refills(const ChartData& chart, const RunnerState& runner, std::size_t meter) {
    const CompiledMeter& compiled = chart.meters[meter];
    const Facts facts{fact::fixed_of(runner.lasting), runner.derived};
    return (compiled.refill_in >> runner.state & 1U) != 0 &&
           holding_clause(chart, compiled.refill_when, facts) != -1 &&
           runner.meters[meter].level < compiled.capacity &&
           !ticks(runner, timer::refill_first + static_cast<unsigned>(meter));
}

/// The rate of one meter, negative while it is drained, but for what other meters make of it.
double plain_rate(const ChartData& chart, const RunnerState& runner, std::size_t meter, bool drains) {
    const CompiledMeter& compiled = chart.meters[meter];
    const auto index = static_cast<unsigned>(meter);
    if (drains) {
        const double base = chart.states[runner.state].drains[meter].per_second;
        return runner.meters[meter].level > 0.0 ? -modified(chart, runner, measure::drain_first + index, base)
                                                : 0.0;
    }
    return refills(chart, runner, meter)
               ? modified(chart, runner, measure::refill_first + index, compiled.refill_rate)
               : 0.0;
}

using MeterRates = std::array<double, limits::meters>;

/// Finds the factors anew if a slice is over or one of the plain rates is another than before.
void refresh_scales(const ChartData& chart, RunnerState& runner, const MeterRates& plain, MeterMask drained) {
    bool fresh = runner.clock + instant_width.value >= runner.scaled_until;
    for (std::size_t i = 0; i < runner.meter_count; ++i) {
        fresh = fresh || plain[i] * runner.scales[i] != runner.meters[i].rate;
    }
    if (!fresh) {
        return;
    }
    // Those that scale one another: once from the levels now, then from the levels in the middle of the slice. Nothing is
    // taken from the factors before, which say when they were last asked for.
    for (std::size_t i = 0; i < runner.meter_count; ++i) {
        runner.meters[i].rate = 0.0;
    }
    for (int pass = 0; pass < 2; ++pass) {
        for (std::size_t i = 0; i < runner.meter_count; ++i) {
            const CompiledMeter& meter = chart.meters[i];
            runner.scales[i] =
                factor_of(chart, runner, (drained >> i & 1U) != 0 ? meter.drain_scale : meter.refill_scale);
        }
        for (std::size_t i = 0; i < runner.meter_count; ++i) {
            runner.meters[i].rate = plain[i] * runner.scales[i];
        }
    }
    runner.scaled_until = slice_at(runner.clock, scale_slice).end;
}

/// Sets the rates of all meters, given which of them are drained.
void set_rates(const ChartData& chart, RunnerState& runner, MeterMask drained) {
    const CompiledState& state = chart.states[runner.state];
    MeterRates rates{};
    const MeterMask by_distance_before = runner.by_distance;
    runner.flowing = 0;
    runner.by_distance = 0;
    for (std::size_t i = 0; i < runner.meter_count; ++i) {
        const auto mask = static_cast<MeterMask>(1U << i);
        const bool drains = (drained & mask) != 0;
        if (drains) {
            stop_timer(runner, timer::refill_first + static_cast<unsigned>(i));
        } else if ((runner.draining & mask) != 0) {
            hold_refill(chart, runner, i);
        }
        rates[i] = plain_rate(chart, runner, i, drains);
        const bool by_distance = drains && state.drains[i].per_metre > 0.0 && runner.meters[i].level > 0.0;
        runner.by_distance = static_cast<MeterMask>(runner.by_distance | (by_distance ? mask : 0));
    }
    if (runner.by_distance != by_distance_before) {
        forget_scales(chart, runner);
    }
    if (chart.has_scales) {
        refresh_scales(chart, runner, rates, drained);
    }
    for (std::size_t i = 0; i < runner.meter_count; ++i) {
        const auto mask = static_cast<MeterMask>(1U << i);
        runner.meters[i].rate = rates[i] * runner.scales[i];
        if (runner.meters[i].rate != 0.0 || (runner.by_distance & mask) != 0) {
            runner.flowing = static_cast<MeterMask>(runner.flowing | mask);
        }
    }
    runner.draining = drained;
}

}  // namespace

void refresh_rates(Instant& instant) {
    RunnerState& runner = instant.runner;
    const MeterMask drained = drained_meters(instant.chart, runner);
    const auto changed = static_cast<MeterMask>(drained ^ runner.draining);
    set_rates(instant.chart, runner, drained);
    for (std::uint8_t i = 0; changed >> i != 0; ++i) {
        if ((changed >> i & 1U) != 0) {
            const bool drains = (drained >> i & 1U) != 0;
            instant.emit(drains ? EventKind::draining : EventKind::rested, i, runner.meters[i].level);
        }
    }
}

double next_scale_due(const ChartData& chart, const RunnerState& runner) {
    for (std::size_t i = 0; i < runner.meter_count; ++i) {
        if ((runner.flowing >> i & 1U) == 0) {
            continue;
        }
        const CompiledMeter& meter = chart.meters[i];
        for (const Scale& scale : (runner.draining >> i & 1U) != 0 ? meter.drain_scale : meter.refill_scale) {
            if ((runner.flowing >> scale.by & 1U) != 0) {
                return std::max(runner.scaled_until, runner.clock);
            }
        }
    }
    return never;
}

}  // namespace cursimeter::detail
