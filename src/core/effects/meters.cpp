#include "core/effects/meters.hpp"

#include <algorithm>

#include "core/chart/facts.hpp"
#include "core/choose/choose.hpp"
#include "core/effects/modifiers.hpp"
#include "core/motion/leg.hpp"

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

}  // namespace

double mark_due(const ChartData& chart, const RunnerState& runner, std::size_t meter, std::size_t index) {
    const Mark& mark = chart.meters[meter].marks[index];
    const MeterState& state = runner.meters[meter];
    if (state.rate > 0.0) {
        return runner.metered_at + (mark.from - state.level) / state.rate;
    }
    if ((runner.by_distance >> meter & 1U) == 0) {
        return runner.metered_at + (mark.below - state.level) / state.rate;
    }
    Drain drain = chart.states[runner.state].drains[meter];
    drain.per_second = -state.rate;
    return runner.clock + time_to_drain(chart, runner, drain, std::max(0.0, state.level - mark.below));
}

double next_mark_due(const ChartData& chart, const RunnerState& runner, std::uint64_t watched) {
    double due = never;
    for (std::size_t i = 0; i < runner.meter_count; ++i) {
        if (runner.mark[i] == no_mark) {
            continue;
        }
        const std::vector<Mark>& marks = chart.meters[i].marks;
        const std::size_t step = runner.meters[i].rate > 0.0 ? 1 : static_cast<std::size_t>(-1);
        const bool all =
            (runner.by_distance >> i & 1U) != 0;  // where they lie on the way is found one by one
        for (std::size_t k = runner.mark[i]; k < marks.size(); k += step) {
            if (all || marks[k].is_told() || (marks[k].derived_bit & watched) != 0) {
                due = std::min(due, mark_due(chart, runner, i, k));
                break;
            }
        }
    }
    return due;
}

void hold_refill(const ChartData& chart, RunnerState& runner, std::size_t meter) {
    const CompiledMeter& compiled = chart.meters[meter];
    if (compiled.refill_rate > 0.0 && compiled.refill_wait > 0.0) {
        start_timer(runner, timer::refill_first + static_cast<unsigned>(meter), compiled.refill_wait);
    }
}

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
    if (state.drain_gate && (runner.derived >> *state.drain_gate & 1U) == 0) {
        return 0;
    }
    return state.drained;
}

namespace {

/// Factors that follow another meter are read again after each such step of the runner's clock, s, for the
/// middle of the step, also where an instant lies within it. While the other meter flows at one rate, that is
/// exact at the end of each step where the factor is straight.
constexpr double scale_step = 1.0 / 20.0;

double step_end(const RunnerState& runner) {
    const double steps = (runner.clock + instant_width.value) / scale_step;
    return static_cast<double>(static_cast<std::int64_t>(steps) + 1) * scale_step;
}

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
        const double middle = step_end(runner) - 0.5 * scale_step - runner.clock;
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

/// The rate of one meter, negative while it is drained.
double rate_of(const ChartData& chart, const RunnerState& runner, std::size_t meter, bool drains) {
    const CompiledMeter& compiled = chart.meters[meter];
    const auto index = static_cast<unsigned>(meter);
    if (drains) {
        const double base = chart.states[runner.state].drains[meter].per_second;
        return runner.meters[meter].level > 0.0
                   ? -modified(chart, runner, measure::drain_first + index, base) *
                         factor_of(chart, runner, compiled.drain_scale)
                   : 0.0;
    }
    return refills(chart, runner, meter)
               ? modified(chart, runner, measure::refill_first + index, compiled.refill_rate) *
                     factor_of(chart, runner, compiled.refill_scale)
               : 0.0;
}

bool is_scaled(const CompiledMeter& meter) {
    return !meter.refill_scale.empty() || !meter.drain_scale.empty();
}

}  // namespace

void set_rates(const ChartData& chart, RunnerState& runner, std::uint8_t drained) {
    const CompiledState& state = chart.states[runner.state];
    runner.flowing = 0;
    runner.by_distance = 0;
    // Meters that others scale come last: they read the rates of those.
    for (const bool scaled : {false, true}) {
        for (std::size_t i = 0; i < runner.meter_count; ++i) {
            if (is_scaled(chart.meters[i]) != scaled) {
                continue;
            }
            const auto mask = static_cast<std::uint8_t>(1U << i);
            const bool drains = (drained & mask) != 0;
            if (drains) {
                stop_timer(runner, timer::refill_first + static_cast<unsigned>(i));
            } else if ((runner.draining & mask) != 0) {
                hold_refill(chart, runner, i);
            }
            runner.meters[i].rate = rate_of(chart, runner, i, drains);
            if (drains && state.drains[i].per_metre > 0.0 && runner.meters[i].level > 0.0) {
                runner.by_distance = static_cast<std::uint8_t>(runner.by_distance | mask);
            }
            if (runner.meters[i].rate != 0.0 || (runner.by_distance & mask) != 0) {
                runner.flowing = static_cast<std::uint8_t>(runner.flowing | mask);
            }
        }
        if (!chart.has_scales) {
            break;
        }
    }
    runner.draining = drained;
}

double next_scale_due(const ChartData& chart, const RunnerState& runner) {
    for (std::size_t i = 0; i < runner.meter_count; ++i) {
        if ((runner.flowing >> i & 1U) == 0) {
            continue;
        }
        const CompiledMeter& meter = chart.meters[i];
        for (const Scale& scale : (runner.draining >> i & 1U) != 0 ? meter.drain_scale : meter.refill_scale) {
            if ((runner.flowing >> scale.by & 1U) != 0) {
                return step_end(runner);
            }
        }
    }
    return never;
}

void plan_meters(const ChartData& chart, RunnerState& runner) {
    for (std::size_t i = 0; i < runner.meter_count; ++i) {
        const std::vector<Mark>& marks = chart.meters[i].marks;
        const double level = runner.meters[i].level;
        runner.mark[i] = no_mark;
        if (runner.meters[i].rate > 0.0) {
            for (std::size_t k = 0; k < marks.size(); ++k) {
                if (marks[k].from > level) {
                    runner.mark[i] = static_cast<std::uint8_t>(k);
                    break;
                }
            }
        } else if ((runner.flowing >> i & 1U) != 0) {
            for (std::size_t k = marks.size(); k-- > 0;) {
                if (marks[k].from <= level) {
                    runner.mark[i] = static_cast<std::uint8_t>(k);
                    break;
                }
            }
        }
    }
}

}  // namespace cursimeter::detail
