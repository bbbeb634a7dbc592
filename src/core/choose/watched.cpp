#include "core/choose/watched.hpp"

#include "core/chart/facts.hpp"
#include "core/runner/timers.hpp"

namespace cursimeter::detail {
namespace {

bool holds_in_full(const ChartData& chart, const Watching& watching, const Facts& facts) {
    return sudden_part(chart, chart.clauses[static_cast<std::size_t>(watching.clause)]).holds(facts);
}

}  // namespace

std::uint64_t waiting_presses(const ChartData& chart, const RunnerState& runner) {
    std::uint64_t presses = 0;
    for (unsigned i = 0; i < chart.buffered_count; ++i) {
        if (ticks(runner, timer::buffer_first + i)) {
            presses |= fact::press_bit(chart.buffered[i]);
        }
    }
    return presses;
}

DerivedFacts watched_facts(const ChartData& chart, const RunnerState& runner) {
    const CompiledState& state = chart.states[runner.state];
    DerivedFacts bits = chart.always_watched;
    if (state.drain_gate) {
        bits.set(*state.drain_gate);
    }
    const std::uint64_t presses = buffered_presses(chart, runner);
    const Range& watchings = presses == 0 ? state.calm_watchings : state.watchings;
    if (watchings.count == 0) {
        return bits;
    }
    const Facts facts{fact::fixed_of(runner.lasting, presses), runner.derived};
    const CommonFacts common(facts);
    for (const Watching& watching : watchings.of(chart.watchings)) {
        if (watching.holds(common) && (!watching.wide || holds_in_full(chart, watching, facts))) {
            bits |= watching.crossed;
        }
    }
    return bits;
}

}  // namespace cursimeter::detail
