#include "core/effects/cooldowns.hpp"

#include <algorithm>

#include "core/effects/modifiers.hpp"
#include "core/runner/amounts.hpp"
#include "core/runner/charges.hpp"
#include "core/runner/timers.hpp"

namespace cursimeter::detail {
namespace {

constexpr unsigned cooldown_timer(std::size_t cooldown) {
    return timer::cooldown_first + static_cast<unsigned>(cooldown);
}

/// A cooldown that modifiers stop altogether still ends one day.
constexpr double slowest_rate = 0.01;

double rate_of(const ChartData& chart, const RunnerState& runner, std::size_t cooldown) {
    const auto measure = measure::cooldown_first + static_cast<unsigned>(cooldown);
    return std::max(slowest_rate, modified(chart, runner, measure, 1.0));
}

void set_used(RunnerState& runner, std::size_t cooldown, unsigned used) {
    runner.used = with_charges(runner.used, cooldown, used);
}

void begin_wait(const ChartData& chart, RunnerState& runner, std::size_t cooldown) {
    const double seconds = chart.cooldowns[cooldown].seconds / rate_of(chart, runner, cooldown);
    start_timer(runner, cooldown_timer(cooldown), std::min(seconds, longest_wait));
}

}  // namespace

void use_charge(const ChartData& chart, RunnerState& runner, std::uint8_t cooldown) {
    const CompiledCooldown& compiled = chart.cooldowns[cooldown];
    const unsigned used = charges_used(runner, cooldown);
    set_used(runner, cooldown, std::min<unsigned>(used + 1, compiled.charges));
    if (!compiled.from_end && !ticks(runner, cooldown_timer(cooldown))) {
        begin_wait(chart, runner, cooldown);
    }
    if (compiled.also != no_cooldown) {
        set_used(runner, compiled.also, chart.cooldowns[compiled.also].charges);
        stop_timer(runner, cooldown_timer(compiled.also));
        if (!chart.cooldowns[compiled.also].from_end) {
            begin_wait(chart, runner, compiled.also);
        }
    }
}

void leave_cooldown(const ChartData& chart, RunnerState& runner, std::uint8_t cooldown) {
    if (chart.cooldowns[cooldown].from_end && charges_used(runner, cooldown) > 0 &&
        !ticks(runner, cooldown_timer(cooldown))) {
        begin_wait(chart, runner, cooldown);
    }
    const std::uint8_t also = chart.cooldowns[cooldown].also;
    if (also != no_cooldown && chart.cooldowns[also].also == no_cooldown) {
        leave_cooldown(chart, runner, also);
    }
}

unsigned refund_charges(RunnerState& runner, std::uint8_t cooldown, unsigned charges) {
    const unsigned used = charges_used(runner, cooldown);
    const unsigned given = std::min(used, charges);
    set_used(runner, cooldown, used - given);
    if (used == given) {
        stop_timer(runner, cooldown_timer(cooldown));
    }
    return given;
}

void regain_charge(Instant& instant, std::uint8_t cooldown) {
    RunnerState& runner = instant.runner;
    const CompiledCooldown& compiled = instant.chart.cooldowns[cooldown];
    const unsigned used = charges_used(runner, cooldown);
    const unsigned left = compiled.together || used == 0 ? 0 : used - 1;
    set_used(runner, cooldown, left);
    if (left > 0) {
        begin_wait(instant.chart, runner, cooldown);
    }
    instant.emit(EventKind::ready, cooldown, static_cast<double>(compiled.charges - left));
}

CooldownRates cooldown_rates(const ChartData& chart, const RunnerState& runner) {
    CooldownRates rates;
    rates.fill(1.0);
    for (std::size_t i = 0; i < chart.cooldowns.size(); ++i) {
        rates[i] = rate_of(chart, runner, i);
    }
    return rates;
}

void rescale_cooldowns(const ChartData& chart, RunnerState& runner, const CooldownRates& before) {
    for (std::size_t i = 0; i < chart.cooldowns.size(); ++i) {
        const double rate = rate_of(chart, runner, i);
        if (rate != before[i] && ticks(runner, cooldown_timer(i))) {
            const double left = std::max(0.0, timer_due(runner, cooldown_timer(i)) - runner.clock);
            start_timer(runner, cooldown_timer(i), std::min(left * before[i] / rate, longest_wait));
        }
    }
}

}  // namespace cursimeter::detail
